"""The counts of sittings that the spine and the board show, made once for each state of a sitting."""

from __future__ import annotations

from typing import TYPE_CHECKING

from fresh_chair.core.frozen import frozen

if TYPE_CHECKING:
    from fresh_chair.core.sitting.state.sitting import Sitting


@frozen
class Tally:
    """The counts of one sitting, as far as it had come then.

    Attributes:
        snags: Ids of its snags.
        tried: Cards with an attempt that counts.
    """

    sitting: Sitting
    entries: int
    snags: frozenset[str]
    tried: frozenset[str]


class Tallies:
    """Keeps the newest tally of each sitting."""

    def __init__(self) -> None:
        self._kept: dict[int, Tally] = {}

    def of(self, sitting: Sitting) -> Tally:
        """The tally of a sitting, as it is now."""
        kept = self._kept.get(sitting.number)
        if kept is None or kept.sitting is not sitting or kept.entries != sitting.entries:
            kept = self._kept[sitting.number] = _tally(sitting)
        return kept


def _tally(sitting: Sitting) -> Tally:
    snags = frozenset(remark.entry for remark in sitting.remarks.values() if remark.kind == "snag")
    tried = frozenset(
        attempt.card
        for attempt in sitting.attempts
        if sitting.walk is None and attempt.judged and attempt.outcome is not None and attempt.outcome.counts
    )
    return Tally(sitting, sitting.entries, snags, tried)
