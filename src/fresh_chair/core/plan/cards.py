"""Task cards: the text that is read aloud, and the criteria of success."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import field
from typing import Annotated, ClassVar

from fresh_chair.core.bounds import Ge, Le, MaxLen
from fresh_chair.core.checks.meaning import CheckLine
from fresh_chair.core.checks.parser import LONGEST_LINE, read_check
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Limit, Line, Seconds, Spoken, Words, repeated, require_name

MOST_CARDS = 400
AREAS = (
    "getting and installing",
    "first boot",
    "looks",
    "windows and launching",
    "notifications and session",
    "settings",
    "network and devices",
    "files and media",
    "software",
    "terminal and system",
    "play and performance",
    "recovery",
)


# What a card knows about one chair, by the chair's letter.
BY_CHAIR = ("benchmark_seconds", "routes", "notes")


@frozen(kw_only=True)
class TaskCard:
    """One task as it is read aloud, with its criteria of success.

    Attributes:
        success: What must be so for the task to be done in full.
        partly: What counts as partly done, from the least to the most.
        question: Asked at the end of a read-and-understood card; empty for all others.
        limit_seconds: Time after which the moderator may end the attempt.
        benchmark_seconds: The expert's time on each chair, by the chair's letter.
        routes: The steps expected on each chair, by the chair's letter.
        notes: What the moderator must know at one chair, by the chair's letter.
        needs: Cards that must have been tried before this one in the same sitting.
        once: Can be seen once per installation.
        uses_up: Once-only cards that this one makes impossible afterwards.
        priority: 1 stays in any case, 3 goes first where time is short.
        dropped: Stays on record and is given to nobody any more.
        checks: What the machine itself is asked before and after, to see whether it happened; a line each, in the
            language of `core.witness.checks`.
        overruled: Why a remark of the check does not hold, by the rule's name.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Annotated[str, MaxLen(40)]
    title: Line
    area: Line
    goal: Spoken
    start: Words = ""
    success: Words
    partly: tuple[Line, ...] = ()
    question: Words = ""
    limit_seconds: Limit
    benchmark_seconds: dict[str, Seconds] = field(default_factory=dict)
    routes: dict[str, tuple[Line, ...]] = field(default_factory=dict)
    notes: dict[str, Words] = field(default_factory=dict)
    fixtures: tuple[Line, ...] = ()
    needs: tuple[str, ...] = ()
    once: bool = False
    uses_up: tuple[str, ...] = ()
    put_back: tuple[Line, ...] = ()
    priority: Annotated[int, Ge(1), Le(3)] = 2
    dropped: bool = False
    checks: tuple[Annotated[str, MaxLen(LONGEST_LINE)], ...] = ()
    overruled: dict[str, Words] = field(default_factory=dict)

    def __post_init__(self) -> None:
        require_name("a card's id", self.id)
        problems = []
        for index, line in enumerate(self.checks, start=1):
            try:
                read_check(line)
            except ValueError as problem:
                problems.append(f"{problem} @ {self.id}.checks[{index}]")
        if problems:
            raise ValueError("\n".join(problems))

    @property
    def check_lines(self) -> tuple[CheckLine, ...]:
        """The checks, read."""
        return tuple(map(read_check, self.checks))


def card_problems(cards: Sequence[TaskCard]) -> list[str]:
    """Reasons why a list of cards is impossible, each as reason @ field."""
    if len(cards) > MOST_CARDS:
        return [f"{len(cards)} cards are more than a study holds; {MOST_CARDS} is the most @ cards"]
    problems = repeated("task card", [card.id for card in cards])
    known = {card.id for card in cards}
    for card in cards:
        for name, others in (("needs", card.needs), ("uses_up", card.uses_up)):
            problems += [f"there is no card {other!r} @ {card.id}.{name}" for other in others if other not in known]
            problems += [f"a card cannot name itself @ {card.id}.{name}" for other in others if other == card.id]
    circle = _circle({card.id: frozenset(card.needs) & known for card in cards})
    if circle and not problems:
        shown = circle if len(circle) <= 8 else [*circle[:6], "…", circle[-1]]
        problems.append(f"these cards wait for each other in a circle: {' > '.join(shown)} @ {circle[0]}.needs")
    return problems


def must_follow(cards: Iterable[TaskCard]) -> dict[str, frozenset[str]]:
    """For each card, the cards that come before it wherever both are in a sitting.

    A card comes after those it needs, and after the once-only ones that it uses up; where the two contradict each
    other, the prerequisite holds, and the check says so.
    """
    listed = list(cards)
    known = {card.id for card in listed}
    before = {card.id: set(card.needs) & known for card in listed}
    for card in listed:
        for spoiled in set(card.uses_up) & known - before[card.id]:
            if card.id not in all_before(spoiled, before):
                before[card.id].add(spoiled)
    return {name: frozenset(earlier) for name, earlier in before.items()}


def all_before(name: str, before: Mapping[str, Collection[str]]) -> set[str]:
    """Everything that comes before a card, the cards before those included."""
    seen: set[str] = set()
    waiting = [name]
    while waiting:
        for earlier in before.get(waiting.pop(), ()):
            if earlier not in seen:
                seen.add(earlier)
                waiting.append(earlier)
    return seen


def _circle(before: Mapping[str, frozenset[str]]) -> list[str]:
    """The cards of one circle, or nothing."""
    left = dict(before)
    while left:
        free = [name for name, earlier in left.items() if not earlier & left.keys()]
        if not free:
            path = [min(left)]
            while True:
                following = min(left[path[-1]] & left.keys())
                if following in path:
                    return [*path[path.index(following) :], following]
                path.append(following)
        for name in free:
            del left[name]
    return []
