"""A study to be read: as it is open now, or as it stood at one moment for a thread that reads beside the keys."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

from fresh_chair.core.clock import Clock
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.study.computed import Computed
from fresh_chair.services.study.replayed import ReplayedLedger

if TYPE_CHECKING:
    from fresh_chair.core.evidence.ledger import EvidenceEntry, EvidenceState
    from fresh_chair.core.figures.facts import AttemptFact
    from fresh_chair.core.findings.ledger import SortEntry
    from fresh_chair.core.findings.state.finding import Findings
    from fresh_chair.core.plan.chair_states import ChairState
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.core.sitting.state.sitting import Sitting
    from fresh_chair.services.study.known_chairs import KnownChairs
    from fresh_chair.store.ports import PlanStore


class StudyReading:
    """The questions that an open study and a snapshot of it answer.

    Attributes:
        computed: What was computed from it, shared by all who hold the same study.
    """

    study: Study
    clock: Clock
    plans: PlanStore
    sorting: ReplayedLedger[SortEntry, Findings]
    evidence: ReplayedLedger[EvidenceEntry, EvidenceState]
    computed: Computed
    hunches: Sequence[Hunch]
    fixture_checks: Sequence[FixtureCheck]
    # False where a login sees the codes of people, and nothing else of them.
    sees_people: bool = True

    @property
    def entries(self) -> Mapping[int, Sequence[Entry]]:
        """Every sitting's entries, by its number."""
        raise NotImplementedError

    @property
    def sittings(self) -> Mapping[int, Sitting]:
        """The state of every sitting that has begun, by its number."""
        raise NotImplementedError

    @property
    def known_chairs(self) -> KnownChairs:
        """The ledgers of the chairs."""
        raise NotImplementedError

    @property
    def findings(self) -> Findings:
        """The findings, as sorted so far."""
        return self.sorting.state

    def phase(self, number: int) -> Phase:
        """The phase of a planned sitting."""
        sitting = self.sittings.get(number)
        return Phase.EMPTY if sitting is None else sitting.phase

    def recorded(self, number: int) -> bool:
        """Whether a sitting is logged from a recording."""
        sitting = self.sittings.get(number)
        return sitting is not None and sitting.recording is not None

    def cut_short(self) -> list[Seat]:
        """Sittings that have begun and have no end, but for those that are logged from a recording: that one waits."""
        return [seat for seat in self.study.seats if self.phase(seat.number).open and not self.recorded(seat.number)]

    def last_in_hand(self, numbers: Sequence[int]) -> int:
        """Which of some sittings was in hand last: a walk with a step in hand, else the one written last."""

        def latest(number: int) -> tuple[bool, int]:
            walk = self.sittings[number].walk
            return walk is not None and bool(walk.hand), self.entries[number][-1].moment.wall_ns

        return max(numbers, key=latest)

    def to_run(self) -> list[Seat]:
        """Planned sittings that have not begun."""
        return [seat for seat in self.study.seats if self.phase(seat.number) is Phase.EMPTY]

    @property
    def begun(self) -> set[int]:
        """Numbers of the sittings that have begun."""
        return {number for number, entries in self.entries.items() if entries}

    def facts(self) -> list[AttemptFact]:
        """Every attempt that was judged."""
        from fresh_chair.core.figures.facts import facts_of

        return self.computed.value("facts", self.study, self.entries, lambda: facts_of(self.study, self.sittings))

    def chair_states(self) -> dict[int, ChairState]:
        """The state its chair was in for every sitting that has begun, by the sitting's number."""
        from fresh_chair.core.plan.chair_states import states_of_sittings

        return states_of_sittings(self.study, self.plans.chair_states(), self.plans.states_of_sittings())

    @property
    def machines_sat_at(self) -> set[str]:
        """Ids of machines that a sitting stood on, even where its chair is on another one by now."""
        return {state.machine.id for state in self.chair_states().values()}


@dataclass(frozen=True)
class StudySnapshot(StudyReading):
    """A study as it stood at one moment. Nothing of it changes, so that any thread may read it.

    Attributes:
        settled: States of sittings that nothing changes any more; those of the others are replayed when asked for.
    """

    study: Study
    clock: Clock
    plans: PlanStore
    sorting: ReplayedLedger[SortEntry, Findings]
    evidence: ReplayedLedger[EvidenceEntry, EvidenceState]
    computed: Computed
    hunches: tuple[Hunch, ...]
    fixture_checks: tuple[FixtureCheck, ...]
    journals: Mapping[int, tuple[Entry, ...]]
    settled: Mapping[int, Sitting]
    chairs: KnownChairs
    sees_people: bool = True

    @property
    def entries(self) -> Mapping[int, tuple[Entry, ...]]:
        """Every sitting's entries, by its number."""
        return self.journals

    @property
    def known_chairs(self) -> KnownChairs:
        """The ledgers of the chairs; their states are replaced, never changed."""
        return self.chairs

    @cached_property
    def sittings(self) -> Mapping[int, Sitting]:
        """The state of every sitting that has begun, by its number."""
        from fresh_chair.core.sitting.replay import replay

        return {
            number: self.settled.get(number) or replay(number, self.study.seat(number).cards, entries, lenient=True)
            for number, entries in self.journals.items()
        }
