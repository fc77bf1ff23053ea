"""A walk's chair in motion, changed opinions, contests, cards made of steps, files that show a mark, a timebox."""

import pytest

from fresh_chair.core.errors import JournalError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.walk import StepEnding
from tests.core.sitting.test_walk import entries, steps, walk, walked

HASH = "ab" * 32


def test_steps_after_an_alteration_or_a_move_are_of_another_state_of_the_chair() -> None:
    sitting = walked(
        (1, j.StepOpened("the printer")),
        (5, j.ChairAltered("a newer kernel", 2)),
        (6, j.StepOpened("the printer again")),
        (9, j.WalkMoved("the older laptop", "the screen flickers", 3)),
        (10, j.StepOpened("the printer there")),
    )
    assert [step.turn for step in steps(sitting)] == [0, 1, 2]
    assert [(turn.words, turn.machine, turn.state) for turn in walk(sitting).turns] == [
        ("a newer kernel", "", 2),
        ("the screen flickers", "the older laptop", 3),
    ]


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (j.WalkMoved("the older laptop", " "), "needs a reason"),
        (j.WalkMoved(" ", "it broke"), "to some machine"),
        (j.ChairAltered(" "), "of something"),
        (j.ContestJoined("c", ("A", "A")), "each once"),
        (j.ContestJoined("c", ("A", "two")), "by their letters"),
    ],
)
def test_an_empty_statement_is_refused_with_why(content: j.Content, said: str) -> None:
    with pytest.raises(JournalError, match=said):
        walked((1, content))


def test_a_changed_mind_leaves_both_opinions_with_their_times() -> None:
    sitting = walked(
        (10, j.StepOpened("the menu")),
        (20, j.SnagSeen("too many entries")),
        (90, j.OpinionRevised("e4", "delight", "typing finds them all")),
    )
    earlier, later = sitting.remarks["e4"], sitting.remarks["e5"]
    assert (earlier.kind, earlier.words, earlier.revised_by) == ("snag", "too many entries", "e5")
    assert (later.kind, later.words, later.revises) == ("delight", "typing finds them all", "e4")
    assert earlier.at_ns < later.at_ns
    assert later.step == 1


def test_the_last_opinion_is_the_one_to_revise() -> None:
    with pytest.raises(JournalError, match="revised already"):
        walked(
            (20, j.SnagSeen("slow")),
            (30, j.OpinionRevised("e3", "note", "only the first time")),
            (40, j.OpinionRevised("e3", "delight", "fast now")),
        )


def test_an_opinion_taken_back_leaves_the_earlier_one_as_it_was() -> None:
    sitting = walked(
        (20, j.SnagSeen("slow")), (30, j.OpinionRevised("e3", "note", "no")), (31, j.Struck("e4", "not so"))
    )
    assert list(sitting.remarks) == ["e3"]
    assert sitting.remarks["e3"].revised_by == ""


def test_a_remark_is_praise_and_blame_at_once_or_a_matter_of_taste() -> None:
    sitting = walked((20, j.DelightSeen("every setting is there")), (21, j.SideTold("e3", "praise and blame")))
    assert sitting.remarks["e3"].side == "praise and blame"
    assert sitting.remarks["e3"].kind == "delight"
    with pytest.raises(JournalError, match="no remark"):
        walked((20, j.SideTold("e2", "taste")))


def test_a_contest_is_told_step_by_step_and_the_last_word_counts() -> None:
    sitting = walked(
        (0, j.ContestJoined("spring", ("A", "B"))),
        (1, j.StepOpened("the menu")),
        (5, j.StepCompared("e4", "A", "nearer")),
        (9, j.StepCompared("e4", "neither", "both hide it")),
    )
    judgement = steps(sitting)[0].judgement
    assert judgement is not None
    assert (judgement.better, judgement.reason) == ("neither", "both hide it")


@pytest.mark.parametrize(
    ("before", "better", "said"),
    [
        ([], "A", "no part of a contest"),
        ([j.ContestJoined("c", ("A", "B"))], "C", "one of: A, B, neither, cannot say"),
    ],
)
def test_better_is_a_chair_of_the_contest_or_an_answer_that_there_is_none(
    before: list[j.Content], better: str, said: str
) -> None:
    opened: list[tuple[float, j.Content]] = [(0, each) for each in before]
    with pytest.raises(JournalError, match=said):
        walked(*opened, (1, j.StepOpened("a")), (2, j.StepCompared(f"e{3 + len(before)}", better)))


def test_a_step_that_stood_on_no_list_becomes_a_card_once() -> None:
    sitting = walked((1, j.StepOpened("the archives")), (2, j.StepMadeCard("e3", "archives")))
    assert steps(sitting)[0].card == "archives"
    with pytest.raises(JournalError, match="a card already"):
        walked((1, j.StepOpened("Make it dark", "card-2")), (2, j.StepMadeCard("e3", "dark")))


def test_a_step_becomes_a_card_after_the_walk_as_well() -> None:
    begun = entries((0, j.SittingBegan()), (0, j.WalkBegan()), (1, j.StepOpened("a")), (2, j.SittingEnded()))
    later = entries(*[(0, j.SittingBegan())] * 4, (3, j.StepMadeCard("e3", "a")))[4:]
    assert steps(replay(1, ("card-1",), [*begun, *later]))[0].card == "a"


def test_a_file_belongs_to_a_mark_or_a_step_and_falls_with_it() -> None:
    timed: list[tuple[float, j.Content]] = [
        (1, j.StepOpened("the menu")),
        (2, j.SnagSeen("cut off")),
        (3, j.Attached("e4", "menu.png", HASH, 512)),
        (4, j.Attached("e3", "walk.webm", HASH, 9000, "recordings/walk.webm", 61.0, 70.5)),
    ]
    sitting = walked(*timed)
    assert [(each.about, each.attachment.name, each.attachment.copied) for each in sitting.attachments] == [
        ("e4", "menu.png", True),
        ("e3", "walk.webm", False),
    ]
    assert sitting.attachments[0].attachment.copy_name == f"{HASH}.png"
    struck = walked(*timed, (5, j.Struck("e4", "not so")))
    assert [each.attachment.name for each in struck.attachments] == ["walk.webm"]


@pytest.mark.parametrize(
    ("attached", "said"),
    [
        (j.Attached("e2", "a.png", HASH, 1), "no mark or step"),
        (j.Attached("e3", "a.png", "../" * 21 + "x", 1), "no hash"),
        (j.Attached("e3", "a.webm", HASH, 1, "", 9.0, 4.0), "ends after it begins"),
        (j.Attached("e3", "a.webm", HASH, 1, "", None, 4.0), "ends after it begins"),
    ],
)
def test_what_is_attached_is_some_file_of_some_mark(attached: j.Attached, said: str) -> None:
    with pytest.raises(JournalError, match=said):
        walked((1, j.StepOpened("a")), (2, attached))


@pytest.mark.parametrize("name", ["menu.p/ng", "menu.../..", "x.png\x00", "x.é", "x." + "y" * 9])
def test_the_name_of_a_copy_never_leaves_its_folder(name: str) -> None:
    attached = j.Attached("e3", name, HASH, 1).attachment
    assert attached.copy_name == HASH


def test_a_walk_is_promised_to_last_so_long_or_as_long_as_it_takes() -> None:
    assert walk(walked((1, j.WalkTimeboxed(1800)))).promised_seconds == 1800
    assert walk(walked((1, j.WalkTimeboxed(1800)), (2, j.WalkTimeboxed(0)))).promised_seconds is None


def test_an_ending_survives_a_card_made_of_its_step() -> None:
    sitting = walked(
        (1, j.StepOpened("a")), (2, j.StepClosed("e3", StepEnding.UNAIDED)), (3, j.StepMadeCard("e3", "a"))
    )
    assert steps(sitting)[0].ending is StepEnding.UNAIDED
