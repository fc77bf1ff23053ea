"""A sitting as the screen draws it: frozen, complete, and the same for a live one and for one looked back at."""

from collections.abc import Sequence
from dataclasses import dataclass

from fresh_chair.core import journal as j
from fresh_chair.core.attempt import Attempt, Lane, Span, Tick
from fresh_chair.core.cards import TaskCard
from fresh_chair.core.chairs import Chair
from fresh_chair.core.clock import Moment, clock_text
from fresh_chair.core.journal import Entry
from fresh_chair.core.outcome import Outcome
from fresh_chair.core.replay import entry_times
from fresh_chair.core.sitting import Phase, Sitting
from fresh_chair.core.study import Seat, Study
from fresh_chair.services.desk import Desk

_PLAIN_WORDS = {
    "sitting_began": "sat down",
    "wait_began": "waiting: the machine is busy",
    "wait_ended": "the machine is back",
    "aside_began": "aside",
    "aside_ended": "back from aside",
    "helped": "helped",
    "wrong_place": "wrong place",
    "said_done": "says it is done",
    "attempt_stopped": "clock stopped",
    "usability_declined": "usability scale not asked",
    "sitting_ended": "got up",
}
_MARKS = {
    "hesitates": "hesitates",
    "tries again": "tries again",
    "no reaction": "the machine does not react",
    "misled": "misled by a message",
}
_GAP_WORDS = {
    j.Gap.COUNT: "the time between counts",
    j.Gap.ASIDE: "the time between is aside",
    j.Gap.VOID: "the attempt is void",
}


@dataclass(frozen=True, slots=True)
class JournalLine:
    """One entry as the journal shows it."""

    number: int
    at: str
    kind: str
    text: str
    struck: bool
    words_missing: bool


@dataclass(frozen=True, slots=True)
class ClockFace:
    """The running attempt at one moment; whole nanoseconds, the lanes add up to the elapsed time."""

    hands_ns: int
    wait_ns: int
    aside_ns: int
    elapsed_ns: int
    lane: Lane | None
    limit_ns: int
    benchmark_ns: int | None
    started_ns: int
    spans: tuple[Span, ...]
    ticks: tuple[Tick, ...]
    moved: int = 0


@dataclass(frozen=True, slots=True)
class CardLine:
    """One card of the sitting, with how it went so far."""

    card: TaskCard
    outcome: Outcome | None
    passed: bool
    in_hand: bool
    hands: str
    wait: str
    ease: int | None
    snags: int


@dataclass(frozen=True, slots=True)
class SittingView:
    """Everything about a sitting but its running clock.

    Attributes:
        witnesses: Of the last attempt that ended: what the person said, what was judged, what the chair shows.
    """

    seat: Seat
    chair: Chair
    phase: Phase
    card: TaskCard | None
    place: int
    lines: tuple[CardLine, ...]
    words_waiting: int
    usability: dict[int, int | None]
    answers: tuple[int | None, ...] | None
    broken_reason: str
    undoable: bool
    witnesses: tuple[str, str, str] | None = None


def sitting_view(desk: Desk, number: int) -> SittingView:
    """One sitting of the open study, begun or not."""
    seat = desk.study.seat(number)
    sitting = desk.sittings.get(number) or Sitting(number, seat.cards)
    attempt = sitting.attempt
    card_id = attempt.card if attempt is not None else sitting.card
    cards = desk.study.card_by_id
    return SittingView(
        seat=seat,
        chair=desk.study.chair_by_letter[seat.chair],
        phase=sitting.phase,
        card=cards[card_id] if card_id is not None else None,
        place=seat.cards.index(card_id) + 1 if card_id is not None else len(seat.cards),
        lines=tuple(_card_line(sitting, cards[card], card == card_id) for card in seat.cards),
        words_waiting=len(sitting.wordless),
        usability=dict(sitting.usability),
        answers=sitting.answers,
        broken_reason=sitting.broken_reason,
        undoable=bool(sitting.undoable),
        witnesses=_witnesses(sitting),
    )


def _witnesses(sitting: Sitting) -> tuple[str, str, str] | None:
    """What the person said, what was judged, and what the chair shows of the last attempt that ended."""
    attempt = sitting.latest
    if attempt is None or attempt.outcome is None:
        return None
    said = "done" if attempt.said_done else "nothing"
    return said, attempt.outcome.words, attempt.chair_says or "was not asked"


def clock_face(study: Study, seat: Seat, sitting: Sitting, now: Moment | None) -> ClockFace | None:
    """The attempt in hand as a clock shows it; None where there is none."""
    attempt = sitting.attempt
    if attempt is None:
        return None
    card = study.card_by_id[attempt.card]
    now_ns = sitting.time_at(now) if now is not None and attempt.stopped_ns is None else None
    benchmark = card.benchmark_seconds.get(seat.chair)
    return ClockFace(
        hands_ns=attempt.lane_ns(Lane.HANDS, now_ns),
        wait_ns=attempt.lane_ns(Lane.WAIT, now_ns),
        aside_ns=attempt.lane_ns(Lane.ASIDE, now_ns),
        elapsed_ns=attempt.elapsed_ns(now_ns),
        lane=attempt.lane if attempt.stopped_ns is None else None,
        limit_ns=card.limit_seconds * 1_000_000_000,
        benchmark_ns=None if benchmark is None else round(benchmark * 1_000_000_000),
        started_ns=attempt.started_ns,
        spans=tuple(attempt.lanes(now_ns)),
        ticks=tuple(attempt.ticks),
        moved=attempt.moves,
    )


def journal_lines(
    study: Study,
    sitting: Sitting,
    entries: Sequence[Entry],
    times: Sequence[int],
    struck: set[str],
    *,
    most: int = 200,
) -> list[JournalLine]:
    """The newest entries of a journal, oldest first; at most `most`, however long the journal is."""
    lines: list[JournalLine] = []
    for place in range(len(entries) - 1, -1, -1):
        if len(lines) == most:
            break
        entry = entries[place]
        text = _text(study, sitting, entry, times[place])
        if text is None:
            continue
        missing = isinstance(entry.content, j.Wordable) and not _words(sitting, entry) and entry.id not in struck
        remark = sitting.remarks.get(entry.id)
        # A mark that was moved stands where it belongs to, at the place in the list where it was made.
        at_ns = times[place] if remark is None else remark.at_ns
        lines.append(
            JournalLine(entry.number, clock_text(at_ns), entry.content.kind, text, entry.id in struck, missing)
        )
    lines.reverse()
    return lines


def look_back(desk: Desk, number: int) -> list[JournalLine]:
    """The whole journal of a sitting, without opening it for logging."""
    entries = desk.entries.get(number, [])
    sitting = desk.sittings.get(number)
    if sitting is None:
        return []
    struck = {entry.content.entry for entry in entries if isinstance(entry.content, j.Struck)}
    return journal_lines(desk.study, sitting, entries, entry_times(entries), struck, most=len(entries))


def _card_line(sitting: Sitting, card: TaskCard, in_hand: bool) -> CardLine:
    tries = [attempt for attempt in sitting.tried if attempt.card == card.id]
    attempt: Attempt | None = tries[-1] if tries else None
    return CardLine(
        card=card,
        outcome=attempt.outcome if attempt else None,
        passed=card.id in sitting.passed,
        in_hand=in_hand and sitting.phase.open,
        hands=clock_text(attempt.lane_ns(Lane.HANDS)) if attempt and attempt.stopped_ns is not None else "",
        wait=clock_text(attempt.lane_ns(Lane.WAIT)) if attempt and attempt.stopped_ns is not None else "",
        ease=attempt.ease if attempt else None,
        snags=attempt.snags if attempt else 0,
    )


def _words(sitting: Sitting, entry: Entry) -> str:
    remark = sitting.remarks.get(entry.id)
    if remark is not None:
        return remark.words
    return entry.content.words if isinstance(entry.content, j.Wordable) else ""


def _text(study: Study, sitting: Sitting, entry: Entry, at_ns: int) -> str | None:
    """What the line says; None for entries that show in another line."""
    match entry.content:
        case j.Worded() | j.Struck() | j.HelpTold() | j.WaitTold() | j.SnagRated() | j.MarkMoved():
            return None
        case j.Helped():
            level = next((a.helps[entry.id] for a in sitting.attempts if entry.id in a.helps), "")
            return f"helped{': ' if level else ''}{level}"
        case j.WaitBegan():
            how = next((w.how for a in sitting.attempts for w in a.waits if w.begin_ns == at_ns), "")
            return f"waiting: {how or 'the machine is busy'}"
        case j.Marked(mark=mark):
            return _MARKS[mark]
        case j.StepReached(step=step):
            return f"at step {step} of the route"
        case j.PlaceVisited(place=place):
            return f"at {place}"
        case j.AddedLate(mark=mark, words=words, reason=reason):
            return f"{mark.replace('_', ' ')}{': ' if words else ''}{words} (added late: {reason})"
        case j.OutcomeCorrected(attempt=number, outcome=outcome, reason=reason):
            return f"attempt {number} judged otherwise: {outcome.words}: {reason}"
        case j.OutcomeTold():
            return _outcome_told(entry.content)
        case j.ChairWitnessed():
            return _witnessed(study, entry.content)
        case j.ChairFound(freshness=freshness, told=told, skipped=skipped):
            passed_over = f". Not so at the bench: {'; '.join(skipped)}" if skipped else ""
            return f"the chair is {freshness}{': ' if told else ''}{'; '.join(told)}{passed_over}"
        case j.AttemptStarted(card=card):
            return f"start: {_title(study, card)}"
        case j.CardPassed(card=card, reason=reason):
            return f"passed over {_title(study, card)}: {reason}"
        case j.SnagSeen() | j.DelightSeen() | j.NoteTaken() | j.QuoteTaken() | j.WarningSeen() | j.QuestionLeft():
            words = _words(sitting, entry)
            remark = sitting.remarks.get(entry.id)
            rated = f" {remark.severity} of 4" if remark is not None and remark.severity is not None else ""
            return f"{entry.content.kind}{rated}: {words}" if words else f"{entry.content.kind}{rated} (words to come)"
        case j.OutcomeJudged(outcome=outcome, reason=reason):
            return f"{outcome.words}{': ' if reason else ''}{reason}"
        case j.EaseRated(score=score):
            return "ease not given" if score is None else f"ease {score} of 7"
        case j.UsabilityAnswered(item=item, score=score):
            return f"usability {item}: {'left out' if score is None else score}"
        case j.SittingBrokenOff(reason=reason):
            return f"broken off: {reason}"
        case j.SittingResumed(gap=gap):
            return f"resumed; {_GAP_WORDS[gap]}"
        case other:
            return _PLAIN_WORDS[other.kind]


def _outcome_told(told: j.OutcomeTold) -> str:
    grade = f"grade {told.grade}" if told.grade is not None else ""
    route = f"by {told.route} way" if told.route in ("expected", "another") else told.route
    return "; ".join(part for part in (grade, route, told.why) if part) or "nothing more said"


def _witnessed(study: Study, seen: j.ChairWitnessed) -> str:
    evidence = f" ({seen.evidence})" if seen.evidence else ""
    return f"the chair, {seen.when} “{_title(study, seen.card)}”: {seen.says}{evidence}"


def _title(study: Study, card: str) -> str:
    return study.card_by_id[card].title if card in study.card_by_id else card
