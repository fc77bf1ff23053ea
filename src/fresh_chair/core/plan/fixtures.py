"""The bench: every fixture the cards ask for, and whether it is there."""

from collections.abc import Iterable, Sequence
from typing import ClassVar, Literal

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words
from fresh_chair.core.plan.study import Study

Presence = Literal["ready", "missing"]


@frozen(kw_only=True)
class FixtureCheck:
    """A look at the bench for one fixture. The last look holds; earlier ones stay."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    name: Line
    presence: Presence
    note: Words = ""
    wall_ns: int


@frozen
class Fixture:
    """One thing for the bench.

    Attributes:
        cards: Titles of the cards that ask for it.
        check: The last look; None where nobody has looked.
    """

    name: str
    cards: tuple[str, ...]
    check: FixtureCheck | None

    @property
    def ready(self) -> bool:
        """True where the last look found it there."""
        return self.check is not None and self.check.presence == "ready"


def bench_of(study: Study, checks: Iterable[FixtureCheck]) -> list[Fixture]:
    """Every fixture that a card asks for, in the order of the script; spellings that differ in case alone are one."""
    last = {check.name.casefold(): check for check in checks}
    names: dict[str, str] = {}
    cards: dict[str, list[str]] = {}
    for card in study.cards:
        if card.dropped:
            continue
        for name in card.fixtures:
            names.setdefault(name.casefold(), name)
            cards.setdefault(name.casefold(), []).append(card.title)
    return [Fixture(name, tuple(cards[key]), last.get(key)) for key, name in names.items()]


def lacking(fixtures: Sequence[Fixture]) -> list[Fixture]:
    """Fixtures that are missing, or were never looked for."""
    return [fixture for fixture in fixtures if not fixture.ready]
