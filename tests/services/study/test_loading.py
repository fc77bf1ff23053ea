"""A study whose journals are read after the board: what is asked for earlier waits, and nothing false is shown."""

import shutil
from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.plan.board import board, cell_view
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tui.app import FreshChair
from tests.damage import damaged, of_sitting
from tests.tui.conftest import WIDE, shows, until


@pytest.fixture
def copy(demo: OpenStudy, tmp_path: Path) -> Path:
    """A copy of the demo study that nobody has open."""
    demo.store.home.make_room()
    return Path(shutil.copy(demo.beside, tmp_path / "copy.fresh"))


def test_before_the_journals_are_read_the_board_says_which_sittings_have_begun_and_no_more(copy: Path) -> None:
    opened = open_study(copy, later=True)
    before = board(opened)
    assert not opened.loaded
    waiting = {cell.seat.number for cells in before.cells.values() for cell in cells if cell.phase is None}
    assert all(outcome is None for cells in before.cells.values() for cell in cells for outcome in cell.strip)
    next_up = [cell.seat.number for cells in before.cells.values() for cell in cells if cell.next_up]
    opened.load()
    after = board(opened)
    assert waiting == opened.begun
    assert next_up == [cell.seat.number for cells in after.cells.values() for cell in cells if cell.next_up]
    assert {cell.phase for cells in after.cells.values() for cell in cells} >= {Phase.EMPTY, Phase.ENDED}
    opened.close()


def test_whatever_is_asked_for_before_is_read_then(copy: Path) -> None:
    opened, whole = open_study(copy, later=True), open_study(copy, write=False)
    seat = opened.to_run()[0]
    assert opened.loaded
    assert opened.sittings.keys() == whole.sittings.keys()
    LiveSitting(opened, seat).begin(opened.clock.now())
    assert opened.entries[seat.number][0].content == j.SittingBegan()
    opened.close()
    whole.close()


def test_a_cell_without_a_journal_has_its_details_at_once(copy: Path) -> None:
    opened = open_study(copy, later=True)
    cells = [cell for cells in board(opened).cells.values() for cell in cells]
    empty = cell_view(opened, next(cell for cell in cells if cell.next_up))
    run = cell_view(opened, next(cell for cell in cells if cell.phase is None))
    assert not opened.loaded
    assert (empty.phase, run.phase) == (Phase.EMPTY, None)
    assert [line.title for line in empty.lines] == [opened.study.card_by_id[card].title for card in empty.seat.cards]
    opened.close()


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE entry SET number = 'x' WHERE number = 2",
        f"UPDATE entry SET sitting = 'nobody' WHERE {of_sitting(3)}",
        "UPDATE sort_entry SET number = -1 WHERE number = 1",
    ],
)
def test_a_file_that_cannot_be_used_says_so_when_it_is_opened(copy: Path, statement: str) -> None:
    damaged(copy, statement)
    with pytest.raises(FileProblem):
        open_study(copy, later=True)


async def test_the_screen_shows_the_sittings_once_they_are_read(copy: Path) -> None:
    opened = open_study(copy, later=True)
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        await until(pilot, shows(app, "run"))
        await until(pilot, lambda: opened.loaded)
        await pilot.press("enter")
        await until(pilot, lambda: app.session.in_hand is not None)
    opened.close()


async def test_journals_that_cannot_be_read_after_the_first_paint_end_the_program_with_a_sentence(copy: Path) -> None:
    opened = open_study(copy, later=True)
    app = FreshChair(opened)

    def unreadable() -> None:
        raise FileProblem("copy.fresh cannot be read: [bold]the disk failed[/].", "It was left as it is.")

    opened.load = unreadable  # type: ignore[method-assign]
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: app.problem is not None)
    assert app.problem is not None
    assert "the disk failed" in app.problem.title
    assert not app.return_code
    opened.close()
