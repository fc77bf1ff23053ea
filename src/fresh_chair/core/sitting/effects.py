"""The effect of each entry on the state of a sitting, once the rules have let it through."""

from collections.abc import Callable
from dataclasses import fields, replace
from typing import Any

from fresh_chair.core.clock import SECOND, elapsed_ns
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting import reshaping
from fresh_chair.core.sitting.attempt import Attempt, Tick
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.outcome import Outcome
from fresh_chair.core.sitting.state import Phase, QuestionAnswer, Remark, Sitting


def _begin(sitting: Sitting, entry: Entry, content: Any, at_ns: int) -> None:
    """Nothing but the moment, which `apply` keeps."""


def _find_chair(sitting: Sitting, entry: Entry, content: j.ChairFound, at_ns: int) -> None:
    sitting.chair_found = content.freshness


def _start(sitting: Sitting, entry: Entry, content: j.AttemptStarted, at_ns: int) -> None:
    attempt = Attempt(len(sitting.attempts) + 1, content.card, at_ns, lane_since_ns=at_ns)
    attempt.expectation = sitting.expectations.pop(content.card, None)
    sitting.attempts.append(attempt)
    sitting.hand = attempt.number


def _pass(sitting: Sitting, entry: Entry, content: j.CardPassed, at_ns: int) -> None:
    sitting.passed[content.card] = content.reason


def _change_lane(sitting: Sitting, entry: Entry, content: j.Content, at_ns: int) -> None:
    attempt = _in_hand(sitting)
    attempt.close_span(at_ns)
    if content.kind == "wait_began":
        attempt.begin_wait(at_ns)
    elif content.kind == "wait_ended":
        attempt.end_wait(at_ns)
    else:
        attempt.set_aside = content.kind == "aside_began"
    attempt.ticks.append(Tick(content.kind, at_ns))


def _leave(sitting: Sitting, entry: Entry, content: j.LeftRunning, at_ns: int) -> None:
    attempt = _in_hand(sitting)
    attempt.close_span(at_ns)
    attempt.set_aside = False
    attempt.begin_wait(at_ns)
    attempt.left, attempt.left_since_ns = True, at_ns
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id))
    sitting.left.append(attempt.number)
    sitting.hand = 0


def _ready(sitting: Sitting, entry: Entry, content: j.LeftReady, at_ns: int) -> None:
    attempt = sitting.attempts[content.attempt - 1]
    attempt.close_span(at_ns)
    attempt.end_wait(at_ns)
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id))


def _take_up(sitting: Sitting, entry: Entry, content: j.TakenUp, at_ns: int) -> None:
    attempt = sitting.attempts[content.attempt - 1]
    attempt.close_span(at_ns)
    attempt.end_wait(at_ns)
    attempt.left_spans.append((attempt.left_since_ns, at_ns))
    attempt.left = False
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id))
    sitting.left.remove(attempt.number)
    sitting.hand = attempt.number


def _in_hand(sitting: Sitting) -> Attempt:
    """The attempt in hand, which the rules have made sure of."""
    attempt = sitting.latest
    assert attempt is not None
    return attempt


def _observer(sitting: Sitting, entry: Entry) -> str:
    return entry.author if entry.author in sitting.observers else ""


def _count(sitting: Sitting, entry: Entry, content: j.Content, at_ns: int) -> None:
    attempt, observer = _in_hand(sitting), _observer(sitting, entry)
    if not observer:
        if content.kind == "helped":
            attempt.helps[entry.id] = ""
        attempt.wrong_places += content.kind == "wrong_place"
        attempt.said_done |= content.kind == "said_done"
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id, observer=observer))


def _tell_wait(sitting: Sitting, entry: Entry, content: j.WaitTold, at_ns: int) -> None:
    _in_hand(sitting).waits[-1].how = content.how


def _tell_help(sitting: Sitting, entry: Entry, content: j.HelpTold, at_ns: int) -> None:
    for attempt in sitting.attempts:
        if content.entry in attempt.helps:
            attempt.helps[content.entry] = content.level


def _mark(sitting: Sitting, entry: Entry, content: j.Marked, at_ns: int) -> None:
    attempt, observer = _in_hand(sitting), _observer(sitting, entry)
    if not observer:
        attempt.marks[content.mark] = attempt.marks.get(content.mark, 0) + 1
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id, content.mark, observer))


def _reach(sitting: Sitting, entry: Entry, content: j.StepReached, at_ns: int) -> None:
    attempt, observer = _in_hand(sitting), _observer(sitting, entry)
    if not observer:
        attempt.steps.add(content.step)
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id, content.step, observer))


def _visit(sitting: Sitting, entry: Entry, content: j.PlaceVisited, at_ns: int) -> None:
    attempt, observer = _in_hand(sitting), _observer(sitting, entry)
    if not observer:
        attempt.places.append(content.place)
    attempt.ticks.append(Tick(content.kind, at_ns, entry.id, content.place, observer))


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
    """Add the mark to the attempt that ran at its moment."""
    late_ns = round(content.at_seconds * SECOND)
    attempt = sitting.attempt_at(late_ns)
    if content.mark in j.WORDABLE:
        number = attempt.number if attempt else None
        severity = content.severity if content.mark == "snag" else None
        remark = Remark(entry.id, content.mark, late_ns, number, content.words, entry.author, severity)
        sitting.remarks[entry.id] = remark
        if not content.words:
            sitting.wordless.add(entry.id)
    if attempt is None:
        return
    plain = content.mark in (*j.WORDABLE, "helped", "wrong_place", "said_done")
    attempt.ticks.append(Tick(content.mark if plain else "marked", late_ns, entry.id, "" if plain else content.mark))
    if content.mark == "helped":
        attempt.helps[entry.id] = ""
    elif not plain:
        attempt.marks[content.mark] = attempt.marks.get(content.mark, 0) + 1
    attempt.wrong_places += content.mark == "wrong_place"
    attempt.said_done |= content.mark == "said_done"
    attempt.snags += content.mark == "snag"


def _judge_again(sitting: Sitting, entry: Entry, content: j.OutcomeCorrected, at_ns: int) -> None:
    attempt = sitting.attempts[content.attempt - 1]
    attempt.outcome, attempt.reason = content.outcome, content.reason
    if not content.outcome.counts:
        attempt.ease_asked = True


def _tell_outcome(sitting: Sitting, entry: Entry, content: j.OutcomeTold, at_ns: int) -> None:
    attempt = _in_hand(sitting)
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
    observer = _observer(sitting, entry)
    sitting.remarks[entry.id] = Remark(entry.id, content.kind, at_ns, number, content.words, entry.author)
    if not content.words:
        sitting.wordless.add(entry.id)
    if attempt is not None:
        attempt.snags += content.kind == "snag" and not observer
        attempt.ticks.append(Tick(content.kind, at_ns, entry.id, observer=observer))


def _word(sitting: Sitting, entry: Entry, content: j.Worded, at_ns: int) -> None:
    sitting.remarks[content.entry].words = content.words
    sitting.wordless.discard(content.entry)


def _stop(sitting: Sitting, entry: Entry, content: j.AttemptStopped, at_ns: int) -> None:
    attempt = _in_hand(sitting)
    attempt.close_span(at_ns)
    attempt.stopped_ns = at_ns
    if attempt.waits and attempt.waits[-1].end_ns is None:
        attempt.waits[-1].end_ns = at_ns


def _judge(sitting: Sitting, entry: Entry, content: j.OutcomeJudged, at_ns: int) -> None:
    attempt = _in_hand(sitting)
    attempt.outcome, attempt.reason = content.outcome, content.reason
    sitting.done.add(attempt.card)


def _ease(sitting: Sitting, entry: Entry, content: j.EaseRated, at_ns: int) -> None:
    attempt = _in_hand(sitting)
    attempt.ease, attempt.ease_asked = content.score, True


def _usability(sitting: Sitting, entry: Entry, content: j.UsabilityAnswered, at_ns: int) -> None:
    sitting.usability[content.item] = content.score


def _decline(sitting: Sitting, entry: Entry, content: j.UsabilityDeclined, at_ns: int) -> None:
    sitting.usability_declined = True


def _expect(sitting: Sitting, entry: Entry, content: j.ExpectationGiven, at_ns: int) -> None:
    sitting.expectations[content.card] = content.score


def _answer(sitting: Sitting, entry: Entry, content: j.QuestionAnswered, at_ns: int) -> None:
    sitting.asked[content.question, content.attempt] = QuestionAnswer(content.score, content.words)


def _prefer(sitting: Sitting, entry: Entry, content: j.PreferenceGiven, at_ns: int) -> None:
    sitting.preference, sitting.preference_words = content.order, content.words


def _reopen(sitting: Sitting, entry: Entry, content: j.CardReopened, at_ns: int) -> None:
    sitting.done.discard(content.card)
    sitting.passed.pop(content.card, None)


def _refuse_benchmark(sitting: Sitting, entry: Entry, content: j.BenchmarkRefused, at_ns: int) -> None:
    sitting.attempts[content.attempt - 1].benchmark_refused = content.reason


def _open_recording(sitting: Sitting, entry: Entry, content: j.RecordingOpened, at_ns: int) -> None:
    sitting.recording = (content.file, content.offset_seconds)


def _observe(sitting: Sitting, entry: Entry, content: j.ObserverJoined, at_ns: int) -> None:
    sitting.observers.add(entry.author)


def _end(sitting: Sitting, entry: Entry, content: j.SittingEnded, at_ns: int) -> None:
    sitting.over, sitting.over_ns = Phase.ENDED, at_ns


def _break_off(sitting: Sitting, entry: Entry, content: j.SittingBrokenOff, at_ns: int) -> None:
    sitting.over, sitting.broken_reason, sitting.over_ns = Phase.BROKEN_OFF, content.reason, at_ns


def _resume(sitting: Sitting, entry: Entry, content: j.SittingResumed, at_ns: int) -> None:
    sitting.gaps += 1
    attempt = sitting.latest
    if attempt is None or attempt.stopped_ns is not None:
        return
    if content.gap is not j.Gap.COUNT:
        died_ns = at_ns - elapsed_ns(content.alive, entry.moment)
        attempt.close_span(died_ns)
        was_aside, attempt.set_aside = attempt.set_aside, True
        attempt.close_span(at_ns)
        attempt.set_aside = was_aside
    if content.gap is j.Gap.VOID:
        attempt.stopped_ns, attempt.outcome = at_ns, Outcome.VOID
        attempt.reason = "the program was interrupted and the attempt could not be followed"
        sitting.done.add(attempt.card)


def _unbegin(sitting: Sitting, entry: Entry, content: j.SittingUnbegun, at_ns: int) -> None:
    """Reset the sitting as before its beginning; entries that were left out stay left out."""
    fresh = Sitting(sitting.number, sitting.cards, left_out=sitting.left_out)
    for part in fields(Sitting):
        setattr(sitting, part.name, getattr(fresh, part.name))


def _correct_rating(sitting: Sitting, entry: Entry, content: j.RatingCorrected, at_ns: int) -> None:
    match content.what:
        case "usability":
            sitting.usability[content.item] = content.score
        case "question":
            sitting.asked[content.question, content.attempt] = QuestionAnswer(content.score, content.words)
        case "ease":
            sitting.attempts[content.attempt - 1].ease = content.score
        case "expectation":
            sitting.attempts[content.attempt - 1].expectation = content.score


EFFECTS: dict[str, Callable[[Sitting, Entry, Any, int], None]] = {
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
    "left_running": _leave,
    "left_ready": _ready,
    "taken_up": _take_up,
    "card_reopened": _reopen,
    "attempt_split": lambda sitting, _entry, content, _at_ns: reshaping.split(sitting, content),
    "attempts_joined": lambda sitting, _entry, content, _at_ns: reshaping.join(sitting, content),
    "benchmark_refused": _refuse_benchmark,
    "recording_opened": _open_recording,
    "observer_joined": _observe,
    "expectation_given": _expect,
    "question_answered": _answer,
    "preference_given": _prefer,
    "worded": _word,
    "attempt_stopped": _stop,
    "outcome_judged": _judge,
    "ease_rated": _ease,
    "usability_answered": _usability,
    "usability_declined": _decline,
    "sitting_ended": _end,
    "sitting_broken_off": _break_off,
    "sitting_resumed": _resume,
    "sitting_unbegun": _unbegin,
    "rating_corrected": _correct_rating,
    "stop_moved": lambda sitting, _entry, content, _at_ns: reshaping.move_stop(sitting, content),
}
