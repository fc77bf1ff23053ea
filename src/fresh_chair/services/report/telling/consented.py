"""A study as it may be told: the spoken words of people who did not agree to being quoted are left out."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import TypeVar

from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import has_spoken, without_spoken
from fresh_chair.services.report.telling.quotes import may_quote
from fresh_chair.services.study.computed import Computed
from fresh_chair.services.study.known_chairs import KnownChairs
from fresh_chair.services.study.snapshot import StudyReading

T = TypeVar("T")


def consented(opened: StudyReading) -> StudyReading:
    """The study itself, or the same without the words between quotation marks in remarks, which were spoken.

    Remarks of the kind *quote* are not told at all of somebody who refused; here are the snags, delights and notes
    in which words of theirs are written down.
    """
    refused = {
        number: sitting
        for number, sitting in opened.sittings.items()
        if any(has_spoken(remark.words) for remark in sitting.remarks.values())
        and not may_quote(opened, opened.study.seat(number).participant)
    }
    return ConsentedReading(opened, refused) if refused else opened


class _ComputedBeside(Computed):
    """Shares the values computed from a study, but for its marks, whose words are not the same here."""

    def __init__(self, shared: Computed) -> None:
        super().__init__()
        self._shared = shared

    def value(self, name: str, study: Study, journals: Mapping[int, Sequence[Entry]], compute: Callable[[], T]) -> T:
        if name == "marks":
            return super().value(name, study, journals, compute)
        return self._shared.value(name, study, journals, compute)


class ConsentedReading(StudyReading):
    """A study without the spoken words in some of its sittings.

    Args:
        of: The study.
        refused: The sittings whose spoken words are left out, by number.
    """

    def __init__(self, of: StudyReading, refused: Mapping[int, Sitting]) -> None:
        self._of = of
        self.study, self.clock, self.plans = of.study, of.clock, of.plans
        self.sorting, self.evidence = of.sorting, of.evidence
        self.hunches, self.fixture_checks = of.hunches, of.fixture_checks
        self.computed = _ComputedBeside(of.computed)
        self._sittings = {**of.sittings, **{number: _without(sitting) for number, sitting in refused.items()}}

    @property
    def entries(self) -> Mapping[int, Sequence[Entry]]:
        """Every sitting's entries, by its number."""
        return self._of.entries

    @property
    def sittings(self) -> Mapping[int, Sitting]:
        """The state of every sitting that has begun, by its number."""
        return self._sittings

    @property
    def known_chairs(self) -> KnownChairs:
        """The ledgers of the chairs."""
        return self._of.known_chairs


def _without(sitting: Sitting) -> Sitting:
    remarks = {entry: replace(remark, words=without_spoken(remark.words)) for entry, remark in sitting.remarks.items()}
    return replace(sitting, remarks=remarks)
