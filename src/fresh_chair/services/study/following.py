"""Other programs' changes of an open study, read beside the keys and taken in between two of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any

from fresh_chair.core.frozen import frozen

if TYPE_CHECKING:
    from fresh_chair.core.evidence.hunches import Hunch
    from fresh_chair.core.plan.fixtures import FixtureCheck
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.services.study.others_entries import OthersEntries
    from fresh_chair.services.study.replayed import ReplayedLedger
    from fresh_chair.store.ports import PlanStore, PreparationStore


@frozen
class UnreadChanges:
    """Other programs' changes of a study, as they were read.

    Attributes:
        plan: Whether the plan was changed, which is then to be read.
        hunches, fixture_checks: As they are now.
        journals: Sittings that have gone on: how many of their entries were known, and what follows.
        ledgers: Whether findings, records or chairs have gone on; they count already.
    """

    plan: bool
    hunches: tuple[Hunch, ...]
    fixture_checks: tuple[FixtureCheck, ...]
    journals: Mapping[int, tuple[int, Sequence[Entry]]]
    ledgers: bool


def unread_changes(
    plans: PlanStore,
    preparations: PreparationStore,
    others: OthersEntries,
    ledgers: Sequence[ReplayedLedger[Any, Any]],
) -> UnreadChanges:
    """Read the changes of other programs; it costs as much as is new.

    Args:
        plans, preparations: Where the plan and the preparations are kept.
        others: The journals as far as they are known.
        ledgers: Findings, records, chairs: they are never changed in place, and so count at once.

    Raises:
        FileProblem: Where it cannot be read.
    """
    before = [len(ledger.entries) for ledger in ledgers]
    for ledger in ledgers:
        ledger.read_on()
    return UnreadChanges(
        plan=plans.overtaken(),
        hunches=tuple(preparations.hunches()),
        fixture_checks=tuple(preparations.fixture_checks()),
        journals=others.unread(),
        ledgers=before != [len(ledger.entries) for ledger in ledgers],
    )
