"""Two chairs on one task: the comparison, and the sentence it allows: law 4."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from enum import StrEnum
from itertools import combinations

from fresh_chair.core.figures.completion import detectable_change, mcnemar_exact, paired_difference
from fresh_chair.core.figures.correction import holm
from fresh_chair.core.figures.estimate import Estimate, interval_words
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.times import detectable_ratio, paired_ratio
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.study import Study

ALPHA = 0.05
# A difference smaller than these would not change what a reader does; finding none larger is then an answer.
WORTHWHILE_RATIO = 1.5
WORTHWHILE_CHANGE = 0.3
# Below this many people a t test stands on an assumption that nobody can check, so no winner is named.
FEWEST_FOR_A_WINNER = 5


class Verdict(StrEnum):
    """How a comparison can end."""

    FIRST_BETTER = "first better"
    SECOND_BETTER = "second better"
    NO_DIFFERENCE = "no difference shown"
    TOO_FEW = "too few to tell"


class Measure(StrEnum):
    """The measure that is compared."""

    COMPLETION = "completion"
    TIME = "time"


@frozen
class Comparison:
    """One task, two chairs, the same people.

    Attributes:
        estimate: Difference of lenient completion rates (first minus second), or ratio of hands times (first over
            second, below 1 is faster at the first); its n is the people who were at both.
        p: Raw two-sided p, None where no test is possible.
        p_adjusted: After Holm over all tasks and pairs of the study, per measure.
        detectable: The share of people, or the time ratio, this n could have shown with 80 % power; None where none.
        left_out: People at both chairs whom the time ratio leaves out because they did not complete at both.
    """

    measure: Measure
    card: str
    first: str
    second: str
    estimate: Estimate
    p: float | None
    p_adjusted: float | None
    detectable: float | None
    left_out: int
    verdict: Verdict


def compare_all(
    study: Study, facts: Iterable[AttemptFact], *, going: Callable[[], object] = lambda: None
) -> dict[str, list[Comparison]]:
    """Every pair of chairs on every task, completion and time, by card.

    Only people who sat at both chairs of a pair are compared, on first tries that count. `going` is called before each
    card, and raises where nobody waits any more.
    """
    by_cell: dict[tuple[str, str], dict[str, AttemptFact]] = defaultdict(dict)
    for fact in facts:
        if fact.outcome.counts and fact.first_try:
            by_cell[fact.card, fact.chair][fact.participant] = fact
    raw: list[Comparison] = []
    for card in study.cards:
        going()
        for first, second in combinations(study.chairs, 2):
            at_first, at_second = by_cell[card.id, first.letter], by_cell[card.id, second.letter]
            pairs = [(at_first[code], at_second[code]) for code in sorted(at_first.keys() & at_second.keys())]
            raw.append(_completion(card.id, first.letter, second.letter, pairs))
            raw.append(_time(card.id, first.letter, second.letter, pairs))
    judged: dict[str, list[Comparison]] = {card.id: [] for card in study.cards}
    for comparison in _adjusted(raw):
        judged[comparison.card].append(replace(comparison, verdict=_verdict(comparison)))
    return judged


def sentences(study: Study, comparisons: Sequence[Comparison]) -> list[str]:
    """The sentences that one task's comparisons allow: one for completion and one for time."""
    titles = {chair.letter: chair.title for chair in study.chairs}
    said = []
    for measure, speak in ((Measure.COMPLETION, _say_completion), (Measure.TIME, _say_time)):
        ours = [comparison for comparison in comparisons if comparison.measure is measure and comparison.estimate.n]
        if not ours:
            said.append(_nobody(measure))
            continue
        firm = [c for c in ours if c.verdict in (Verdict.FIRST_BETTER, Verdict.SECOND_BETTER)]
        chosen = firm or [min(ours, key=lambda c: (c.p if c.p is not None else 2.0, -c.estimate.n))]
        said.append(" ".join(speak(comparison, titles) for comparison in chosen))
    return said


def unlike_conditions(study: Study) -> list[str]:
    """The differences between the chairs besides the distribution, for the reader of a comparison."""
    chairs = study.chairs
    said = []
    if len({chair.machine for chair in chairs}) > 1:
        where = "; ".join(f"{chair.title} on {study.machine_of(chair).name}" for chair in chairs)
        said.append(f"Not all on the same machine: {where}.")
    virtual = [chair.title for chair in chairs if study.machine_of(chair).virtual]
    if virtual and len(virtual) < len(chairs):
        said.append(f"{_listed(virtual)} ran in a virtual machine, the others did not.")
    early = [f"{chair.title} ({chair.stage})" for chair in chairs if chair.stage in ("beta", "candidate")]
    if early and len(early) < len(chairs):
        said.append(f"Not a finished release: {_listed(early)}.")
    states = {chair.state for chair in chairs}
    if len(states) > 1:
        said.append("Not all in the same state: " + "; ".join(f"{c.title} {_state(c)}" for c in chairs) + ".")
    said += [f"{chair.title} was altered: {'; '.join(chair.alterations)}." for chair in chairs if chair.alterations]
    return said


def _state(chair: Chair) -> str:
    return f"{chair.state}{f' for {chair.in_use_for}' if chair.in_use_for else ''}"


def brief_conditions(study: Study) -> str:
    """The same in one line, by letter; empty where nothing differs."""
    chairs = study.chairs
    parts = []
    if len({chair.machine for chair in chairs}) > 1:
        parts.append("different machines")
    virtual = [chair.letter for chair in chairs if study.machine_of(chair).virtual]
    if virtual and len(virtual) < len(chairs):
        parts.append(f"{_listed(virtual)} virtual")
    parts += [f"{chair.letter} {chair.stage}" for chair in chairs if chair.stage in ("beta", "candidate")]
    if len({chair.state for chair in chairs}) > 1:
        parts.append("different states")
    parts += [f"{chair.letter} altered" for chair in chairs if chair.alterations]
    return f"Unlike conditions: {', '.join(parts)}." if parts else ""


def _completion(card: str, first: str, second: str, pairs: Sequence[tuple[AttemptFact, AttemptFact]]) -> Comparison:
    results = [(a.outcome.completed, b.outcome.completed) for a, b in pairs]
    p = mcnemar_exact(sum(a and not b for a, b in results), sum(b and not a for a, b in results)) if results else None
    return Comparison(
        Measure.COMPLETION,
        card,
        first,
        second,
        paired_difference(results),
        p,
        p,
        detectable_change(len(results)),
        0,
        Verdict.TOO_FEW,
    )


def _time(card: str, first: str, second: str, pairs: Sequence[tuple[AttemptFact, AttemptFact]]) -> Comparison:
    timed = [
        (a.hands_seconds, b.hands_seconds)
        for a, b in pairs
        if a.outcome.completed and b.outcome.completed and a.hands_seconds > 0 and b.hands_seconds > 0
    ]
    ratio, p = paired_ratio(timed)
    left_out = len(pairs) - len(timed)
    return Comparison(
        Measure.TIME, card, first, second, ratio, p, p, detectable_ratio(timed), left_out, Verdict.TOO_FEW
    )


def _adjusted(comparisons: Sequence[Comparison]) -> list[Comparison]:
    adjusted = list(comparisons)
    for measure in Measure:
        places = [i for i, c in enumerate(comparisons) if c.measure is measure and c.p is not None]
        corrected = holm([p for i in places if (p := comparisons[i].p) is not None])
        for place, p in zip(places, corrected, strict=True):
            adjusted[place] = replace(comparisons[place], p_adjusted=p)
    return adjusted


def _verdict(comparison: Comparison) -> Verdict:
    value = comparison.estimate.value
    if comparison.estimate.n < FEWEST_FOR_A_WINNER:
        return Verdict.TOO_FEW
    if comparison.p_adjusted is not None and comparison.p_adjusted < ALPHA and value is not None:
        if comparison.measure is Measure.COMPLETION:
            return Verdict.FIRST_BETTER if value > 0 else Verdict.SECOND_BETTER
        return Verdict.FIRST_BETTER if value < 1 else Verdict.SECOND_BETTER
    limit = WORTHWHILE_CHANGE if comparison.measure is Measure.COMPLETION else WORTHWHILE_RATIO
    if comparison.detectable is None or comparison.detectable > limit:
        return Verdict.TOO_FEW
    return Verdict.NO_DIFFERENCE


def _say_completion(comparison: Comparison, titles: dict[str, str]) -> str:
    first, second = titles[comparison.first], titles[comparison.second]
    estimate = comparison.estimate
    value, low, high = (100 * (part or 0.0) for part in (estimate.value, estimate.low, estimate.high))
    said = (
        f"{_lead('Completion', comparison, titles)} Of {_people(estimate.n)} at both, {first} minus {second} is "
        f"{value:+.0f} points ({interval_words(low, high, '+.0f')}; {_p(comparison)})"
    )
    if comparison.verdict is not Verdict.TOO_FEW:
        return f"{said}."
    could = comparison.detectable
    if could is None:
        return f"{said}; below 6 people even a unanimous change shows nothing."
    return f"{said}; this many could only show it if {100 * could:.0f} % of people fared better."


def _say_time(comparison: Comparison, titles: dict[str, str]) -> str:
    first, second = titles[comparison.first], titles[comparison.second]
    estimate = comparison.estimate
    if estimate.value is not None and estimate.value < 1:
        first, second = second, first
        estimate = _inverse(estimate)
    lead = _lead("Time", comparison, titles)
    if estimate.value is None or estimate.low is None or estimate.high is None:
        return f"{lead} {_people(estimate.n)} completed it at both {first} and {second}."
    said = (
        f"{lead} {_people(estimate.n)} took {_times(estimate.value)} times as long at {first} as at {second} "
        f"({_times(estimate.low)} to {_times(estimate.high)}; {_p(comparison)})"
    )
    if comparison.verdict is Verdict.TOO_FEW:
        said += _could_show(comparison)
    if comparison.left_out:
        said += f"; {comparison.left_out} more did not complete at both"
    return f"{said}."


def _lead(what: str, comparison: Comparison, titles: dict[str, str]) -> str:
    """The verdict first: the reader takes it away."""
    winner = {Verdict.FIRST_BETTER: comparison.first, Verdict.SECOND_BETTER: comparison.second}.get(comparison.verdict)
    return f"{what}: {comparison.verdict}." if winner is None else f"{what}: better at {titles[winner]}."


def _could_show(comparison: Comparison) -> str:
    if comparison.estimate.n < FEWEST_FOR_A_WINNER:
        return f"; below {FEWEST_FOR_A_WINNER} people no winner is named"
    if comparison.detectable is None:
        return ""
    return f"; this many could only have shown a {_times(comparison.detectable)}-fold difference"


def _times(ratio: float) -> str:
    return f"{ratio:.2f}" if ratio < 1 else f"{ratio:.1f}" if ratio < 10 else f"{ratio:,.0f}"


def _inverse(estimate: Estimate) -> Estimate:
    low = None if estimate.high is None else 1 / estimate.high
    high = None if estimate.low is None else 1 / estimate.low
    return replace(estimate, value=1 / (estimate.value or 1.0), low=low, high=high)


def _p(comparison: Comparison) -> str:
    if comparison.p is None or comparison.p_adjusted is None:
        return "no test possible"
    return f"p {_p_text(comparison.p)}, {_p_text(comparison.p_adjusted)} after Holm"


def _p_text(p: float) -> str:
    return "< 0.001" if p < 0.001 else f"{p:.3f}" if p < 0.1 else f"{p:.2f}"


def _nobody(measure: Measure) -> str:
    if measure is Measure.COMPLETION:
        return "Completion: nobody has tried it at two chairs yet, so nothing can be compared."
    return "Time: nobody has completed it at two chairs yet, so no times can be compared."


def _people(count: int) -> str:
    return "1 person" if count == 1 else f"{count} people"


def _listed(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
