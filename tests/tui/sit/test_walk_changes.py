"""A walk's other keys: contest, changed minds, the chair in motion, files, notes in one pass, a timebox, a player."""

import hashlib
from pathlib import Path

import pytest
from textual.pilot import Pilot
from textual.widgets import OptionList

from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.services.evidence.attachments import attachments_of, folder_beside
from fresh_chair.services.sitting.corrections import entry_lines
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.keys import keys_file
from fresh_chair.services.walk.contests import begin_contest, contests, open_sides
from fresh_chair.services.walk.walks import begin_walk
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.sit.resume import Resume
from fresh_chair.tui.sit.walk.screen import Walking
from tests.builders import FakeClock
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.conftest import typed as keys
from tests.tui.sit.test_walking import typed, walk, walking


async def stepped(app: FreshChair, pilot: Pilot[None], title: str = "the menu") -> None:
    await pilot.press("enter")
    await typed(pilot, title)
    await until(pilot, shows(app, title))


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_contest_from_the_board_goes_to_and_fro(
    opened: OpenStudy, clock: FakeClock, size: tuple[int, int]
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("V")
        await until(pilot, shows(app, "between which chairs"))
        await pilot.press("enter")
        await until(pilot, lambda: isinstance(app.screen, Walking) and app.session.in_hand is not None)
        await stepped(app, pilot)
        clock.pass_seconds(30)
        await pilot.press("c", "u")
        await typed(pilot, "")
        await pilot.press("o")
        await until(pilot, lambda: app.session.in_hand is not None and app.session.in_hand.seat.chair == "B")
        clock.pass_seconds(5)
        await pilot.press("c", "g")
        await typed(pilot, "")
        await pilot.press("equals_sign", "a")
        await typed(pilot, "it is there")
        await until(pilot, shows(app, "A better"))
        await pilot.press("enter")
        await typed(pilot, "the printer")
        await until(pilot, shows(app, "not yet"))
        (view,) = contests(opened)
        assert [[cell.ending if cell else None for cell in row.cells] for row in view.rows] == [
            [StepEnding.UNAIDED, StepEnding.GAVE_UP],
            [None, None],
        ]
        assert view.empty == 1


@pytest.mark.parametrize(("key", "open_ones"), [("a", 0), ("t", 1), ("n", 2)])
async def test_a_contest_ends_as_a_whole_or_side_by_side(
    opened: OpenStudy, clock: FakeClock, key: str, open_ones: int
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("V", "enter")
        await until(pilot, lambda: isinstance(app.screen, Walking) and app.session.in_hand is not None)
        await stepped(app, pilot)
        await pilot.press("o")
        await until(pilot, lambda: app.session.in_hand is not None and app.session.in_hand.seat.chair == "B")
        await pilot.press("f")
        await until(pilot, shows(app, "the one through B alone"))
        await pilot.press(key)
        await pilot.pause()
        (view,) = contests(opened)
        assert len(open_sides(opened, view)) == open_ones
        live = app.session.in_hand
        assert (live.seat.chair if live is not None else "") == {0: "", 1: "A", 2: "B"}[open_ones]


async def test_a_contest_cut_short_goes_on_where_it_was_in_hand(opened: OpenStudy, clock: FakeClock) -> None:
    from fresh_chair.core.sitting import journal as j
    from fresh_chair.services.walk.contests import next_chair

    first = begin_contest(opened, ("A", "B"))
    first.log(j.StepOpened("the menu"), clock.now())
    clock.pass_seconds(9)
    there = next_chair(opened, first, clock.now())
    clock.pass_seconds(60)
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Resume))
        await pilot.press("c")
        await until(pilot, lambda: isinstance(app.screen, Walking) and app.session.in_hand is not None)
        live = app.session.in_hand
        assert live is not None
        assert live.seat.number == there.seat.number
        await pilot.press("o")
        await until(pilot, lambda: app.session.in_hand is not None and app.session.in_hand.seat.chair == "A")


async def test_a_mind_that_changed_and_a_mark_with_two_sides(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await stepped(app, pilot)
        await pilot.press("s")
        await typed(pilot, "too many entries")
        await pilot.press("g", "2")
        clock.pass_seconds(50)
        await pilot.press("r", "d")
        await typed(pilot, "typing finds them")
        earlier, later = live.state.remarks.values()
        assert (earlier.side, earlier.revised_by) == ("praise and blame", later.entry)
        assert (later.kind, later.words) == ("delight", "typing finds them")
        # The journal's column wraps.
        await until(pilot, shows(app, "revised"))


async def test_words_of_a_changed_mind_rate_the_later_snag(opened: OpenStudy) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await keys(app, "d", *"quiet", "enter")
        await keys(app, "r", "s", *"!2", "space", *"it", "space", *"hums", "enter")
        later = list(live.state.remarks.values())[-1]
        assert (later.kind, later.words, later.severity) == ("snag", "it hums", 2)


async def test_the_chair_is_altered_and_left_and_a_step_becomes_a_card(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await stepped(app, pilot, "every archive")
        await pilot.press("C")
        await until(pilot, shows(app, "a card of the script"))
        assert opened.study.cards[-1].title == "every archive"
        await pilot.press("a")
        await typed(pilot, "a newer kernel")
        await pilot.press("h")
        await typed(pilot, "the older laptop")
        await typed(pilot, "the screen flickers")
        await stepped(app, pilot, "the sound")
        await until(pilot, shows(app, "on another machine, the older laptop"))
        assert [turn.machine for turn in walk(live).turns] == ["", "the older laptop"]
        assert opened.study.machine_of(opened.study.chair_by_letter["A"]).name == "the older laptop"


async def test_a_move_without_a_reason_changes_nothing(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        machine = opened.study.chair_by_letter["A"].machine
        await pilot.press("h")
        await typed(pilot, "the older laptop")
        await typed(pilot, "")
        await until(pilot, shows(app, "needs a reason"))
        await pilot.press("escape")
        assert walk(live).turns == []
        assert opened.study.chair_by_letter["A"].machine == machine


async def test_a_picture_is_attached_to_the_last_mark_and_copied(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    picture_file = tmp_path / "menu.png"
    picture_file.write_bytes(b"a picture")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await stepped(app, pilot)
        await pilot.press("s")
        await typed(pilot, "cut off")
        await pilot.press("plus")
        await until(pilot, shows(app, "attach to snag"))
        await typed(pilot, str(tmp_path / "none.png"))
        await pilot.press("c")
        await until(pilot, shows(app, "cannot be read"))
        await pilot.press("plus")
        await typed(pilot, str(picture_file))
        await pilot.press("c")
        await until(pilot, shows(app, "Attached: menu.png"))
        (shown,) = attachments_of(opened, live.seat.number)
        assert shown.words == "snag cut off"
        (copy,) = folder_beside(opened.beside).iterdir()
        assert copy.name == f"{hashlib.sha256(b'a picture').hexdigest()}.png"


async def test_notes_with_times_are_gone_through_once(opened: OpenStudy, clock: FakeClock, tmp_path: Path) -> None:
    notes = tmp_path / "n.vtt"
    cues = [("00:05", "the menu"), ("00:20", "cut off"), ("00:30", "hm"), ("00:40", "all there"), ("00:50", "later")]
    body = "".join(f"{at}.000 --> {at}.500\n{words}\n\n" for at, words in cues)
    notes.write_text(f"WEBVTT\n\n{body}")
    begin_walk(opened, "A", recording="walk.webm", began="2026-11-09T10:00")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("v")
        await until(pilot, shows(app, "opens a step"))
        live = app.session.in_hand
        assert live is not None
        await pilot.press("N")
        await typed(pilot, str(notes))
        await until(pilot, shows(app, "(5 left)"))
        await pilot.press("o", "s", "x", "d")
        await until(pilot, shows(app, "(1 left)"))
        await pilot.press("escape")
        await until(pilot, shows(app, "3 of the notes kept; 1 left"))
        (step,) = walk(live).steps
        assert (step.title, step.opened_ns) == ("the menu", 5 * 10**9)
        assert [(r.kind, r.words, r.at_ns // 10**9, r.step) for r in live.state.remarks.values()] == [
            ("snag", "cut off", 20, 1),
            ("delight", "all there", 40, 1),
        ]
        # Once more, from where the recording stands: the last one is left.
        await pilot.press("N")
        await typed(pilot, str(notes))
        await until(pilot, shows(app, "(1 left)"))
        await pilot.press("k")
        await until(pilot, shows(app, "1 of the notes kept"))
        assert list(live.state.remarks.values())[-1].kind == "question"


async def test_a_promised_time_is_shown_with_its_overrun(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await walking(app, pilot)
        await pilot.press("z")
        await typed(pilot, "1:00")
        clock.pass_seconds(20)
        await until(pilot, shows(app, "00:20 of 01:00"))
        clock.pass_seconds(50)
        await until(pilot, shows(app, "01:10 of 01:00, over by 00:10"))
        await pilot.press("z", *["backspace"] * 5)
        await pilot.press("enter")
        await until(pilot, lambda: "of 01:00" not in picture(app))


async def test_where_no_player_can_be_asked_that_is_said(
    opened: OpenStudy, clock: FakeClock, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nowhere/at/all")
    begin_walk(opened, "A", recording="walk.webm", began="2026-11-09T10:00")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("v")
        await until(pilot, shows(app, "opens a step"))
        await pilot.press("P")
        await until(pilot, shows(app, "no message bus"))
        assert app.session.following is None


async def test_a_newcomers_outcome_says_how_it_is_known(demo: OpenStudy) -> None:
    from fresh_chair.services.figures.study_figures import weigh

    number = demo.facts()[0].sitting
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Tern Harbour"))
        app.session.looking_at = number
        await pilot.press("3", "j")
        await until(pilot, shows(app, "more said of them"))
        lines = entry_lines(demo, number)
        at = next(i for i, line in enumerate(lines) if line.entry.content.kind == "outcome_judged")
        app.screen.query_one(OptionList).highlighted = at
        await pilot.press("v", "6")
        await until(pilot, shows(app, "(heard)"))
        heard = [fact for fact in demo.facts() if not fact.own]
        assert [fact.evidence for fact in heard] == ["heard"]
        assert len(weigh(demo).borrowed) == 1
        assert len(weigh(demo, own=True).facts) == len(weigh(demo).facts) - 1
        await pilot.press("5")
        await until(pilot, shows(app, "Not own evidence, and counted: 1 heard"))
        await pilot.press("o")
        await until(pilot, shows(app, "Only own evidence counts here; left out: 1 heard"))


async def test_the_walks_keys_can_be_ones_own(opened: OpenStudy, clock: FakeClock) -> None:
    keys = keys_file()
    keys.parent.mkdir(parents=True)
    keys.write_text('[walk]\nsnag = "ö"\n', encoding="utf-8")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await stepped(app, pilot)
        await pilot.press("ö")
        await typed(pilot, "cut off")
        assert [remark.kind for remark in live.state.remarks.values()] == ["snag"]


async def test_a_file_shows_a_record_of_a_chair(demo: OpenStudy, tmp_path: Path) -> None:
    page = tmp_path / "page.png"
    page.write_bytes(b"a page")
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Tern Harbour"))
        await pilot.press("2")
        await until(pilot, shows(app, "readings"))
        await pilot.press("c")
        await until(pilot, shows(app, "Ten hours on battery"))
        await pilot.press("plus")
        await until(pilot, shows(app, "attach to"))
        await typed(pilot, str(page))
        await pilot.press("c")
        await until(pilot, shows(app, "Attached: page.png"))
        await until(pilot, shows(app, "shown by"))
        assert [len(demo.known_chairs.of(letter).attachments) for letter in "ABC"].count(1) == 1


async def test_a_file_shows_a_newcomers_mark_from_the_journal(demo: OpenStudy, tmp_path: Path) -> None:
    page = tmp_path / "face.png"
    page.write_bytes(b"a picture")
    number = demo.facts()[0].sitting
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Tern Harbour"))
        app.session.looking_at = number
        await pilot.press("3", "j")
        await until(pilot, shows(app, "more said of them"))
        lines = entry_lines(demo, number)
        at = next(i for i, line in enumerate(lines) if line.entry.content.kind == "snag")
        app.screen.query_one(OptionList).highlighted = at
        await pilot.press("plus")
        await until(pilot, shows(app, "attach to snag"))
        await typed(pilot, str(page))
        await pilot.press("c")
        await until(pilot, shows(app, "Attached: face.png"))
        assert [shown.about for shown in attachments_of(demo, number)] == [lines[at].entry.id]


async def test_in_a_sitting_one_key_says_how_the_last_mark_is_known(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.in_hand is not None)
        live = app.session.in_hand
        assert live is not None
        await until(pilot, shows(app, "start the clock"))
        await pilot.press("enter", "s")
        await typed(pilot, "wrong menu")
        await pilot.press("g", "6")
        await until(pilot, shows(app, "snag (heard): wrong menu"))
        assert [remark.evidence for remark in live.state.remarks.values()] == ["heard"]


async def test_an_alteration_taken_back_leaves_the_chairs_sheet_to_be_mended(
    opened: OpenStudy, clock: FakeClock
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await walking(app, pilot)
        await pilot.press("a")
        await typed(pilot, "a newer kernel")
        await pilot.press("u")
        await until(pilot, shows(app, "The chair keeps the change"))
        assert walk(live).turns == []
