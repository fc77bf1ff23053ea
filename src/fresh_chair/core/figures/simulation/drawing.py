"""Studies drawn from a design, and the verdicts of the program's own rule on each."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from math import exp, sqrt

import numpy as np

from fresh_chair.core.figures.overall.estimates import MARGINS, MEASURES, OverallMeasure, OverallVerdict, VerdictKind
from fresh_chair.core.figures.overall.measures import overall
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, Seated
from fresh_chair.core.figures.simulation.design import DrawnChair, DrawnDesign
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.outcome import Outcome

# How an attempt that is not completed ends, how often of ten, and how much of its time it has taken by then.
_PARTLY, _BLOCKED = 0.2, 0.1
_LEAST_TRIED = 0.4


@frozen
class DrawnStudy:
    """One drawn study: its rows, and the System Usability Scale's score of each sitting."""

    compared: Compared
    scores: dict[Seated, float]


def drawn_study(design: DrawnDesign, generator: np.random.Generator) -> DrawnStudy:
    """One study as it might come out.

    Log hands time = task + person + chair + how the chair suits the person + position + scatter; an attempt is given
    up (partly, blocked) with the chair's chance, out of time where it outlasts its limit, otherwise completed.

    Args:
        design: The truth.
        generator: Where chance comes from; the same one in the same state draws the same study.
    """
    by_letter = {chair.letter: chair for chair in design.chairs}
    rows: list[ComparedRow] = []
    positions: dict[Seated, int] = {}
    scores: dict[Seated, float] = {}
    for number, order in enumerate(design.orders, start=1):
        person = f"P{number:02}"
        own_pace = generator.normal() * design.person
        own_ease = generator.normal() * 0.5
        for at, letter in enumerate(order):
            chair = by_letter[letter]
            seated = person, letter
            positions[seated] = at + 1
            suits = generator.normal() * design.person_chair
            shift = own_pace + chair.slower + suits + (design.later[at - 1] if 0 < at <= len(design.later) else 0.0)
            rows += _attempts(design, chair, person, shift, own_ease - suits, generator)
            # Ten points of the scale for a point of ease, 50 at its middle.
            score = 50 + 10 * (design.ease - 4 + chair.easier + own_ease - suits + generator.normal() * chair.scatter)
            scores[seated] = min(max(round(score / 2.5) * 2.5, 0.0), 100.0)
            if not rows or rows[-1].seated != seated:
                # A sitting in which no card was reached takes no position.
                positions.pop(seated)
    return DrawnStudy(Compared(tuple(rows), positions, design.letters), scores)


def _attempts(
    design: DrawnDesign,
    chair: DrawnChair,
    person: str,
    shift: float,
    easier: float,
    generator: np.random.Generator,
) -> Iterator[ComparedRow]:
    """The attempts of one sitting, at the tasks that are given there and reached.

    Args:
        design: The truth.
        chair: Where the person sits.
        person: The code.
        shift: Added to every log hands time of the sitting.
        easier: Added to the ease that is felt, beside the chair's own.
        generator: Where chance comes from.
    """
    count = len(design.tasks)
    noise = generator.normal(size=count) * design.residual * chair.scatter
    chances = generator.random((count, 3))
    felt = design.ease + chair.easier + easier + generator.normal(size=count) * design.ease_spread * chair.scatter
    # Drawn only where it is asked for, so that other designs draw the same studies as ever.
    missed = generator.random(count) < design.unreached if design.unreached else np.zeros(count, dtype=bool)
    unlike = design.unlike_tasks.get(chair.letter, (0.0,) * count)
    for index in design.given_at(chair.letter):
        if missed[index]:
            continue
        task = design.tasks[index]
        seconds = task.seconds * exp(shift + noise[index] + unlike[index])
        outcome, spent = _ended(seconds, task.limit_seconds, chair.completing, design.helped, chances[index])
        ease = min(max(round(float(felt[index])), 1), 7)
        yield ComparedRow(person, chair.letter, task.card, outcome, spent, task.limit_seconds, ease)


def _ended(
    seconds: float, limit: float, completing: float, helped: float, chances: np.ndarray
) -> tuple[Outcome, float]:
    """How an attempt ends, and its hands time then."""
    if chances[0] >= completing:
        spent = min(seconds * (_LEAST_TRIED + (1 - _LEAST_TRIED) * chances[2]), limit)
        if chances[1] < _PARTLY:
            return Outcome.PARTLY, spent
        return (Outcome.BLOCKED if chances[1] < _PARTLY + _BLOCKED else Outcome.GAVE_UP), spent
    if seconds > limit:
        return Outcome.OUT_OF_TIME, limit
    return (Outcome.HELPED if chances[1] < helped else Outcome.UNAIDED), seconds


def drawn_verdicts(
    design: DrawnDesign,
    *,
    studies: int,
    seed: int,
    pairs: Sequence[tuple[str, str]] = (),
    margins: Mapping[OverallMeasure, float] = MARGINS,
    measures: Sequence[OverallMeasure] = MEASURES,
) -> Iterator[dict[OverallMeasure, tuple[OverallVerdict, ...]]]:
    """The verdicts of the program's own rule on each of so many drawn studies."""
    generator = np.random.default_rng(seed)
    for _ in range(studies):
        study = drawn_study(design, generator)
        found = overall(study.compared, study.scores, pairs=pairs, margins=margins, measures=measures, people=False)
        yield {measure: each.verdicts for measure, each in found.items()}


@frozen
class Chances:
    """How often a comparison came out which way, as counts of studies.

    A study is right where a pair's true winner was named and no wrong one; wrong where any pair's was; alike where
    nothing else was said but that.
    """

    studies: int
    right: int
    wrong: int
    alike: int
    open: int

    def __add__(self, other: "Chances") -> "Chances":
        ends = (self.right + other.right, self.wrong + other.wrong, self.alike + other.alike, self.open + other.open)
        return Chances(self.studies + other.studies, *ends)

    def share(self, count: int) -> tuple[float, float]:
        """A count as a share, and its standard error."""
        share = count / self.studies if self.studies else 0.0
        return share, sqrt(share * (1 - share) / self.studies) if self.studies else 0.0


def counted_chances(verdicts: Sequence[Sequence[OverallVerdict]], winners: Mapping[tuple[str, str], str]) -> Chances:
    """How often the right chair was named.

    Args:
        verdicts: Those of each study, a pair at a time.
        winners: The truly better chair of each pair; empty, or no such pair, where both are equal.
    """
    ends: Counter[str] = Counter()
    for each in verdicts:
        named = [(v.winner, winners.get((v.estimate.first, v.estimate.second), "")) for v in each if v.winner]
        if any(winner != true for winner, true in named):
            ends["wrong"] += 1
        elif named:
            ends["right"] += 1
        elif any(v.said is VerdictKind.ALIKE for v in each):
            ends["alike"] += 1
        else:
            ends["open"] += 1
    return Chances(len(verdicts), ends["right"], ends["wrong"], ends["alike"], ends["open"])
