"""Made-up behaviour written down as journals, the way a moderator would have logged it."""

import tomllib
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from functools import cache
from importlib.resources import files
from random import Random
from typing import Any, get_args

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.findings import ledger as sorting
from fresh_chair.core.findings.entries.judgements import SeverityJudged
from fresh_chair.core.findings.entries.membership import FindingOpened, SnagJoined
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.plan.text.outline import study_from_outline
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.lanes import WaitKind
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.demo.judged import carried_findings, judgements
from fresh_chair.demo.simulator import EXPERT, Behaviour, MadeUpEvent, behave, troubles, usability
from fresh_chair.demo.sitting_kinds import OVERLAPPED, OVERLAPPED_CARD, answers, of_its_kind

SEED = 20261109
# Sittings one to three are the expert's, four to six the pilot's; the participants' follow.
FIRST_COUNTED = 7
BROKEN_OFF = 21
BROKEN_AFTER = 4
LEFT_AS_IT_WAS = 11
LEFT_BEHIND = ("the theme was changed", "one network is remembered: Harbour-Guest")
FIRST_DAY = datetime(2026, 11, 9, 9, 30, tzinfo=UTC)
EXPERT_DAY = FIRST_DAY - timedelta(days=5)
PILOT_DAY = FIRST_DAY - timedelta(days=3)
PLANNED = EXPERT_DAY - timedelta(days=2)
# Who takes the place of the one who did not come back: what the screener and the sheet say so far.
REPLACEMENT = {
    "profile": "delivers bread; asks before pressing anything",
    "uses": "a telephone",
    "uses_for": "4 years",
    "comfort": "3",
    "linux": "never",
    "language": "English",
    "answers.daily": "a telephone",
    "answers.linux-before": "no",
    "answers.staff": "no",
}
STARTS = (timedelta(), timedelta(hours=2), timedelta(hours=4, minutes=30))


@dataclass(slots=True)
class Pen:
    """Writes entries while a made-up clock goes on."""

    ticks_ns: int
    boot: str
    wall_ns: int
    random: Random
    entries: list[Entry] = field(default_factory=list)

    def later(self, seconds: float) -> None:
        """Let time pass."""
        passed = round(seconds * SECOND)
        self.ticks_ns += passed
        self.wall_ns += passed

    def write(self, content: Content, *, entry_id: str = "") -> str:
        """One entry at the present moment; returns its id, which is drawn where none is given."""
        entry_id = entry_id or f"{self.random.getrandbits(64):016x}"
        moment = Moment(self.ticks_ns, self.boot, self.wall_ns)
        self.entries.append(Entry(entry_id, len(self.entries) + 1, moment, "moderator", content))
        return entry_id

    def write_aside(self, content: Content) -> None:
        """One entry whose name is not drawn, so that all that is drawn later stays as it was without it."""
        self.write(
            content, entry_id=f"{Random(f'{self.boot} {self.ticks_ns} {len(self.entries)}').getrandbits(64):016x}"
        )


def how_a_wait_looks(words: str) -> WaitKind:
    """The look of a made-up wait."""
    return next(kind for kind in get_args(WaitKind) if kind == words)


def scenario() -> str:
    """The demo's outline as it ships."""
    return files(__package__).joinpath("scenario.toml").read_text(encoding="utf-8")


def demo_evidence() -> str:
    """The demo's evidence records as text."""
    return files(__package__).joinpath("evidence.txt").read_text(encoding="utf-8")


def demo_study() -> Study:
    """The plan of the demo."""
    study = study_from_outline(scenario(), name="scenario.toml", study_id="tern-harbour")
    return replace(study, carried=carried_findings())


def demo_hunches() -> list[Hunch]:
    """The demo reviewer's hunches, sealed before the pilot sat down."""
    written = round((PLANNED + timedelta(hours=3)).timestamp() * SECOND)
    sealed = round((PILOT_DAY - timedelta(hours=16)).timestamp() * SECOND)
    return [
        Hunch(id=f"h{index:02}", **hunch, written_wall_ns=written + index * 90 * SECOND, sealed_wall_ns=sealed)
        for index, hunch in enumerate(preparations()["hunch"], start=1)
    ]


def demo_late_hunches() -> list[Hunch]:
    """Hunches added after the first sitting: marked late, and so no predictions."""
    found = []
    for index, late in enumerate(preparations()["late"], start=1):
        when = round(moment_of(late).timestamp() * SECOND)
        values = {name: value for name, value in late.items() if name != "day"}
        found.append(Hunch(id=f"late{index:02}", **values, written_wall_ns=when, sealed_wall_ns=when, late=True))
    return found


def demo_looks() -> list[FixtureCheck]:
    """The demo reviewer's looks at the bench; one fixture is not looked for yet."""
    return [
        FixtureCheck(
            name=look["name"],
            presence=look["presence"],
            note=look.get("note", ""),
            wall_ns=round(moment_of(look).timestamp() * SECOND),
        )
        for look in preparations()["look"]
    ]


def moment_of(item: dict[str, Any]) -> datetime:
    """The day an item of the demo's plan says; the morning of the first day where it says none."""
    if "day" in item:
        return datetime.fromisoformat(item["day"]).replace(tzinfo=UTC)
    return FIRST_DAY - timedelta(minutes=25)


@cache
def preparations() -> dict[str, list[dict[str, Any]]]:
    """Hunches, looks at the bench and changes of the demo."""
    return tomllib.loads(files(__package__).joinpath("plan.toml").read_text(encoding="utf-8"))


def demo_journals(study: Study) -> dict[int, list[Entry]]:
    """The journals of the sittings that have been run, and of the one that was broken off."""
    return {
        seat.number: of_its_kind(seat, _sitting(study, seat), SEED) for seat in study.seats if seat.number <= BROKEN_OFF
    }


def demo_ledger(journals: dict[int, list[Entry]]) -> list[sorting.SortEntry]:
    """The sorting so far: snags of the first twelve sittings that were seen more than once, and their judgements."""
    finding_of = {words: trouble for trouble in troubles()["trouble"] for words in trouble["words"]}
    seen: dict[str, list[str]] = {}
    for number in range(FIRST_COUNTED, FIRST_COUNTED + 12):
        words = {e.content.entry: e.content.words for e in journals[number] if isinstance(e.content, j.Worded)}
        for entry in journals[number]:
            trouble = finding_of.get(words.get(entry.id, ""))
            if isinstance(entry.content, j.SnagSeen) and trouble is not None:
                seen.setdefault(trouble["finding"], []).append(entry.id)
    contents: list[sorting.SortContent] = []
    ids: dict[str, str] = {}
    for index, (title, snags) in enumerate(seen.items(), start=1):
        if len(snags) < 2:
            continue
        finding = ids[title] = f"F{index:02}"
        contents.append(FindingOpened(finding, title))
        contents += [SnagJoined(finding, snag) for snag in snags]
        trouble = next(t for t in troubles()["trouble"] if t["finding"] == title)
        if index % 5:
            contents.append(SeverityJudged(finding, trouble["severity"], trouble["reason"]))
    last = journals[max(journals)][-1].moment
    whole = [*(("moderator", content) for content in contents), *judgements(ids, journals)]
    return [
        sorting.SortEntry(
            sorting.sort_id(number),
            number,
            Moment(last.ticks_ns + number * 9 * SECOND, last.boot, last.wall_ns + number * 9 * SECOND),
            author,
            content,
        )
        for number, (author, content) in enumerate(whole, start=1)
    ]


def _sitting(study: Study, seat: Seat) -> list[Entry]:
    random = Random(f"{SEED}/{seat.number}")
    wall = _begins(seat.number) + timedelta(seconds=random.uniform(0, 400))
    boot = f"{random.getrandbits(128):032x}"
    pen = Pen(random.randrange(200, 9000) * SECOND, boot, round(wall.timestamp() * SECOND), random)
    pen.write(j.SittingBegan())
    # With an id that is not drawn: what follows stays as it was drawn before there was such an entry.
    pen.write(_chair_found(seat, pen.wall_ns), entry_id=f"found-{seat.number:02}")
    pen.later(random.uniform(60, 140))
    left: tuple[int, Behaviour, int] | None = None
    for index, card in enumerate(seat.cards):
        if seat.number == BROKEN_OFF and index == BROKEN_AFTER:
            pen.write(j.SittingBrokenOff("called away: the school telephoned; will not come back this week"))
            return pen.entries
        pen.write(j.AttemptStarted(card))
        behaviour = behave(seat, study.card_by_id[card], random)
        runs_on = _longest_wait(behaviour) if seat.number == OVERLAPPED and card == OVERLAPPED_CARD else None
        if runs_on is not None and index + 1 < len(seat.cards):
            _until(pen, behaviour, runs_on)
            left = index + 1, behaviour, runs_on
            pen.write(j.LeftRunning(), entry_id=f"left-{seat.number:02}")
            pen.later(9)
            continue
        _attempt(pen, behaviour)
        if left is not None:
            pen.later(11)
            _come_back(pen, *left)
            left = None
        pen.later(random.uniform(25, 70))
    if seat.participant == EXPERT:
        pen.write(j.UsabilityDeclined())
    else:
        for item, score in enumerate(usability(seat, random), start=1):
            pen.write(j.UsabilityAnswered(item, score))
            pen.later(random.uniform(4, 14))
        if seat.number >= FIRST_COUNTED:
            sat = [each for each in study.seats if each.participant == seat.participant]
            order = tuple(each.chair for each in sat) if seat.number == max(each.number for each in sat) else ()
            for step, content in enumerate(answers(seat, order, SEED), start=1):
                pen.write(content, entry_id=f"answer-{seat.number:02}-{step}")
                pen.later(9)
    pen.write(j.SittingEnded())
    return pen.entries


def _chair_found(seat: Seat, wall_ns: int) -> j.ChairFound:
    """How the chair was found: fresh on nearly every day, left as it was once, and not looked at before the pilot."""
    if seat.number < FIRST_COUNTED:
        return j.ChairFound("not checked", ("no comparison was made",))
    read = wall_ns - 240 * SECOND
    if seat.number == LEFT_AS_IT_WAS:
        return j.ChairFound("not fresh", LEFT_BEHIND, read)
    return j.ChairFound("fresh", (), read)


def _begins(number: int) -> datetime:
    """When a sitting is held: three a day, none at the weekend."""
    if number < FIRST_COUNTED:
        day = EXPERT_DAY if number <= len(STARTS) else PILOT_DAY
        return day + STARTS[(number - 1) % len(STARTS)]
    day_number, turn = divmod(number - FIRST_COUNTED, len(STARTS))
    return FIRST_DAY + timedelta(days=day_number + 2 * (day_number // 5)) + STARTS[turn]


def _attempt(pen: Pen, behaviour: Behaviour) -> None:
    _finish(pen, behaviour, _until(pen, behaviour, len(behaviour.happenings)), len(behaviour.happenings))


def _until(pen: Pen, behaviour: Behaviour, place: int) -> float:
    """Write an attempt down up to one of its happenings; returns the hands time that has passed."""
    return _go_on(pen, behaviour, 0.0, 0, place)


def _go_on(pen: Pen, behaviour: Behaviour, handled: float, first: int, last: int) -> float:
    for happening in behaviour.happenings[first:last]:
        until = min(max(happening.at, 0.0), 1.0) * behaviour.hands_seconds
        pen.later(max(until - handled, 0.0))
        handled = max(until, handled)
        handled += _happen(pen, happening)
    return handled


def _finish(pen: Pen, behaviour: Behaviour, handled: float, place: int) -> None:
    """Write down the rest of an attempt, how it ended and how easy it was."""
    handled = _go_on(pen, behaviour, handled, place, len(behaviour.happenings))
    pen.later(max(behaviour.hands_seconds - handled, 1.0))
    if behaviour.said_done:
        pen.write(j.SaidDone())
        pen.later(pen.random.uniform(0.6, 1.8))
    pen.write(j.AttemptStopped())
    pen.later(pen.random.uniform(2, 6))
    pen.write(j.OutcomeJudged(behaviour.outcome, behaviour.reason))
    if behaviour.outcome.counts:
        pen.later(pen.random.uniform(4, 12))
        pen.write(j.EaseRated(behaviour.ease))


def _longest_wait(behaviour: Behaviour) -> int | None:
    """The index of the longest wait among an attempt's events."""
    waits = [
        (happening.seconds, index) for index, happening in enumerate(behaviour.happenings) if happening.kind == "wait"
    ]
    return max(waits)[1] if waits else None


def _come_back(pen: Pen, number: int, behaviour: Behaviour, place: int) -> None:
    """Go on with the card that was left running, after the wait for which it was left."""
    pen.write(j.TakenUp(number), entry_id=f"taken-up-{number:02}")
    handled = min(max(behaviour.happenings[place].at, 0.0), 1.0) * behaviour.hands_seconds
    _finish(pen, behaviour, handled, place + 1)


def _happen(pen: Pen, happening: MadeUpEvent) -> float:
    """Write one happening down; returns the hands time that passed meanwhile."""
    match happening.kind:
        case "wait":
            pen.write(j.WaitBegan())
            pen.later(happening.seconds)
            if happening.words:
                pen.write_aside(j.WaitTold(how_a_wait_looks(happening.words)))
            pen.write(j.WaitEnded())
        case "aside":
            pen.write(j.AsideBegan())
            pen.later(happening.seconds)
            pen.write(j.AsideEnded())
        case "helped":
            pen.write(j.Helped())
        case "place":
            pen.write_aside(j.SpotVisited(happening.words))
        case "wrong_place":
            pen.write(j.WrongPlace())
        case "snag" | "delight" | "note":
            seen = {"snag": j.SnagSeen, "delight": j.DelightSeen, "note": j.NoteTaken}[happening.kind]
            entry = pen.write(seen())
            typing = min(2 + len(happening.words) / 12, 7.0)
            pen.later(typing)
            pen.write(j.Worded(entry, happening.words))
            return typing
    return 0.0
