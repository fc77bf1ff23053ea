"""Corrections, live or days after: struck, moved, added late, judged otherwise, split, joined, taken back."""

import re
from collections.abc import Mapping
from dataclasses import fields, replace
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Gt, Le, MaxLen
from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import EntryStruck, LedgerEntry, Typed
from fresh_chair.core.plan.sheet import MOST_POINTS
from fresh_chair.core.sitting.entries.base import (
    BEGUN,
    NO_SUCH_ATTEMPT,
    WORDABLE,
    WORDED_MARKS,
    Happening,
    Ordinal,
    Seconds,
    Severity,
    Told,
    Why,
    judged,
)
from fresh_chair.core.sitting.entries.syntax import Reader, about, kept, words_meant
from fresh_chair.core.sitting.state import reshaping
from fresh_chair.core.sitting.state.attempt import Tick
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import QuestionAnswer, Remark, Sitting
from fresh_chair.core.text import clipped

LateMark = Literal[
    "snag", "delight", "note", "quote", "warning", "question", "line", "helped", "wrong_place", "said_done",
    "hesitates", "tries again", "no reaction", "misled", "restart", "new login",
]  # fmt: skip
# Marks of the attempt that can be moved besides remarks: their ticks carry these kinds.
_MOVABLE_TICKS = (*WORDED_MARKS, *WORDABLE)
_NO_ANSWER = "There is no such answer to correct, or it is no number of that scale."


class Correction(Happening):
    """A correction of earlier entries; it comes at any time once the sitting has begun."""

    __slots__ = ()
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True


@frozen
class Struck(Correction, EntryStruck):
    """A correction: an earlier entry does not hold, with why. The earlier entry stays where it is."""

    observable: ClassVar[bool] = True

    def sentence(self, told: Told) -> None:
        """Shown on the struck entry."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"strike #{numbers[self.entry]} {kept(self.reason)}"


@frozen
class MarkMoved(Correction):
    """A correction: an earlier mark belongs some seconds earlier, or later where that is negative.

    Where it was stays in the journal.
    """

    entry: str
    seconds_earlier: Annotated[int, Ge(-3600), Le(3600)]
    reason: Typed = ""
    kind: Literal["mark_moved"] = "mark_moved"
    observable: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        known = self.entry in sitting.remarks or any(
            tick.entry == self.entry and tick.kind in _MOVABLE_TICKS
            for attempt in sitting.attempts
            for tick in attempt.ticks
        )
        return "" if known else "Only a mark can be moved, and no clock that was started or stopped."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        earlier = self.seconds_earlier * SECOND
        remark = sitting.remarks.get(self.entry)
        if remark is not None:
            remark.at_ns = max(remark.at_ns - earlier, 0)
            step = sitting.walk.step_at(remark.at_ns) if sitting.walk is not None else None
            remark.step = remark.step if step is None else step.number
        for attempt in sitting.attempts:
            attempt.moves += any(tick.entry == self.entry for tick in attempt.ticks)
            # A mark stays within the attempt that it was made in.
            attempt.ticks = [
                replace(tick, at_ns=max(tick.at_ns - earlier, attempt.started_ns)) if tick.entry == self.entry else tick
                for tick in attempt.ticks
            ]

    def sentence(self, told: Told) -> None:
        """Shown on the mark."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"move #{numbers[self.entry]} {-self.seconds_earlier:+d} {kept(self.reason)}".rstrip(" ")


@frozen
class AddedLate(Correction):
    """A mark put in afterwards, with the reason it was missed; its kind stays plain to see.

    Args:
        at_seconds: Since the sitting began.
        severity: Of a snag, how bad it was as far as could be said at once.
    """

    mark: LateMark
    at_seconds: Seconds
    words: Typed
    reason: Typed
    severity: Severity | None = None
    kind: Literal["added_late"] = "added_late"

    def objection(self, sitting: Sitting) -> str:
        if not self.reason.strip():
            return "What is added late needs a reason."
        if self._is_ahead(sitting):
            waits = sitting.still_comes and self.mark in WORDABLE
            return "" if waits else "The sitting had not come that far."
        if self.mark == "line" and sitting.walk is None:
            return "A line whose kind is told later is a walk's."
        if self.mark not in WORDABLE and sitting.attempt_at(round(self.at_seconds * SECOND)) is None:
            return "No clock ran at that moment."
        return ""

    def _is_ahead(self, sitting: Sitting) -> bool:
        reached_ns = sitting.at_ns if sitting.over_ns is None else sitting.over_ns
        return self.at_seconds * SECOND > reached_ns

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        """Add the mark to the attempt that ran at its moment; it waits where that is still to come."""
        if self._is_ahead(sitting):
            sitting.ahead.append((round(self.at_seconds * SECOND), entry))
        else:
            self.put(sitting, entry)

    def put(self, sitting: Sitting, entry: LedgerEntry) -> None:
        """Add the mark to the attempt, or the step, that was in hand at its moment."""
        late_ns = round(self.at_seconds * SECOND)
        attempt = sitting.attempt_at(late_ns)
        if self.mark in WORDABLE:
            number = attempt.number if attempt else None
            severity = self.severity if self.mark == "snag" else None
            sitting.keep(Remark(entry.id, self.mark, late_ns, number, self.words, entry.author, severity))
        if attempt is None:
            return
        plain = self.mark in (*WORDABLE, "helped", "wrong_place", "said_done")
        attempt.ticks.append(Tick(self.mark if plain else "marked", late_ns, entry.id, "" if plain else self.mark))
        if self.mark == "helped":
            attempt.helps[entry.id] = ""
        elif not plain:
            attempt.marks[self.mark] = attempt.marks.get(self.mark, 0) + 1
        attempt.wrong_places += self.mark == "wrong_place"
        attempt.said_done |= self.mark == "said_done"
        attempt.snags += self.mark == "snag"

    def sentence(self, told: Told) -> str:
        named = self.mark.replace("_", " ")
        # Other words may have come since.
        words = told.sitting.words_of(told.entry.id) or self.words
        waits = any(entry.id == told.entry.id for _, entry in told.sitting.ahead)
        at = clock_text(round((self.at_seconds + told.sitting.offset_seconds) * SECOND))
        how = f"waits for {at} of the recording, {self.reason}" if waits else f"added late: {self.reason}"
        return f"{named}{': ' if words else ''}{words} ({how})"


@frozen
class OutcomeCorrected(Correction):
    """A correction: an attempt is judged otherwise, with why. The first judgement stays in the journal."""

    attempt: Ordinal
    outcome: Outcome
    reason: Typed
    kind: Literal["outcome_corrected"] = "outcome_corrected"

    def objection(self, sitting: Sitting) -> str:
        if judged(sitting, self.attempt) is None:
            return NO_SUCH_ATTEMPT
        return "" if self.reason.strip() else "Judging otherwise needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = sitting.attempts[self.attempt - 1]
        attempt.outcome, attempt.reason = self.outcome, self.reason
        if not self.outcome.counts:
            attempt.ease_asked = True
            attempt.closed_ns = at_ns if attempt.closed_ns is None else attempt.closed_ns

    def sentence(self, told: Told) -> str:
        return f"attempt {self.attempt} judged otherwise: {self.outcome.words}: {self.reason}"


@frozen
class AttemptSplit(Correction):
    """A correction: one attempt was two.

    Args:
        attempt: Its number; the first part keeps it.
        at_seconds: Where the first part ended, since the sitting began.
        outcome: How the first part ended; the second part keeps how the whole was judged.
        card: What the second part was a go at.
    """

    attempt: Ordinal
    at_seconds: Seconds
    outcome: Outcome
    card: str
    reason: Why
    kind: Literal["attempt_split"] = "attempt_split"

    def objection(self, sitting: Sitting) -> str:
        attempt = judged(sitting, self.attempt)
        if attempt is None:
            return NO_SUCH_ATTEMPT
        if not attempt.started_ns < round(self.at_seconds * SECOND) < (attempt.stopped_ns or 0):
            return "The attempt did not run at that moment."
        if self.card not in sitting.cards:
            return "That card is not in this sitting."
        return "" if self.reason.strip() else "Splitting an attempt needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        parted_ns = round(self.at_seconds * SECOND)
        reshaping.split(sitting, self.attempt, parted_ns, outcome=self.outcome, card=self.card, reason=self.reason)

    def sentence(self, told: Told) -> str:
        parted = clock_text(round(self.at_seconds * SECOND))
        then = told.title(self.card)
        return f"attempt {self.attempt} was two, parted at {parted}: {self.outcome.words}, then {then}: {self.reason}"


@frozen
class AttemptsJoined(Correction):
    """A correction: two attempts were one, which ended as the later one did; the time between them is aside."""

    attempt: Ordinal
    later: Ordinal
    reason: Why
    kind: Literal["attempts_joined"] = "attempts_joined"

    def objection(self, sitting: Sitting) -> str:
        first, later = judged(sitting, self.attempt), judged(sitting, self.later)
        if first is None or later is None:
            return NO_SUCH_ATTEMPT
        if first is later or (first.stopped_ns or 0) > later.started_ns:
            return "Only an attempt that began after the other had ended can be joined to it."
        return "" if self.reason.strip() else "Joining attempts needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        reshaping.join(sitting, self.attempt, self.later)

    def sentence(self, told: Told) -> str:
        return f"attempts {self.attempt} and {self.later} were one: {self.reason}"


@frozen
class BenchmarkRefused(Correction):
    """An expert's attempt is not to count for the benchmark, with why."""

    attempt: Ordinal
    reason: Why
    kind: Literal["benchmark_refused"] = "benchmark_refused"

    def objection(self, sitting: Sitting) -> str:
        return NO_SUCH_ATTEMPT if judged(sitting, self.attempt) is None else ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.attempts[self.attempt - 1].benchmark_refused = self.reason

    def sentence(self, told: Told) -> str:
        return f"attempt {self.attempt} does not count for the benchmark: {self.reason}"


@frozen
class SittingUnbegun(Happening):
    """A correction: the sitting began by mistake, and nothing was started; it is to come again."""

    reason: Why
    kind: Literal["sitting_unbegun"] = "sitting_unbegun"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.READING, Phase.USABILITY})
    undoable: ClassVar[bool] = False

    def objection(self, sitting: Sitting) -> str:
        if sitting.attempts or sitting.passed or sitting.usability:
            return "Something was started in it already; it can be broken off."
        return "" if self.reason.strip() else "Taking a beginning back needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        """Reset the sitting as before its beginning; entries that were left out stay left out."""
        fresh = Sitting(sitting.number, sitting.cards, left_out=sitting.left_out)
        for part in fields(Sitting):
            setattr(sitting, part.name, getattr(fresh, part.name))

    def sentence(self, told: Told) -> str:
        return f"taken back, nobody sat down: {self.reason}"


@frozen
class RatingCorrected(Correction):
    """A correction: an answer was given otherwise than it was put down, with why.

    Args:
        attempt: Which attempt it is of; 0 where it is of the whole sitting.
        item: Which statement of the usability scale.
        question: Which of the study's own questions.
        score: What it is now; None where it was left out, or is in words.
    """

    what: Literal["ease", "expectation", "usability", "question"]
    reason: Why
    attempt: Annotated[int, Ge(0), Le(99)] = 0
    item: Annotated[int, Ge(0), Le(10)] = 0
    question: Annotated[str, MaxLen(40)] = ""
    score: Annotated[int, Ge(0), Le(MOST_POINTS)] | None = None
    words: Typed = ""
    kind: Literal["rating_corrected"] = "rating_corrected"

    def objection(self, sitting: Sitting) -> str:
        if not self.reason.strip():
            return "Correcting an answer needs a reason."
        if self.what == "usability":
            known = self.item in sitting.usability
            return "" if known and (self.score is None or 1 <= self.score <= 5) else _NO_ANSWER
        if self.what == "question":
            return "" if (self.question, self.attempt) in sitting.asked else _NO_ANSWER
        attempt = judged(sitting, self.attempt) if self.attempt else None
        given = attempt is not None and (self.what == "expectation" or attempt.ease_asked)
        return "" if given and (self.score is None or 1 <= self.score <= 7) else _NO_ANSWER

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        match self.what:
            case "usability":
                sitting.usability[self.item] = self.score
            case "question":
                sitting.asked[self.question, self.attempt] = QuestionAnswer(self.score, self.words)
            case "ease":
                sitting.attempts[self.attempt - 1].ease = self.score
            case "expectation":
                sitting.attempts[self.attempt - 1].expectation = self.score

    def sentence(self, told: Told) -> str:
        answer = self.words or ("no answer" if self.score is None else str(self.score))
        if self.what == "usability":
            return f"usability {self.item} was {answer}: {self.reason}"
        if self.what == "question":
            asked = next((q.ask for q in told.study.sheet.questions if q.id == self.question), self.question)
            return f"{clipped(asked, 60)} was {answer}: {self.reason}"
        return f"{self.what} of attempt {self.attempt} was {answer}: {self.reason}"


@frozen
class StopMoved(Correction):
    """A correction: an attempt's clock was stopped too late; the time since counts in no lane.

    Args:
        seconds_earlier: By how much.
    """

    attempt: Ordinal
    seconds_earlier: Annotated[float, Gt(0), Le(3600)]
    reason: Why
    kind: Literal["stop_moved"] = "stop_moved"

    def objection(self, sitting: Sitting) -> str:
        attempt = judged(sitting, self.attempt)
        if attempt is None or attempt.stopped_ns is None:
            return NO_SUCH_ATTEMPT
        if attempt.stopped_ns - round(self.seconds_earlier * SECOND) <= attempt.started_ns:
            return "The clock had not started by then."
        return "" if self.reason.strip() else "Moving a clock needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        reshaping.move_stop(sitting, self.attempt, round(self.seconds_earlier * SECOND))

    def sentence(self, told: Told) -> str:
        return f"attempt {self.attempt} was stopped {self.seconds_earlier:g} s too late: {self.reason}"


def _moved(rest: str) -> dict[str, object]:
    match = re.fullmatch(r"([+-]\d{1,4})(?:\s+(.*))?", rest)
    if match is None:
        raise ValueError("it does not say by how many seconds, such as -10")
    return {"seconds_earlier": -int(match.group(1)), "reason": words_meant(match.group(2) or "")}


VERBS: dict[str, Reader] = {
    "move": lambda at, rest: about(at, rest, MarkMoved, _moved),
    "strike": lambda at, rest: about(at, rest, Struck, lambda text: {"reason": words_meant(text)}),
}
