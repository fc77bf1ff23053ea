"""The first page of the answer: every chair with its thresholds, its result, its findings and the machine's share."""

from collections.abc import Iterator

from fresh_chair.core.figures.course.machine import MachineShare
from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.overall.estimates import OverallVerdict, VerdictKind
from fresh_chair.core.figures.thresholds import HeldThreshold, completion_over_tasks
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.words.completion import completion_sentences
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.snapshot import StudyReading

_MOST = 3


@frozen
class NamedFinding:
    """A finding at one chair: its number, its title, its severity there, and how many met it of how many."""

    number: int
    title: str
    severity: int | None
    met: int
    tried: int


@frozen
class SideOfPair:
    """The main measure's verdict from one chair's side: better than, behind, alike, mixed, or open.

    Attributes:
        beside: The completion that has to be told with it.
    """

    other: str
    said: str
    verdict: OverallVerdict
    beside: str = ""


@frozen
class ChairAnswer:
    """Everything the first page says of one chair.

    Attributes:
        people: Counted people with an attempt there.
        completed: Share of the tasks that people complete there.
        usability: Mean of the System Usability Scale.
        held: Its thresholds.
        against: The main measure against each other chair that is compared.
        worst: Its problems, the worst first; strengths, those most met first. Neither where none was met there.
        unjudged: Problems met there without a severity.
        machine: The machine's share of the time.
    """

    chair: Chair
    people: int
    completed: Estimate
    usability: Estimate | None
    held: tuple[HeldThreshold, ...]
    against: tuple[SideOfPair, ...]
    worst: tuple[NamedFinding, ...]
    strengths: tuple[NamedFinding, ...]
    unjudged: int
    machine: MachineShare | None


def first_page(opened: StudyReading, weighing: Weighing) -> tuple[ChairAnswer, ...]:
    """Everything known of each chair at a glance, in the study's order."""
    found = sorted_findings_of(opened)
    return tuple(_answer(weighing, found, chair) for chair in weighing.study.chairs)


def _answer(weighing: Weighing, found: SortedFindings, chair: Chair) -> ChairAnswer:
    letter = chair.letter
    facts = [f for f in weighing.facts if f.chair == letter and f.outcome.counts and f.first_try]
    problems = list(_met(found, letter, "problem"))
    judged = [each for each in problems if each.severity is not None]
    judged.sort(key=lambda each: (-(each.severity or 0), -each.met))
    strengths = sorted(_met(found, letter, "strength"), key=lambda each: -each.met)
    return ChairAnswer(
        chair,
        len({fact.participant for fact in facts}),
        completion_over_tasks(facts),
        next((each.mean for each in weighing.satisfaction if each.chair == letter), None),
        tuple(each for each in weighing.thresholds if each.chair == letter),
        tuple(_against(weighing, letter)),
        tuple(judged[:_MOST]),
        tuple(strengths[:_MOST]),
        len(problems) - len(judged),
        next((each for each in weighing.machine if each.chair == letter and not each.card), None),
    )


def _met(found: SortedFindings, letter: str, sort: str) -> Iterator[NamedFinding]:
    for view in found.findings:
        if view.finding.sort != sort:
            continue
        spread = next((each for each in view.spread if each.chair == letter), None)
        if spread is not None and spread.people:
            yield _named(view, letter, len(spread.people), len(spread.tried))


def _named(view: FindingView, letter: str, met: int, tried: int) -> NamedFinding:
    judged = view.finding.severity_in(Scope(chair=letter))
    severity = None if judged is None else judged.severity
    return NamedFinding(view.finding.number, view.title, severity, met, tried)


def _against(weighing: Weighing, letter: str) -> Iterator[SideOfPair]:
    measure = main_measure(weighing)
    found = weighing.overall.get(measure)
    titles = {chair.letter: chair.letter for chair in weighing.study.chairs}
    margin = weighing.study.sheet.comparing.margin_completion / 100
    for verdict in found.verdicts if found is not None else ():
        pair = verdict.estimate
        if letter in (pair.first, pair.second):
            other = pair.second if letter == pair.first else pair.first
            # A winner's completion stands in its own row; what is called alike or mixed is never short of it.
            apart = verdict.said in (VerdictKind.ALIKE, VerdictKind.MIXED)
            told = completion_sentences(measure, verdict, titles, margin) if apart else ()
            yield SideOfPair(other, _side(verdict, letter), verdict, " ".join(told))


def _side(verdict: OverallVerdict, letter: str) -> str:
    if verdict.said is VerdictKind.ALIKE:
        return "alike"
    if verdict.said is VerdictKind.MIXED:
        return "mixed"
    if not verdict.winner:
        return "open"
    return "better than" if verdict.winner == letter else "behind"
