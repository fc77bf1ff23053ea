"""The marks of a sitting by keyboard: told apart with one more key, moved, rated, and the chair asked beside it."""

from pathlib import Path

import pytest
from textual.widgets import Input

from fresh_chair.core.clock import SECOND
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.chair.asking import choose_reach
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.keys import keys_file
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from tests.builders import FakeClock
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.sit.test_sitting import nothing_more_agreed, seated


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_waits_and_help_are_told_apart_with_one_more_key(
    opened: OpenStudy, clock: FakeClock, size: tuple[int, int]
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        live = await seated(app, pilot)
        # Nothing is waited for, and nobody was helped: the key does nothing.
        await pilot.press("c", "v", "b", "g")
        assert len(live.entries) == 3
        await pilot.press("w", "c")
        clock.pass_seconds(9)
        await pilot.press("w")
        clock.pass_seconds(2)
        await pilot.press("h", "v")
        await until(pilot, shows(app, "helped: hinted"))
        await pilot.press("h", "g")
        attempt = live.state.attempts[0]
        assert attempt.longest_silent_ns == 9 * SECOND
        assert list(attempt.helps.values()) == ["hinted", "encouraged"]
        assert attempt.helped == 1
        await until(pilot, shows(app, "waiting: silent"))


async def test_marks_without_words_are_one_key_each(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("t", "t", "r", "z", "m", "l", "l")
        attempt = live.state.attempts[0]
        assert attempt.marks == {"tries again": 2, "no reaction": 1, "hesitates": 1, "misled": 1}
        assert (attempt.tries, attempt.steps) == (3, {1, 2})
        await until(pilot, shows(app, "the machine does not react", "at step 2 of the route"))


async def test_a_line_moves_the_mark_back_and_rates_it(opened: OpenStudy, clock: FakeClock) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(42)
        await pilot.press("s", *"-10 !3 wrong menu", "enter")
        await until(pilot, shows(app, "00:32", "snag 3 of 4: wrong menu"))
        remark = next(iter(live.state.remarks.values()))
        assert (remark.at_ns, remark.severity, remark.words) == (32 * SECOND, 3, "wrong menu")
        await pilot.press("q", *"where is it", "enter", "y", "escape", "k", *"ask why", "enter")
        await until(pilot, shows(app, "quote: where is it", "warning (words to come)", "question: ask why"))


async def test_a_place_is_completed_from_what_the_chair_calls_its_places(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("o")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*"Look of")
        field = app.screen.query_one(WordLine).query_one(Input)
        await until(pilot, lambda: field._suggestion == "Look of things")
        await pilot.press("right", "enter")
        await until(pilot, lambda: live.state.attempts[0].spots == ["Look of things"])


@pytest.mark.parametrize(
    ("outcome", "key", "told"),
    [
        ("u", "a", ("another", "", None)),
        ("h", "w", ("only with a workaround", "", None)),
        ("g", "f", ("", "not found", None)),
        ("g", "n", ("", "not there", None)),
        ("p", "b", ("", "", 2)),
    ],
)
async def test_how_it_ended_is_told_beside_the_ease(
    demo: OpenStudy, outcome: str, key: str, told: tuple[str, str, int | None]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press(outcome)
        await until(pilot, lambda: live.state.phase is Phase.EASE and app.screen.query_one(ChoiceLine).asking)
        await pilot.press(key)
        attempt = live.state.attempts[0]
        await until(pilot, lambda: (attempt.route, attempt.why, attempt.grade) == told)
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("5")
        await until(pilot, lambda: attempt.ease == 5)


@pytest.mark.parametrize(("there", "said"), [(True, ""), (False, "The chair shows otherwise")])
async def test_the_chair_is_asked_before_and_after_and_a_contradiction_is_pointed_at(
    opened: OpenStudy, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, *, there: bool, said: str
) -> None:
    home = tmp_path / "home"
    home.mkdir()
    monkeypatch.setenv("HOME", str(home))
    card = opened.study.seats[0].cards[0]
    chair = opened.study.seats[0].chair
    set_field(opened, f"card.{card}.checks", "file ~/made.txt is there")
    choose_reach(opened, chair, "here")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        await pilot.press("enter")
        await until(pilot, lambda: app.session.live is not None and bool(app.session.live.state.so_before), most=6000)
        live = app.session.live
        assert live is not None
        assert live.state.so_before == {card: "contradicted"}
        await pilot.press("enter")
        if there:
            (home / "made.txt").write_text("x")
        await pilot.press("f", "enter")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("u")
        attempt = live.state.attempts[0]
        await until(pilot, lambda: attempt.chair_says != "", most=6000)
        attempt = live.state.attempts[0]
        assert attempt.chair_says == ("confirmed" if there else "contradicted")
        assert (attempt.said_done, attempt.outcome) == (True, Outcome.UNAIDED)
        if said:
            await until(pilot, shows(app, said))
        assert [e.content.kind for e in live.entries].count("chair_witnessed") == 2


async def test_a_chair_that_cannot_be_reached_delays_nothing_and_is_on_record_as_that(opened: OpenStudy) -> None:
    card, chair = opened.study.seats[0].cards[0], opened.study.seats[0].chair
    set_field(opened, f"card.{card}.checks", "file ~/made.txt is there")
    choose_reach(opened, chair, "ssh nobody@127.0.0.1:1")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await pilot.press("p", "h")
        await until(pilot, lambda: live.state.so_before == {card: "cannot tell"}, most=6000)
        seen = [e.content for e in live.entries if isinstance(e.content, j.ChairWitnessed)]
        assert "cannot be reached" in seen[0].evidence
        assert live.state.attempts[0].wrong_places == 1


@pytest.fixture
def own_keys(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    file = keys_file()
    file.parent.mkdir(parents=True)
    return file


async def test_keys_of_ones_own_are_taken_and_shown(opened: OpenStudy, own_keys: Path) -> None:
    own_keys.write_text('[sit]\nsnag = "ä"\nwait = "ö"\n')
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        live = await seated(app, pilot)
        await until(pilot, shows(app, " ä  snag", " ö  waiting"))
        await pilot.press("s", "w")
        assert [e.content.kind for e in live.entries][3:] == []
        await pilot.press("ä", "escape")
        await until(pilot, lambda: len(live.state.remarks) == 1)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('[sit]\nsnag = "w"\n', "would mean both"),
        ('[sit]\nsnagg = "w"\n', "has nothing called snagg"),
        ('[weigh]\nx = "w"\n', "names no place weigh"),
        ('[sit]\nsnag = "1"\n', "is one letter or sign, and no digit"),
        ('[sit]\nsnag = "ctrl+s"\n', "is one letter or sign"),
        ("[sit\n", "cannot be read"),
    ],
)
async def test_a_wrong_list_of_keys_is_one_sentence_and_all_keys_are_as_they_come(
    opened: OpenStudy, own_keys: Path, text: str, said: str
) -> None:
    own_keys.write_text(text)
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, said))
        live = await seated(app, pilot)
        await pilot.press("s", "escape")
        await until(pilot, lambda: len(live.state.remarks) == 1)
        assert "snag" in picture(app)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_the_journal_is_corrected_with_a_reason_while_the_clock_runs(
    opened: OpenStudy, clock: FakeClock, size: tuple[int, int]
) -> None:
    app = FreshChair(opened)
    async with app.run_test(size=size) as pilot:
        live = await seated(app, pilot)
        clock.pass_seconds(30)
        await pilot.press("s", *"wrong menu", "enter")
        clock.pass_seconds(5)
        await pilot.press("p", "j")
        await until(pilot, shows(app, "entries", "wrong place", "00:30"))
        await pilot.press("x")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press("enter")
        await until(pilot, shows(app, "A correction needs a reason"))
        await pilot.press(*"it was right", "enter")
        await until(pilot, lambda: live.state.attempts[0].wrong_places == 0)
        await pilot.press("up", "m")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        app.screen.query_one(WordLine).query_one(Input).value = "-12 pressed late"
        await pilot.press("enter")
        await until(pilot, shows(app, "00:18"))
        await pilot.press("w")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        app.screen.query_one(WordLine).query_one(Input).value = "another menu"
        await pilot.press("enter")
        await until(pilot, shows(app, "snag: another menu"))
        await pilot.press("a")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("4")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        app.screen.query_one(WordLine).query_one(Input).value = "0:20 where is it"
        await pilot.press("enter")
        await until(pilot, lambda: app.screen.query_one(WordLine).query_one(Input).value == "")
        app.screen.query_one(WordLine).query_one(Input).value = "I was looking elsewhere"
        await pilot.press("enter")
        await until(pilot, shows(app, "quote: where is it"))
        # The clock ran all the while, and everything that was corrected is in the journal still.
        assert live.state.phase is Phase.RUNNING
        kinds = [entry.content.kind for entry in live.entries]
        assert kinds[3:] == ["snag", "worded", "wrong_place", "struck", "mark_moved", "worded", "added_late"]
        await pilot.press("escape")
        await until(pilot, shows(app, "another menu", "limit"))


async def test_a_sitting_of_days_ago_is_judged_otherwise(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "Enter seats"))
        app.session.looking_at = 9
        await pilot.press("3", "j")
        await until(pilot, shows(app, "Sitting 9, P03 at C"))
        await pilot.press("home", "down", "down", "down", "o")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("v")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*"unplugged", "enter")
        await until(pilot, lambda: demo.sittings[9].attempts[0].outcome is Outcome.VOID)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_the_bench_is_looked_at_before_and_what_was_skipped_is_on_record(
    demo: OpenStudy, size: tuple[int, int]
) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await until(pilot, shows(app, "P04"))
        await pilot.press("enter")
        await until(
            pilot, shows(app, "at the bench", "the chair is not checked", "nobody has looked", "consent is dated")
        )
        await until(pilot, shows(app, "say first", "were promised", "do you agree to being asked again"))
        # Nothing of it stops a reviewer in a hurry.
        await pilot.press("enter")
        await until(pilot, lambda: app.session.live is not None)
        await nothing_more_agreed(app, pilot)
        await pilot.press("enter")
        await until(pilot, lambda: app.session.live is not None and app.session.live.state.phase is Phase.RUNNING)
        live = app.session.live
        assert live is not None
        found = [e.content for e in live.entries if isinstance(e.content, j.ChairFound)]
        put_back, music = found[0].skipped
        assert put_back.startswith("put back, not proved: ")
        assert music == "a piece of music: nobody has looked"
