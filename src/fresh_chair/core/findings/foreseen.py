"""Hunches held against the snags and attempts of the newcomers they spoke of."""

from collections.abc import Iterable, Sequence
from typing import Literal

from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.frozen import frozen

HunchOutcome = Literal["came true", "did not", "not tried"]


@frozen
class ForeseenHunch:
    """A hunch and its outcome.

    Attributes:
        outcome: Whether it came true; a hunch that nothing will happen (severity 0) comes true where nothing did.
        tripped: Counted newcomers who met a snag on that card at that chair, or did not complete it.
        tried: Counted newcomers who tried it there.
        found: The worst severity that was found of it; None where none was told.
    """

    hunch: Hunch
    outcome: HunchOutcome
    tripped: tuple[str, ...]
    tried: tuple[str, ...]
    found: int | None


def foreseen(
    hunches: Iterable[Hunch], facts: Sequence[AttemptFact], snags: Iterable[tuple[Observation, int | None]]
) -> list[ForeseenHunch]:
    """Each hunch with its outcome.

    Args:
        hunches: The hunches.
        facts: Attempts of counted newcomers.
        snags: All snags, each with the severity of the finding it is in; None where it has none.
    """
    tried: dict[tuple[str, str], set[str]] = {}
    tripped: dict[tuple[str, str], set[str]] = {}
    worst: dict[tuple[str, str], int] = {}
    for fact in facts:
        if fact.outcome.counts:
            tried.setdefault((fact.card, fact.chair), set()).add(fact.participant)
            if not fact.outcome.completed:
                tripped.setdefault((fact.card, fact.chair), set()).add(fact.participant)
    for snag, severity in snags:
        cell = snag.card, snag.chair
        if snag.participant not in tried.get(cell, ()):
            continue
        tripped.setdefault(cell, set()).add(snag.participant)
        told = [each for each in (severity, snag.severity) if each is not None]
        if told:
            worst[cell] = max(worst.get(cell, 0), told[0])
    return [_held_against(hunch, tried, tripped, worst) for hunch in hunches]


def _held_against(
    hunch: Hunch,
    tried: dict[tuple[str, str], set[str]],
    tripped: dict[tuple[str, str], set[str]],
    worst: dict[tuple[str, str], int],
) -> ForeseenHunch:
    cell = hunch.card, hunch.chair
    met = tripped.get(cell, set())
    outcome: HunchOutcome = "not tried"
    if tried.get(cell):
        outcome = "came true" if bool(met) == (hunch.severity > 0) else "did not"
    return ForeseenHunch(hunch, outcome, tuple(sorted(met)), tuple(sorted(tried.get(cell, ()))), worst.get(cell))
