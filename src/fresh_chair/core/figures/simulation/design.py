"""A truth to draw studies from: who sits where in which order, how long tasks take, who completes them."""

from collections.abc import Mapping, Sequence
from dataclasses import field, replace

from fresh_chair.core.frozen import frozen


@frozen
class DrawnTask:
    """A task: its typical hands time in seconds, and the limit after which it is ended."""

    card: str
    seconds: float
    limit_seconds: float


@frozen
class DrawnChair:
    """A chair, by its effect on everybody.

    Attributes:
        slower: Added to the logarithm of every hands time.
        completing: Chance that an attempt is not given up; it can still run out of time.
        easier: Added to the ease that people feel, in points of its scale.
        scatter: How many times as much hands times vary there.
    """

    letter: str
    slower: float = 0.0
    completing: float = 0.85
    easier: float = 0.0
    scatter: float = 1.0


@frozen
class DrawnDesign:
    """A study's plan with its truth.

    Attributes:
        orders: Each person's chairs, in the order they sit at them.
        residual: Standard deviation of the log hands time of one attempt.
        person: Standard deviation over people.
        person_chair: Standard deviation over people of how one chair suits them, beside all others.
        later: Added to log hands times from the second position on, a value a position.
        ease: Typical ease, 1 to 7.
        ease_spread: Standard deviation of one rating before it is rounded and cut to the scale.
        helped: Share of the completed attempts that took help.
        given: By chair the tasks that are given there, by their place among all; every task where a chair is not named.
        unreached: Share of the cards that nobody comes to.
        unlike_tasks: By chair what is added to the log hands time of each task there, beside the chair's own effect.
    """

    tasks: tuple[DrawnTask, ...]
    chairs: tuple[DrawnChair, ...]
    orders: tuple[tuple[str, ...], ...]
    residual: float = 0.4
    person: float = 0.3
    person_chair: float = 0.0
    later: tuple[float, ...] = ()
    ease: float = 5.0
    ease_spread: float = 1.0
    helped: float = 0.1
    given: tuple[tuple[str, tuple[int, ...]], ...] = ()
    unreached: float = 0.0
    unlike_tasks: Mapping[str, tuple[float, ...]] = field(default_factory=dict)

    @property
    def letters(self) -> tuple[str, ...]:
        """The chairs' letters."""
        return tuple(chair.letter for chair in self.chairs)

    def given_at(self, letter: str) -> tuple[int, ...]:
        """The tasks of a chair, by their place among all."""
        return dict(self.given).get(letter, tuple(range(len(self.tasks))))

    def truth_of_time(self, first: str, second: str) -> float:
        """The true difference of log hands times."""
        by_letter = {chair.letter: chair for chair in self.chairs}
        return by_letter[first].slower - by_letter[second].slower


def tasks_of_length(seconds: Sequence[float], *, limit_factor: float | None) -> tuple[DrawnTask, ...]:
    """Tasks of these lengths; their limits so many times as long, or out of reach."""
    factor = 1e6 if limit_factor is None else limit_factor
    return tuple(DrawnTask(f"t{at}", each, each * factor) for at, each in enumerate(seconds, start=1))


def orders_repeated(orders: Sequence[tuple[str, ...]], people: int) -> tuple[tuple[str, ...], ...]:
    """The orders one after the other, again and again, a person each."""
    return tuple(orders[at % len(orders)] for at in range(people))


def with_chairs(
    design: DrawnDesign,
    *,
    slower: Mapping[str, float] | None = None,
    completing: Mapping[str, float] | None = None,
    easier: Mapping[str, float] | None = None,
    scatter: Mapping[str, float] | None = None,
) -> DrawnDesign:
    """The same design with some values of some chairs changed, by their letters."""

    def changed(chair: DrawnChair) -> DrawnChair:
        return DrawnChair(
            chair.letter,
            (slower or {}).get(chair.letter, chair.slower),
            (completing or {}).get(chair.letter, chair.completing),
            (easier or {}).get(chair.letter, chair.easier),
            (scatter or {}).get(chair.letter, chair.scatter),
        )

    return replace(design, chairs=tuple(map(changed, design.chairs)))
