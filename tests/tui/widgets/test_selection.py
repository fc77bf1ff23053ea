"""The line in hand stays in hand, wherever it lies after a change."""

from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.tui.widgets.selection import Selection

IDS = st.lists(st.sampled_from("abcdefgh"), unique=True)


@given(IDS, IDS, st.integers(0, 7))
def test_the_same_line_is_in_hand_wherever_it_lies_or_else_one_that_is_there(
    before: list[str], after: list[str], at: int
) -> None:
    selection = Selection()
    selection.fill(before)
    selection.move(at)
    kept = selection.id
    now = selection.fill(after)
    assert (now is None) == (not after)
    if kept in after:
        assert selection.id == kept


def test_a_head_is_never_in_hand_and_a_line_that_is_gone_gives_way_to_the_next() -> None:
    selection = Selection()
    assert selection.fill([None, "a", None, "b", "c"]) == 1
    selection.move(2)
    assert selection.id == "a"
    selection.move(3)
    selection.fill([None, "a", None, "c"])
    assert selection.id == "c"
    assert selection.fill([None]) is None


def test_a_list_that_is_emptied_moves_nothing() -> None:
    selection = Selection()
    selection.fill(["a", "b"])
    selection.move(1)
    selection.move(None)
    assert selection.id == "b"
