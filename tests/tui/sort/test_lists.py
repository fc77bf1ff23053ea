"""Sort by keys: two lists, taken up, joined, merged, split, undone; narrowed and found again; a finding's page."""

from pathlib import Path

import pytest
from textual.pilot import Pilot
from textual.widgets import Input

from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.findings.state.parts import Cause
from fresh_chair.services.findings import judging, ratings, sorting
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.app import FreshChair
from fresh_chair.tui.base.sort_in_hand import SortInHand
from fresh_chair.tui.sort.page import FindingSheet
from fresh_chair.tui.sort.screen import Sort
from fresh_chair.tui.widgets.asking import ChoiceLine, WordLine
from fresh_chair.tui.widgets.line_list import LineList
from tests.tui.conftest import SIZES, WIDE, picture, shows, until
from tests.tui.sit.test_walking import typed


async def sorting_screen(app: FreshChair, pilot: Pilot[None]) -> Sort:
    await pilot.press("4")
    await until(pilot, lambda: isinstance(app.screen, Sort) and "loose snags: " in picture(app))
    screen = app.screen
    assert isinstance(screen, Sort)
    return screen


def ids(screen: Sort, pile: str) -> list[str]:
    return [each for each in screen.query_one(f"#{pile}", LineList)._ids if each is not None]


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_snags_are_taken_up_and_put_into_findings(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        screen = await sorting_screen(app, pilot)
        loose, before = len(ids(screen, "observations")), len(demo.findings.findings_of)
        await pilot.press("space", "down", "space", "o")
        await typed(pilot, "dark is hidden")
        await until(pilot, lambda: len(demo.findings.findings_of) >= before + 2)
        await until(pilot, shows(app, "dark is hidden"))
        made = screen.hand.lines["findings"]
        # It is in hand at the right; another one is put into it with a single key.
        await pilot.press("space", "j")
        await until(pilot, lambda: len(demo.findings.by_id[made].evidence) >= 3)
        # What was sorted just now stays in its row, and the next loose one is in hand.
        assert len(ids(screen, "observations")) == loose
        here = screen.observation_in_hand
        assert here is not None
        assert not here.findings
        await pilot.press("left", "escape")
        await until(pilot, lambda: len(ids(screen, "observations")) < loose)
        await pilot.press("right", "v")
        await until(pilot, lambda: app.screen.query_one(ChoiceLine).asking)
        await pilot.press("3")
        await typed(pilot, "because")
        await until(pilot, lambda: demo.findings.by_id[made].reason == "because")
        # The list sorts anew; what was in hand stays in hand.
        assert screen.list_of("findings").here == made
        await pilot.press("i")
        await until(pilot, shows(app, f"in F{demo.findings.numbers[made]}: "))
        held = len(demo.findings.by_id[made].evidence)
        await pilot.press("x")
        await until(pilot, lambda: len(demo.findings.by_id[made].evidence) == held - 1)


async def test_a_change_is_taken_back_and_what_it_joined_is_taken_up_again(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        screen = await sorting_screen(app, pilot)
        count = len(demo.findings.by_id)
        await pilot.press("space", "o")
        await typed(pilot, "too soon")
        await until(pilot, lambda: len(demo.findings.by_id) == count + 1)
        assert not screen.hand.taken
        await pilot.press("u")
        await until(pilot, shows(app, "Taken back: finding opened"))
        assert len(demo.findings.by_id) == count
        assert screen.hand.taken


async def test_identical_words_are_taken_up_together_and_alike_ones_are_offered(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        screen = await sorting_screen(app, pilot)
        same: dict[str, list[str]] = {}
        for each in screen.shown:
            same.setdefault(f"{each.kind} {each.words}", []).append(each.target)
        together = next(targets for targets in same.values() if len(targets) > 1)
        screen.list_of("observations").take(together[0])
        await pilot.press("space")
        await until(pilot, shows(app, "that say the same"))
        assert set(screen.hand.taken) >= set(together)
        before = len(demo.sorting.entries)
        await pilot.press("a")
        await until(pilot, shows(app, "look alike"))
        assert screen.list_of("observations").here in together
        await pilot.press("escape")
        await until(pilot, shows(app, "loose snags: "))
        assert (len(demo.sorting.entries), set(screen.hand.taken) >= set(together)) == (before, True)


async def test_the_left_list_narrows_while_one_types_and_stays_so_in_another_place(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        screen = await sorting_screen(app, pilot)
        every = len(ids(screen, "observations"))
        await pilot.press("slash")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press(*"bright")
        await until(pilot, lambda: 0 < len(ids(screen, "observations")) < every)
        shown = ids(screen, "observations")
        await pilot.press("enter", "1")
        await until(pilot, lambda: not isinstance(app.screen, Sort))
        screen = await sorting_screen(app, pilot)
        assert ids(screen, "observations") == shown
        await pilot.press("slash")
        await until(pilot, lambda: app.screen.query_one(WordLine).query_one(Input).value == "bright")
        await pilot.press("escape", "f", "7")
        await until(pilot, lambda: len(ids(screen, "observations")) == every)
        await pilot.press("f", "3", "3")
        await until(pilot, shows(app, "shown: at B"))
        assert all(each.chair == "B" for each in screen.shown)


async def test_two_findings_become_one_and_a_part_of_it_another(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        screen = await sorting_screen(app, pilot)
        await pilot.press("right", "home")
        first = screen.list_of("findings").here
        await pilot.press("m", "down")
        second = screen.list_of("findings").here
        assert first is not None
        assert second is not None
        number = demo.findings.numbers[first]
        await pilot.press("m")
        await until(pilot, lambda: first not in demo.findings.by_id)
        assert number in demo.findings.by_id[second].merged
        assert screen.list_of("findings").here == second
        await pilot.press("i", "space", "s")
        await typed(pilot, "a part of it")
        await until(pilot, shows(app, "Split: "))
        assert len(demo.findings.by_id) == 19


async def test_a_finding_is_sorted_tagged_renamed_and_put_under_a_head(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        screen = await sorting_screen(app, pilot)
        await pilot.press("right", "home", "k", "2", "g")
        here = screen.list_of("findings").here or ""
        await typed(pilot, "feedback")
        await pilot.press("r")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await typed(pilot, " at once")
        await pilot.press("b")
        await typed(pilot, "F2")
        await until(pilot, lambda: bool(demo.findings.by_id[here].under))
        finding = demo.findings.by_id[here]
        assert (finding.sort, finding.tags, finding.title.endswith(" at once")) == (
            "strength",
            ["trust", "feedback"],
            True,
        )
        assert demo.findings.by_id[finding.under].number == 2


async def opened_page(app: FreshChair, pilot: Pilot[None]) -> FindingSheet:
    await sorting_screen(app, pilot)
    await pilot.press("right", "home", "enter")
    await until(pilot, lambda: isinstance(app.screen, FindingSheet) and "seen" in picture(app))
    screen = app.screen
    assert isinstance(screen, FindingSheet)
    return screen


async def test_a_page_is_laid_out_anew_where_the_room_of_its_columns_changes(demo: OpenStudy) -> None:
    """The terminal keeps its size: the other column that comes and goes is enough."""
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        page = await opened_page(app, pilot)
        left = page.query_one("#left", LineList)
        rows = left.virtual_size.height
        page.query_one("#right").styles.display = "none"
        await until(pilot, lambda: left.virtual_size.height < rows)
        page.query_one("#right").styles.display = "block"
        await until(pilot, lambda: left.virtual_size.height == rows)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_a_finding_is_judged_on_its_page(demo: OpenStudy, size: tuple[int, int]) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        page = await opened_page(app, pilot)
        await pilot.press("c")
        await typed(pilot, "the sign is never asked")
        await pilot.press("3", "2")
        await typed(pilot, "green with the cable out")
        held = len(page.of.held("cause"))
        await until(pilot, lambda: len(page.of.held("cause")) == held + 1 or held > 1)
        await until(pilot, shows(app, "plausible: the sign is never asked"))
        # The new one is in hand.
        await pilot.press("enter", "3", "3")
        await typed(pilot, "another machine does the same")
        await until(pilot, lambda: len(page.of.versions("cause", page.of.held("cause")[-1].id)) == 2)
        cause = page.of.held("cause")[-1]
        assert isinstance(cause, Cause)
        assert (cause.lies, cause.sure) == ("a program", "likely")
        await until(pilot, shows(app, "until then"))
        await pilot.press("t")
        await typed(pilot, "asked by hand")
        await pilot.press("1")
        await typed(pilot, "")
        await pilot.press("w")
        await typed(pilot, "press check")
        await pilot.press("4", "2")
        await until(pilot, lambda: len(page.of.held("workaround")) == 2 and len(page.of.held("trial")) == 2)
        await pilot.press("x", "1", "1")
        await typed(pilot, "a beta")
        await typed(pilot, "it is final")
        await until(pilot, lambda: page.of.excused == 1)
        await pilot.press("n", "2", "2")
        await typed(pilot, "rare there")
        await until(pilot, lambda: Scope(chair="B") in page.of.severities)
        await pilot.press("o", "4")
        await typed(pilot, "2 of 5")
        await until(pilot, lambda: (page.of.occurrence.met, page.of.occurrence.tries) == (2, 5))
        await pilot.press("u")
        await until(pilot, lambda: page.of.occurrence.how == "every time")


async def test_what_was_seen_opens_at_its_moment_and_leads_back_to_the_page(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        page = await opened_page(app, pilot)
        seen = page.page.view.observations[0]
        await pilot.press("left", "home", "enter")
        await until(pilot, shows(app, f"sitting {seen.sitting}"))
        await until(pilot, shows(app, seen.words[:30]))
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, FindingSheet))


async def test_the_page_goes_to_its_neighbour_on_paper_and_back(demo: OpenStudy, tmp_path: Path) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        page = await opened_page(app, pilot)
        first = page.finding
        await pilot.press("greater_than_sign")
        await until(pilot, lambda: page.finding != first)
        await pilot.press("less_than_sign")
        await until(pilot, lambda: page.finding == first)
        await pilot.press("p")
        await until(pilot, lambda: app.screen.query_one(WordLine).asking)
        await pilot.press("ctrl+u")
        await typed(pilot, str(tmp_path / "page.pdf"))
        await until(pilot, shows(app, "Written"))
        assert (tmp_path / "page.pdf").read_bytes().startswith(b"%PDF")
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, Sort))


async def test_a_part_that_does_not_hold_is_dropped_with_its_reason(demo: OpenStudy) -> None:
    finding = sorted_findings_of(demo).findings[0].id
    cause = judging.put_part(demo, finding, "cause", {"words": "the driver", "reason": "thought"})
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        page = await opened_page(app, pilot)
        await pilot.press("right")
        page.show_part(cause.id)
        await pilot.press("delete")
        await typed(pilot, "it was not")
        await until(pilot, lambda: cause not in page.of.held("cause"))
        assert page.of.versions("cause", cause.id)[-1].reason == "it was not"


def unsettled(demo: OpenStudy) -> None:
    """Strike the opening of the demo's settling view, and what was settled in it."""
    settled = [e for e in demo.sorting.entries if getattr(e.content, "settled", False)]
    opened = [e for e in demo.sorting.entries if e.content.kind == "settling_opened"]
    rated = [e for e in demo.sorting.entries if e.content.kind == "severity_rated"]
    for entry in reversed([*rated, *opened, *settled]):
        sorting.strike(demo, entry.number, "not yet")


async def test_a_rater_sees_no_judgement_and_rates(demo: OpenStudy) -> None:
    unsettled(demo)
    ratings.rate(demo, sorted_findings_of(demo).findings[0].id, 1, "Bo's reason", "Bo")
    app = FreshChair(demo)
    app.session.sort = SortInHand(rater="Ada", pile="findings")
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, lambda: isinstance(app.screen, Sort) and "Ada rates" in picture(app))
        reason = sorted_findings_of(demo).findings[0].reason
        await pilot.press("home", "o", "j", "space")
        assert reason[:30] not in picture(app)
        await pilot.press("v", "2")
        await typed(pilot, "slow")
        await until(pilot, shows(app, "1 rated by Ada"))
        await pilot.press("enter")
        await until(pilot, shows(app, "your rating: 2: slow"))
        assert reason[:30] not in picture(app)
        assert "Bo's reason" not in picture(app)
        held = sorted_findings_of(demo).findings[0].finding
        assert (held.ratings["Ada"].severity, held.ratings["Ada"].blind) == (2, True)


@pytest.mark.parametrize("size", SIZES, ids=["wide", "80x24"])
async def test_raters_are_settled_side_by_side(demo: OpenStudy, size: tuple[int, int]) -> None:
    unsettled(demo)
    finding = sorted_findings_of(demo).findings[0].id
    for name, severity in (("Ada", 1), ("Bo", 4)):
        ratings.rate(demo, finding, severity, f"{name} says so", name)
    app = FreshChair(demo)
    async with app.run_test(size=size) as pilot:
        await sorting_screen(app, pilot)
        before = picture(app)
        assert "Ada says so" not in before
        await pilot.press("t")
        await until(pilot, shows(app, "Rated by Ada, Bo" if size == WIDE else "Rated by"))
        await pilot.press("o", "y")
        await until(pilot, shows(app, "alpha"))
        await pilot.press("home", "enter", "3")
        await typed(pilot, "Bo saw two of them")
        await until(pilot, lambda: demo.findings.by_id[finding].reason == "Bo saw two of them")
        assert any(judged.settled for judged in demo.findings.by_id[finding].severities.values())


async def test_discovery_again_and_observers_say_what_they_are_for(demo: OpenStudy) -> None:
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        await sorting_screen(app, pilot)
        await pilot.press("d")
        await until(pilot, shows(app, "problems", "adjusted for so few"))
        await pilot.press("escape", "n")
        await until(pilot, shows(app, "to be tested again"))
        await pilot.press("escape", "w")
        await until(pilot, shows(app, "Any-two agreement"))
        await pilot.press("escape")
        await until(pilot, lambda: isinstance(app.screen, Sort))


async def test_a_mark_of_one_observer_alone_is_taken(opened: OpenStudy) -> None:
    from fresh_chair.core.sitting import journal as j
    from fresh_chair.core.sitting.state.outcome import Outcome
    from fresh_chair.services.sitting.live import LiveSitting
    from fresh_chair.services.study.open_study import open_study

    seat, clock = opened.study.seats[0], opened.clock
    live = LiveSitting(opened, seat)
    live.begin(clock.now())
    live.log(j.AttemptStarted(seat.cards[0]), clock.now())
    beside = open_study(opened.beside, observe=True, author="Mo")
    beside.clock = clock
    watching = LiveSitting(beside, beside.study.seat(seat.number))
    watching.join(clock.now())
    watching.log(j.WrongPlace(), clock.now())
    beside.close()
    live.read_on()
    live.log(j.AttemptStopped(), clock.now())
    live.log(j.OutcomeJudged(Outcome.UNAIDED), clock.now())
    live.break_off("enough", clock.now())
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("4", "w")
        await until(pilot, shows(app, "wrong place", "Mo"))
        await pilot.press("t")
        await typed(pilot, "on the tape")
        await until(pilot, shows(app, "taken"))
        (fact,) = opened.facts()
        assert fact.wrong_places == 1


async def test_a_carried_finding_is_taken_up_as_one_of_this_study(opened: OpenStudy, demo_path: Path) -> None:
    from fresh_chair.services.file.carrying import carry_over

    carry_over(opened, demo_path, "A")
    app = FreshChair(opened)
    async with app.run_test(size=WIDE) as pilot:
        await until(pilot, shows(app, "seats"))
        await pilot.press("4", "right")
        await until(pilot, shows(app, "carried from earlier studies", "not tried"))
        await pilot.press("home", "enter")
        await until(pilot, lambda: len(opened.findings.by_id) == 1)
        (finding,) = opened.findings.by_id.values()
        assert finding.earlier == opened.study.carried[0].id
        assert sorting.find_finding(opened, "F1") is finding


async def test_a_recording_that_is_not_there_is_said_and_one_that_is_opens_at_the_moment(demo: OpenStudy) -> None:
    from fresh_chair.demo.sitting_kinds import RECORDED

    found = sorted_findings_of(demo)
    view, seen = next((v, o) for v in found.findings for o in v.observations if o.sitting == RECORDED)
    app = FreshChair(demo)
    async with app.run_test(size=WIDE) as pilot:
        screen = await sorting_screen(app, pilot)
        screen.list_of("findings").take(view.id)
        await pilot.press("right", "enter")
        await until(pilot, lambda: isinstance(app.screen, FindingSheet) and "seen" in picture(app))
        page = app.screen
        assert isinstance(page, FindingSheet)
        at = [o.target for o in page.page.view.observations].index(seen.target)
        page.query_one("#left", LineList).take(f"seen/{at}")
        await pilot.press("R")
        await until(pilot, shows(app, "sitting-15.webm is not at"))
