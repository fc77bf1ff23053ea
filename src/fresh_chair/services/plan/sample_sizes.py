"""How many people a study needs, and the power and limits of the planned number."""

from collections.abc import Callable

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.aims import AIMS, Aim
from fresh_chair.core.plan.orders import chairs_for
from fresh_chair.services.plan.schedule import ratio_spread_of
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class Numbers:
    """The power of a number of people.

    Attributes:
        planned: The fewest people who sit at any one chair.
        spread: How much the log ratio of two chairs' times varies over people.
        pairs: From how many pairs of times that is known; 0 where it is the usual value.
    """

    planned: int
    spread: float
    pairs: int
    aims: tuple[Aim, ...] = AIMS

    def needed(self, aim: Aim) -> int:
        """The fewest people at each chair that reach an aim."""
        from fresh_chair.core.figures.sample_size import people_for

        return people_for(aim, self.spread)

    def points(self, aim: Aim, most: int) -> list[tuple[int, float]]:
        """The power of each number from 2 on."""
        from fresh_chair.core.figures.sample_size import reached

        return [(people, reached(aim, people, self.spread)) for people in range(2, most + 1)]

    def said(self, people: int) -> tuple[str, ...]:
        """The power and limits of this many people, in sentences."""
        from fresh_chair.core.words.sample_sizes import aim_sentence, power_sentences

        see, ratio, _ = self.aims
        verdicts = (aim_sentence(aim, people, self.needed(aim)) for aim in self.aims)
        return (*power_sentences(people, see, ratio, self.spread), *verdicts)

    @property
    def basis(self) -> str:
        """Where the spread of times comes from."""
        from fresh_chair.core.words.sample_sizes import basis_sentence

        return basis_sentence(self.pairs)


@frozen
class WorkedOut:
    """The curve of every aim, and the fewest people that reach it."""

    curves: tuple[list[tuple[int, float]], ...]
    needed: tuple[int, ...]


def worked_out(
    found: Numbers, most: int, *, apart: bool = False, stopped: Callable[[], bool] = lambda: False
) -> WorkedOut:
    """The slow part of numbers: the power of each number of people for each aim.

    Args:
        found: The numbers.
        most: Up to how many people.
        apart: Work it out in a process of its own, so that nobody's keys wait.
        stopped: Is asked meanwhile whether to give up.

    Raises:
        Stopped: Where it was given up.
    """
    from fresh_chair.services.system.child import Stopped, in_child

    if apart:
        made: WorkedOut = next(in_child(f"{__name__}:worked_out", found, most, stopped=stopped))
        return made
    curves, needed = [], []
    for aim in found.aims:
        if stopped():
            raise Stopped
        curves.append(found.points(aim, most))
        needed.append(found.needed(aim))
    return WorkedOut(tuple(curves), tuple(needed))


def numbers(opened: StudyReading) -> Numbers:
    """The study's planned number, and the assumptions behind it."""
    study = opened.study
    taking_part = [person for person in study.people if person.counts and not person.left]
    counts = [sum(chair in chairs_for(study, person) for person in taking_part) for chair in study.chairs] or [
        len(taking_part)
    ]
    spread, pairs = ratio_spread_of(opened)
    return Numbers(min(counts), spread, pairs)
