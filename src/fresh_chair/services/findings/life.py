"""Life lines of findings over releases and studies, and the list of findings to be tested again."""

from collections.abc import Iterator, Sequence

from fresh_chair.core.evidence.records import Advice, Against, LaterItem, ReleaseChange
from fresh_chair.core.evidence.succession import successions
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.core.findings.life_line import Life, LifePoint, life_of
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.findings.state.parts import Excuse
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import CarriedFinding
from fresh_chair.services.evidence.targets import target_words
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class LifeStation:
    """A finding at one point of its life line."""

    where: str
    state: Life
    words: str
    source: str


@frozen
class CarriedLife:
    """A finding of an earlier study, and its state at its chair in this one."""

    carried: CarriedFinding
    state: Life
    words: str
    finding: str = ""


@frozen
class AgainLine:
    """A finding that is to be tested again, why, and the release it waits for."""

    finding: str
    name: str
    title: str
    why: str
    waits_for: str
    cards: tuple[str, ...]
    chairs: tuple[str, ...]


def life_line(opened: StudyReading, view: FindingView) -> list[LifeStation]:
    """The life line of one finding: its chairs along their successions, earlier studies and references included."""
    stations: list[LifeStation] = []
    for line in _lines(opened):
        points = [point for target in line for point in _points(opened, view, target)]
        # A line with one point, or with none at which it was met, says nothing.
        if len(points) > 1 and any(point.met for point in points):
            stations += [
                LifeStation(point.where, state, point.words, point.source)
                for point, state in zip(points, life_of(points), strict=True)
            ]
    return stations


def life_states(opened: StudyReading, found: SortedFindings) -> dict[str, Life]:
    """The newest state of each finding that has a life line, by id."""
    if not opened.study.carried and not successions(opened.evidence.state):
        # Nothing is held against anything; the screen asks after each key.
        return {}
    return {view.id: line[-1].state for view in found.findings if (line := life_line(opened, view))}


def _lines(opened: StudyReading) -> list[tuple[str, ...]]:
    """The successions of releases, and each other chair by itself."""
    tied = successions(opened.evidence.state)
    within = {name for line in tied for name in line}
    alone = [(f"chair:{letter}",) for letter in opened.study.chair_by_letter if f"chair:{letter}" not in within]
    return [*tied, *alone]


def _points(opened: StudyReading, view: FindingView, target: str) -> Iterator[LifePoint]:
    sort, name = target_parts(target)
    if sort == "chair":
        yield from _earlier(opened, view, name)
        spread = next((each for each in view.spread if each.chair == name), None)
        if spread is not None:
            met = True if spread.people or spread.others else False if spread.tried else None
            yield LifePoint(name, met, view.severity, spread.words)
        return
    for against in _against(opened, view, target):
        said = f"{target_words(opened, target)}: {against.says}"
        if against.says == "back again":
            yield LifePoint(target, True, None, said)
        if against.says in ("new here", "back again"):
            yield LifePoint(target, False, None, said)
        elif against.says != "cannot say":
            yield LifePoint(target, True, None, said)


def _against(opened: StudyReading, view: FindingView, target: str) -> Iterator[Against]:
    for held in opened.evidence.state.held("against"):
        record = held.record
        if isinstance(record, Against) and record.of == f"finding:{view.id}" and record.than == target:
            yield record


def _earlier(opened: StudyReading, view: FindingView, letter: str) -> Iterator[LifePoint]:
    """The finding at a chair in the study that the chair was carried over from."""
    here = [each for each in opened.study.carried if each.chair == letter and each.sort == "finding"]
    mine = [each for each in here if is_same(each, view)]
    for each in mine:
        if each.life == "gone":
            yield LifePoint(letter, True, None, "met before that", each.source)
        yield LifePoint(letter, each.life != "gone", each.severity, each.words, each.source)
    if here and not mine:
        yield LifePoint(letter, False, None, "not among the findings carried over", here[0].source)


def is_same(carried: CarriedFinding, view: FindingView) -> bool:
    """Whether a finding is one that was carried over: as it was said, or else by its name."""
    if view.finding.earlier:
        return view.finding.earlier in (carried.id, carried.id[:80])
    return carried.title.casefold() == view.title.casefold()


def carried_lives(opened: StudyReading, found: SortedFindings) -> list[CarriedLife]:
    """Every finding that was carried over: known, changed, gone, back again, or not tried here yet."""
    tried: dict[tuple[str, str], set[str]] = {}
    for fact in opened.facts():
        if fact.outcome.counts:
            tried.setdefault((fact.card, fact.chair), set()).add(fact.participant)
    lives = []
    for each in opened.study.carried:
        if each.sort != "finding":
            continue
        view = next((view for view in found.findings if is_same(each, view)), None)
        people: set[str] = set().union(*(tried.get((card, each.chair), set()) for card in each.cards))
        spread = None if view is None else next(s for s in view.spread if s.chair == each.chair)
        met = spread is not None and bool(spread.people or spread.others)
        here = set(spread.tried) | people if spread is not None else people
        points = [LifePoint(each.chair, True)] if each.life == "gone" else []
        points.append(LifePoint(each.chair, each.life != "gone", each.severity))
        severity = None if view is None else view.severity
        points.append(LifePoint(each.chair, True if met else False if here else None, severity))
        words = spread.words if spread is not None and met else f"tried by {len(here)}" if here else "not tried yet"
        lives.append(CarriedLife(each, life_of(points)[-1], words, "" if view is None else view.id))
    return lives


def again_list(opened: StudyReading, found: SortedFindings) -> list[AgainLine]:
    """The findings to test again: forgiven, mended by their makers' word, or waiting for a release."""
    return [
        AgainLine(view.id, f"F{view.finding.number}", view.title, why, waits_for, view.cards, _chairs(view))
        for view in found.findings
        for why, waits_for in dict.fromkeys((*_forgiven(view), *_mended(opened, view), *_waiting(opened, view)))
    ]


def _chairs(view: FindingView) -> tuple[str, ...]:
    return tuple(each.chair for each in view.spread if each.people or each.others)


def _forgiven(view: FindingView) -> Iterator[tuple[str, str]]:
    for part in view.finding.held("excuse"):
        if isinstance(part, Excuse):
            yield f"forgiven: {part.sort}", part.again


def _mended(opened: StudyReading, view: FindingView) -> Iterator[tuple[str, str]]:
    mine = f"finding:{view.id}"
    for link in opened.evidence.state.links():
        if link.first == mine and link.relation == "mended by":
            yield f"said to be mended by {target_words(opened, link.second)}", _release_in(opened, link.second)
    for held in opened.evidence.state.held("advice"):
        advice = held.record
        if isinstance(advice, Advice) and advice.of == mine and advice.answer:
            yield f"its makers answered: {advice.answer}", ""


def _waiting(opened: StudyReading, view: FindingView) -> Iterator[tuple[str, str]]:
    mine = f"finding:{view.id}"
    for held in opened.evidence.state.held("later"):
        item = held.record
        if isinstance(item, LaterItem) and item.of == mine and not item.done:
            yield f"put off: {item.what}", item.when or item.due
    for link in opened.evidence.state.links():
        other = link.second if link.first == mine else link.first if link.second == mine else ""
        waits = _release_in(opened, other)
        if waits and link.relation != "mended by":
            yield f"{link.relation} {target_words(opened, other)}", waits


def _release_in(opened: StudyReading, target: str) -> str:
    """The release or day that a change is still to come with; empty for all else."""
    sort, name = target_parts(target)
    held = opened.evidence.state.find("change", name) if sort == "change" else None
    return held.record.comes if held is not None and isinstance(held.record, ReleaseChange) else ""


def stations_words(stations: Sequence[LifeStation]) -> str:
    """A life line in one line of words."""
    return " -> ".join(f"{each.where}: {each.state or each.words}" for each in stations)
