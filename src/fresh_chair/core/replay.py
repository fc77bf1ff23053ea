"""A sitting as its journal says: state is replay(entries), and nothing else: law 3."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from fresh_chair.core import journal as j
from fresh_chair.core.attempt import Attempt, Tick, Wait
from fresh_chair.core.clock import SECOND, Moment, elapsed_ns
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.journal import Entry
from fresh_chair.core.outcome import Outcome
from fresh_chair.core.rules import permit
from fresh_chair.core.sitting import Phase, Remark, Sitting


def advance(sitting: Sitting, entry: Entry) -> None:
    """Advance the state by one entry that is not a correction.

    Raises:
        Refused: Where the entry cannot follow here; the state is then as before.
    """
    content = entry.content
    permit(sitting, content)
    at_ns = 0 if sitting.last is None else sitting.at_ns + _since(sitting.last, entry)
    _APPLY[content.kind](sitting, entry, content, at_ns)
    if sitting.began is None:
        sitting.began = entry.moment
    sitting.last = entry.moment
    sitting.at_ns = at_ns
    sitting.entries += 1
    if isinstance(content, j.SittingResumed):
        sitting.undoable.clear()
    elif not isinstance(content, j.SittingBegan | j.ChairFound | j.ChairWitnessed):
        sitting.undoable.append(entry.id)


def replay(number: int, cards: tuple[str, ...], entries: Sequence[Entry]) -> Sitting:
    """The sitting that the entries tell of.

    Struck entries are left out, as though the key had not been pressed; the time goes on all the same.

    Raises:
        JournalError: Names the first entry that is out of order, strikes nothing, or cannot follow the ones before it.
    """
    struck = _struck(number, entries)
    sitting = Sitting(number, cards)
    for entry in entries:
        if not _holds(entry, struck):
            continue
        try:
            advance(sitting, entry)
        except Refused as problem:
            raise JournalError(f"Sitting {number}, entry {entry.number}: {problem.title}") from problem
    sitting.entries = len(entries)
    return sitting


def entry_times(entries: Sequence[Entry], first_ns: int = 0) -> list[int]:
    """Nanoseconds since the sitting began, for every entry, struck ones too; the first one gets `first_ns`."""
    times: list[int] = []
    for place, entry in enumerate(entries):
        times.append(times[-1] + _since(entries[place - 1].moment, entry) if place else first_ns)
    return times


def _since(last: Moment, entry: Entry) -> int:
    if isinstance(entry.content, j.SittingResumed):
        # Ticks as far as they reach, the wall clock only for the gap itself.
        alive = entry.content.alive
        return elapsed_ns(last, alive) + elapsed_ns(alive, entry.moment)
    return elapsed_ns(last, entry.moment)


def _holds(entry: Entry, struck: set[str]) -> bool:
    """Words fall with the snag they belong to, and so does whatever else tells more of an entry."""
    content = entry.content
    orphaned = isinstance(content, j.Worded | j.HelpTold | j.SnagRated | j.MarkMoved) and content.entry in struck
    return not (entry.id in struck or orphaned or isinstance(content, j.Struck))


def _struck(number: int, entries: Sequence[Entry]) -> set[str]:
    seen: set[str] = set()
    struck: set[str] = set()
    for place, entry in enumerate(entries, start=1):
        if entry.number != place:
            raise JournalError(f"Sitting {number}: entry {place} is missing; the journal goes on with {entry.number}.")
        if entry.id in seen:
            raise JournalError(f"Sitting {number}, entry {entry.number}: its id was used before.")
        seen.add(entry.id)
        if isinstance(entry.content, j.Struck):
            target = entry.content.entry
            if target not in seen or target == entry.id or target in struck:
                raise JournalError(f"Sitting {number}, entry {entry.number}: it strikes what is not there.")
            struck.add(target)
    return struck


def _begin(sitting: Sitting, entry: Entry, content: Any, at_ns: int) -> None:
    """Nothing but the moment, which `apply` keeps."""


def _find_chair(sitting: Sitting, entry: Entry, content: j.ChairFound, at_ns: int) -> None:
    sitting.chair_found = content.freshness


def _start(sitting: Sitting, entry: Entry, content: j.AttemptStarted, at_ns: int) -> None:
    sitting.attempts.append(Attempt(len(sitting.attempts) + 1, content.card, at_ns, lane_since_ns=at_ns))


def _pass(sitting: Sitting, entry: Entry, content: j.CardPassed, at_ns: int) -> None:
    sitting.passed[content.card] = content.reason


def _change_lane(sitting: Sitting, entry: Entry, content: j.Content, at_ns: int) -> None:
    attempt = sitting.attempts[-1]
    attempt.close_span(at_ns)
    if content.kind.startswith("wait"):
        attempt.waiting = content.kind == "wait_began"
        if attempt.waiting:
            attempt.waits.append(Wait(at_ns))
        else:
            attempt.waits[-1].end_ns = at_ns
    else:
        attempt.set_aside = content.kind == "aside_began"
    attempt.ticks.append(Tick(content.kind, at_ns))


def _count(sitting: Sitting, entry: Entry, content: j.Content, at_ns: int) -> None:
    attempt = sitting.attempts[-1]
    if content.kind == "helped":
        attempt.helps[entry.id] = ""
    attempt.wrong_places += content.kind == "wrong_place"
    attempt.said_done |= content.kind == "said_done"
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id))


def _tell_wait(sitting: Sitting, entry: Entry, content: j.WaitTold, at_ns: int) -> None:
    sitting.attempts[-1].waits[-1].how = content.how


def _tell_help(sitting: Sitting, entry: Entry, content: j.HelpTold, at_ns: int) -> None:
    for attempt in sitting.attempts:
        if content.entry in attempt.helps:
            attempt.helps[content.entry] = content.level


def _mark(sitting: Sitting, entry: Entry, content: j.Marked, at_ns: int) -> None:
    attempt = sitting.attempts[-1]
    attempt.marks[content.mark] = attempt.marks.get(content.mark, 0) + 1
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id))


def _reach(sitting: Sitting, entry: Entry, content: j.StepReached, at_ns: int) -> None:
    sitting.attempts[-1].steps.add(content.step)
    sitting.attempts[-1].ticks.append(Tick(content.kind, at_ns, entry.id))


def _visit(sitting: Sitting, entry: Entry, content: j.PlaceVisited, at_ns: int) -> None:
    sitting.attempts[-1].places.append(content.place)
    sitting.attempts[-1].ticks.append(Tick(content.kind, at_ns, entry.id))


def _rate_snag(sitting: Sitting, entry: Entry, content: j.SnagRated, at_ns: int) -> None:
    sitting.remarks[content.entry].severity = content.severity


def _move(sitting: Sitting, entry: Entry, content: j.MarkMoved, at_ns: int) -> None:
    earlier = content.seconds_earlier * SECOND
    remark = sitting.remarks.get(content.entry)
    if remark is not None:
        remark.at_ns = max(remark.at_ns - earlier, 0)
    for attempt in sitting.attempts:
        attempt.moves += any(tick.entry == content.entry for tick in attempt.ticks)
        # A mark stays within the attempt that it was made in.
        attempt.ticks = [
            replace(tick, at_ns=max(tick.at_ns - earlier, attempt.started_ns)) if tick.entry == content.entry else tick
            for tick in attempt.ticks
        ]


def _add_late(sitting: Sitting, entry: Entry, content: j.AddedLate, at_ns: int) -> None:
    """As though it had been made then: in whatever attempt ran at that moment."""
    late_ns = round(content.at_seconds * SECOND)
    attempt = sitting.attempt_at(late_ns)
    if content.mark == "helped" and attempt is not None:
        attempt.helps[entry.id] = ""
    elif content.mark == "wrong_place" and attempt is not None:
        attempt.wrong_places += 1
    else:
        number = attempt.number if attempt else None
        sitting.remarks[entry.id] = Remark(entry.id, content.mark, late_ns, number, content.words, entry.author)
    if attempt is not None:
        attempt.snags += content.mark == "snag"
        attempt.ticks.append(Tick(content.mark, late_ns, entry.id))


def _judge_again(sitting: Sitting, entry: Entry, content: j.OutcomeCorrected, at_ns: int) -> None:
    attempt = sitting.attempts[content.attempt - 1]
    attempt.outcome, attempt.reason = content.outcome, content.reason
    if not content.outcome.counts:
        attempt.ease_asked = True


def _tell_outcome(sitting: Sitting, entry: Entry, content: j.OutcomeTold, at_ns: int) -> None:
    attempt = sitting.attempts[-1]
    attempt.grade = content.grade if content.grade is not None else attempt.grade
    attempt.route = content.route or attempt.route
    attempt.why = content.why or attempt.why


def _witness(sitting: Sitting, entry: Entry, content: j.ChairWitnessed, at_ns: int) -> None:
    if content.when == "before":
        sitting.so_before[content.card] = content.says
    if content.attempt:
        attempt = sitting.attempts[content.attempt - 1]
        attempt.chair_says, attempt.chair_evidence = content.says, content.evidence


def _remark(sitting: Sitting, entry: Entry, content: j.Wordable, at_ns: int) -> None:
    attempt = sitting.attempt
    number = attempt.number if attempt else None
    sitting.remarks[entry.id] = Remark(entry.id, content.kind, at_ns, number, content.words, entry.author)
    if not content.words:
        sitting.wordless.add(entry.id)
    if attempt is not None:
        attempt.snags += content.kind == "snag"
        attempt.ticks.append(Tick(content.kind, at_ns, entry.id))


def _word(sitting: Sitting, entry: Entry, content: j.Worded, at_ns: int) -> None:
    sitting.remarks[content.entry].words = content.words
    sitting.wordless.discard(content.entry)


def _stop(sitting: Sitting, entry: Entry, content: j.AttemptStopped, at_ns: int) -> None:
    attempt = sitting.attempts[-1]
    attempt.close_span(at_ns)
    attempt.stopped_ns = at_ns
    if attempt.waits and attempt.waits[-1].end_ns is None:
        attempt.waits[-1].end_ns = at_ns


def _judge(sitting: Sitting, entry: Entry, content: j.OutcomeJudged, at_ns: int) -> None:
    attempt = sitting.attempts[-1]
    attempt.outcome, attempt.reason = content.outcome, content.reason
    sitting.done.add(attempt.card)


def _ease(sitting: Sitting, entry: Entry, content: j.EaseRated, at_ns: int) -> None:
    sitting.attempts[-1].ease, sitting.attempts[-1].ease_asked = content.score, True


def _usability(sitting: Sitting, entry: Entry, content: j.UsabilityAnswered, at_ns: int) -> None:
    sitting.usability[content.item] = content.score


def _decline(sitting: Sitting, entry: Entry, content: j.UsabilityDeclined, at_ns: int) -> None:
    sitting.usability_declined = True


def _end(sitting: Sitting, entry: Entry, content: j.SittingEnded, at_ns: int) -> None:
    sitting.over, sitting.over_ns = Phase.ENDED, at_ns


def _break_off(sitting: Sitting, entry: Entry, content: j.SittingBrokenOff, at_ns: int) -> None:
    sitting.over, sitting.broken_reason, sitting.over_ns = Phase.BROKEN_OFF, content.reason, at_ns


def _resume(sitting: Sitting, entry: Entry, content: j.SittingResumed, at_ns: int) -> None:
    sitting.gaps += 1
    attempt = sitting.attempts[-1] if sitting.attempts else None
    if attempt is None or attempt.stopped_ns is not None:
        return
    if content.gap is not j.Gap.COUNT:
        died_ns = min(sitting.time_at(content.alive), at_ns)
        attempt.close_span(died_ns)
        was_aside, attempt.set_aside = attempt.set_aside, True
        attempt.close_span(at_ns)
        attempt.set_aside = was_aside
    if content.gap is j.Gap.VOID:
        attempt.stopped_ns, attempt.outcome = at_ns, Outcome.VOID
        attempt.reason = "the program was interrupted and the attempt could not be followed"
        sitting.done.add(attempt.card)


_APPLY: dict[str, Callable[[Sitting, Entry, Any, int], None]] = {
    "sitting_began": _begin,
    "chair_found": _find_chair,
    "attempt_started": _start,
    "card_passed": _pass,
    **dict.fromkeys(("wait_began", "wait_ended", "aside_began", "aside_ended"), _change_lane),
    **dict.fromkeys(("helped", "wrong_place", "said_done"), _count),
    **dict.fromkeys(j.WORDABLE, _remark),
    "wait_told": _tell_wait,
    "help_told": _tell_help,
    "marked": _mark,
    "step_reached": _reach,
    "place_visited": _visit,
    "snag_rated": _rate_snag,
    "mark_moved": _move,
    "outcome_told": _tell_outcome,
    "outcome_corrected": _judge_again,
    "added_late": _add_late,
    "chair_witnessed": _witness,
    "worded": _word,
    "attempt_stopped": _stop,
    "outcome_judged": _judge,
    "ease_rated": _ease,
    "usability_answered": _usability,
    "usability_declined": _decline,
    "sitting_ended": _end,
    "sitting_broken_off": _break_off,
    "sitting_resumed": _resume,
}
