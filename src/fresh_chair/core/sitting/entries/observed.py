"""Two observers of one sitting: an outcome as an observer saw it, and marks that only one saw, taken or left."""

import re
from collections.abc import Mapping
from typing import ClassVar, Literal

from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.answers import ENDINGS
from fresh_chair.core.sitting.entries.base import BEGUN, Happening, Ordinal, Told, Why
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, about, kept, one, shown, words_meant
from fresh_chair.core.sitting.state.attempt import Attempt, SeenOutcome, Tick
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting


@frozen
class OutcomeSeen(Happening):
    """How an attempt ended, as a second observer judges it: held against the moderator's, and never counted."""

    attempt: Ordinal
    outcome: Outcome
    reason: Typed = ""
    kind: Literal["outcome_seen"] = "outcome_seen"
    phases: ClassVar = BEGUN
    afterwards: ClassVar[bool] = True
    observable: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        known = self.attempt <= len(sitting.attempts)
        if not known or sitting.attempts[self.attempt - 1].stopped_ns is None:
            return "There is no such attempt that has ended."
        missing = self.outcome.needs_reason and not self.reason.strip()
        return f"“{self.outcome.words}” needs a reason." if missing else ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.attempts[self.attempt - 1].seen_as[entry.author] = SeenOutcome(self.outcome, self.reason)

    def sentence(self, told: Told) -> str:
        reason = f": {self.reason}" if self.reason else ""
        return f"{told.entry.author} saw “{told.tried(self.attempt)}” end {self.outcome.words}{reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        reason = f": {kept(self.reason)}" if self.reason else ""
        return f"saw attempt {self.attempt} end {self.outcome.words}{reason}"


@frozen
class ObservedTaken(Happening):
    """A mark that an observer alone made counts like the moderator's from here on, or is left out, with why."""

    entry: str
    taken: bool
    reason: Why
    kind: Literal["observed_taken"] = "observed_taken"
    phases: ClassVar = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        remark = sitting.remarks.get(self.entry)
        observed = remark is not None and remark.author in sitting.observers
        if self.entry in sitting.observed_taken:
            return "This mark was taken or left already; strike that first."
        return "" if observed or _tick(sitting, self.entry) else "There is no observer's mark that this speaks of."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        found, remark = _tick(sitting, self.entry), sitting.remarks.get(self.entry)
        observer = found[1].observer if found is not None else remark.author if remark is not None else ""
        sitting.observed_taken[self.entry] = self.taken, observer
        if found is None or not self.taken:
            return
        attempt, tick = found
        attempt.ticks[attempt.ticks.index(tick)] = Tick(tick.kind, tick.at_ns, tick.entry, tick.what)
        _count(attempt, tick)

    def sentence(self, told: Told) -> str:
        return f"an observer's mark is {'taken' if self.taken else 'left'}: {self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"observed #{numbers[self.entry]} {'taken' if self.taken else 'left'}: {kept(self.reason)}"


def _tick(sitting: Sitting, entry: str) -> tuple[Attempt, Tick] | None:
    """An observer's mark on the line of an attempt, that was neither taken nor left yet."""
    if entry in sitting.observed_taken:
        return None
    for attempt in sitting.attempts:
        for tick in attempt.ticks:
            if tick.entry == entry and tick.observer:
                return attempt, tick
    return None


def _count(attempt: Attempt, tick: Tick) -> None:
    """Let a mark count as it would have, had the moderator made it."""
    match tick.kind:
        case "helped":
            attempt.helps[tick.entry] = ""
        case "wrong_place":
            attempt.wrong_places += 1
        case "said_done":
            attempt.said_done = True
        case "snag":
            attempt.snags += 1
        case "step_reached" if isinstance(tick.what, int):
            attempt.steps.add(tick.what)
        case "place_visited":
            attempt.spots.append(str(tick.what))
        case "marked":
            attempt.marks[str(tick.what)] = attempt.marks.get(str(tick.what), 0) + 1


def _saw(at_ns: int, rest: str) -> list[TimedContent]:
    """An observer's outcome: `attempt 2 end completed with help: the reason`."""
    match = re.fullmatch(r"attempt (\d{1,2}) end ([^:]+)(?:: (.*))?", rest)
    if match is None or match[2].strip() not in ENDINGS:
        raise ValueError(f"{shown(rest)} does not say which attempt ended how, such as: attempt 2 end gave up")
    outcome, reason = ENDINGS[match[2].strip()], words_meant(match[3] or "")
    return one(at_ns, OutcomeSeen, attempt=int(match[1]), outcome=outcome.value, reason=reason)


def _decided(rest: str) -> dict[str, object]:
    """An observer's mark taken or left: `taken: the reason`."""
    word, _, reason = rest.partition(": ")
    if word not in ("taken", "left"):
        raise ValueError(f"{shown(word)} is neither taken nor left")
    return {"taken": word == "taken", "reason": words_meant(reason)}


VERBS: dict[str, Reader] = {
    "saw": _saw,
    "observed": lambda at, rest: about(at, rest, ObservedTaken, _decided),
}
