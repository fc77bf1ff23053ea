"""Whole attempts corrected: one that was two, two that were one. Every mark goes where its moment was."""

from dataclasses import replace

from fresh_chair.core.sitting.state.attempt import Attempt, Span, Wait
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting


def split(sitting: Sitting, number: int, at_ns: int, *, outcome: Outcome, card: str, reason: str) -> None:
    """Part an attempt in two; the second part keeps how the whole was judged and rated."""
    first = sitting.attempts[number - 1]
    second = Attempt(
        len(sitting.attempts) + 1,
        card,
        at_ns,
        lane_since_ns=first.lane_since_ns,
        stopped_ns=first.stopped_ns,
        closed_ns=first.closed_ns,
        outcome=first.outcome,
        reason=first.reason,
        ease=first.ease,
        ease_asked=first.ease_asked,
        grade=first.grade,
        route=first.route,
        why=first.why,
        chair_says=first.chair_says,
        chair_evidence=first.chair_evidence,
        benchmark_refused=first.benchmark_refused,
        unreadable=first.unreadable,
    )
    second.spans = [_span(s, max(s.begin_ns, at_ns), s.end_ns) for s in first.spans if s.end_ns > at_ns]
    first.spans = [_span(s, s.begin_ns, min(s.end_ns, at_ns)) for s in first.spans if s.begin_ns < at_ns]
    second.left_spans = [(max(begin, at_ns), end) for begin, end in first.left_spans if end > at_ns]
    first.left_spans = [(begin, min(end, at_ns)) for begin, end in first.left_spans if begin < at_ns]
    second.waits = [Wait(max(w.begin_ns, at_ns), w.end_ns, w.how) for w in first.waits if (w.end_ns or 0) > at_ns]
    first.waits = [Wait(w.begin_ns, min(w.end_ns or at_ns, at_ns), w.how) for w in first.waits if w.begin_ns < at_ns]
    second.ticks = [tick for tick in first.ticks if tick.at_ns >= at_ns]
    first.ticks = [tick for tick in first.ticks if tick.at_ns < at_ns]
    first.stopped_ns, first.closed_ns, first.lane_since_ns = at_ns, at_ns, at_ns
    first.outcome, first.reason, first.ease, first.ease_asked = outcome, reason, None, True
    first.grade, first.route, first.why, first.chair_says, first.chair_evidence = None, "", "", "", ""
    levels = dict(first.helps)
    for part in (first, second):
        recount(part, levels)
    for remark in sitting.remarks.values():
        if remark.attempt == first.number and remark.at_ns >= at_ns:
            remark.attempt = second.number
    sitting.attempts.append(second)
    sitting.done |= {first.card, second.card}
    if sitting.hand == first.number:
        sitting.hand = second.number


def join(sitting: Sitting, number: int, later_number: int) -> None:
    """Make two attempts one; it has the card of the earlier and the end of the later."""
    first, later = sitting.attempts[number - 1], sitting.attempts[later_number - 1]
    begin, end = first.stopped_ns or 0, later.started_ns
    gap = [Span(Lane.ASIDE, begin, end)] if end > begin else []
    first.spans = [*first.spans, *gap, *later.spans]
    first.ticks = [*first.ticks, *later.ticks]
    first.waits = [*first.waits, *later.waits]
    first.left_spans = [*first.left_spans, *later.left_spans]
    first.stopped_ns, first.closed_ns, first.lane_since_ns = later.stopped_ns, later.closed_ns, later.lane_since_ns
    first.outcome, first.reason = later.outcome, later.reason
    first.ease, first.ease_asked = (first.ease if later.ease is None else later.ease), later.ease_asked
    first.grade, first.route, first.why = later.grade, later.route, later.why
    first.chair_says, first.chair_evidence = later.chair_says, later.chair_evidence
    recount(first, {**first.helps, **later.helps})
    later.joined_to = first.number
    first.unreadable |= later.unreadable
    for remark in sitting.remarks.values():
        if remark.attempt == later.number:
            remark.attempt = first.number
    if not any(attempt.card == later.card for attempt in sitting.tried):
        sitting.done.discard(later.card)
    if sitting.hand == later.number:
        sitting.hand = first.number


def move_stop(sitting: Sitting, number: int, earlier_ns: int) -> None:
    """Stop an attempt's clock earlier; marks that came after it are kept, at its end."""
    attempt = sitting.attempts[number - 1]
    at_ns = (attempt.stopped_ns or 0) - earlier_ns
    attempt.spans = [_span(s, s.begin_ns, min(s.end_ns, at_ns)) for s in attempt.spans if s.begin_ns < at_ns]
    attempt.left_spans = [(begin, min(end, at_ns)) for begin, end in attempt.left_spans if begin < at_ns]
    attempt.waits = [
        Wait(w.begin_ns, min(w.end_ns or at_ns, at_ns), w.how) for w in attempt.waits if w.begin_ns < at_ns
    ]
    attempt.ticks = [replace(tick, at_ns=min(tick.at_ns, at_ns)) for tick in attempt.ticks]
    attempt.stopped_ns = attempt.lane_since_ns = at_ns
    attempt.moves += 1


def recount(attempt: Attempt, levels: dict[str, str]) -> None:
    """Count an attempt's marks anew from its line of time; `levels` says how much help each help was."""
    own = [tick for tick in attempt.ticks if not tick.observer]
    attempt.helps = {tick.entry: levels.get(tick.entry, "") for tick in own if tick.kind == "helped"}
    attempt.wrong_places = sum(tick.kind == "wrong_place" for tick in own)
    attempt.snags = sum(tick.kind == "snag" for tick in own)
    attempt.said_done = any(tick.kind == "said_done" for tick in own)
    attempt.steps = {int(tick.what) for tick in own if tick.kind == "step_reached"}
    attempt.spots = [str(tick.what) for tick in own if tick.kind == "place_visited"]
    attempt.marks = {}
    for tick in own:
        if tick.kind == "marked":
            attempt.marks[str(tick.what)] = attempt.marks.get(str(tick.what), 0) + 1


def _span(span: Span, begin_ns: int, end_ns: int) -> Span:
    return Span(span.lane, begin_ns, end_ns)
