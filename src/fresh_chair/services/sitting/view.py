"""A sitting as the screen draws it: frozen, complete, and the same for a live one and for one looked back at."""

from collections.abc import Collection, Mapping, Sequence

from fresh_chair.core.clock import Moment, clock_text
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import Happening, Told
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.state.attempt import Attempt, Span, Tick
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class JournalLine:
    """One entry as the journal shows it."""

    number: int
    at: str
    kind: str
    text: str
    struck: bool
    words_missing: bool


@frozen
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
    benchmark_runs: int = 0


@frozen
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


@frozen
class LeftLine:
    """A card that was left running; it is ready where the machine has come to its end."""

    number: int
    title: str
    ready: bool


@frozen
class SittingView:
    """Everything about a sitting but its running clock.

    Attributes:
        left: What the machine works on while another card is in hand.
        asked: How many of the study's own questions were answered or left out.
        witnesses: Of the last attempt that ended: what the person said, what was judged, what the chair shows.
    """

    seat: Seat
    chair: Chair
    phase: Phase
    card: TaskCard | None
    position: int
    lines: tuple[CardLine, ...]
    words_waiting: int
    usability: dict[int, int | None]
    answers: tuple[int | None, ...] | None
    broken_reason: str
    undoable: bool
    witnesses: tuple[str, str, str] | None = None
    left: tuple[LeftLine, ...] = ()
    asked: int = 0


def sitting_view(opened: OpenStudy, number: int) -> SittingView:
    """One sitting of the open study, begun or not."""
    seat = opened.study.seat(number)
    sitting = opened.sittings.get(number) or Sitting(number, seat.cards)
    attempt = sitting.attempt
    card_id = attempt.card if attempt is not None else sitting.card
    cards = opened.study.card_by_id
    return SittingView(
        seat=seat,
        chair=opened.study.chair_by_letter[seat.chair],
        phase=sitting.phase,
        card=cards[card_id] if card_id is not None else None,
        position=seat.cards.index(card_id) + 1 if card_id is not None else len(seat.cards),
        lines=tuple(_card_line(sitting, cards[card], card == card_id) for card in seat.cards),
        words_waiting=len(sitting.wordless),
        usability=dict(sitting.usability),
        answers=sitting.answers,
        broken_reason=sitting.broken_reason,
        undoable=bool(sitting.undoable),
        witnesses=_witnesses(sitting),
        left=tuple(_left_line(sitting.attempts[number - 1], cards) for number in sitting.left),
        asked=len(sitting.asked) + (sitting.preference is not None),
    )


def _left_line(attempt: Attempt, cards: Mapping[str, TaskCard]) -> LeftLine:
    return LeftLine(attempt.number, cards[attempt.card].title, not attempt.waiting)


def _witnesses(sitting: Sitting) -> tuple[str, str, str] | None:
    """The person's word, the judgement, and the chair's answer about the last attempt that ended."""
    attempt = sitting.latest
    if attempt is None or attempt.outcome is None:
        return None
    said = "done" if attempt.said_done else "nothing"
    return said, attempt.outcome.words, attempt.chair_says or "was not asked"


def clock_face(
    study: Study, seat: Seat, sitting: Sitting, now: Moment | None, *, runs: Mapping[str, int] | None = None
) -> ClockFace | None:
    """The attempt in hand as a clock shows it; None where there is none.

    Args:
        study, seat, sitting: What it belongs to.
        now: The present moment.
        runs: From how many of the expert's runs each card's benchmark is; those that were typed in have none.
    """
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
        benchmark_runs=(runs or {}).get(attempt.card, 0),
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
    for index in range(len(entries) - 1, -1, -1):
        if len(lines) == most:
            break
        entry = entries[index]
        text = _sentence(Told(study, sitting, entry, times[index]))
        if text is None:
            continue
        missing = entry.id in sitting.wordless and entry.id not in struck
        if entry.id in sitting.left_out and not isinstance(entry.content, j.Unreadable):
            text = f"{text} (left out: {sitting.left_out[entry.id].split(': ', 1)[-1]})"
        if entry.author in sitting.observers and not isinstance(entry.content, j.ObserverJoined):
            text = f"{text} · {entry.author}"
        remark = sitting.remarks.get(entry.id)
        # A mark that was moved stands where it belongs to, at the place in the list where it was made.
        at_ns = times[index] if remark is None else remark.at_ns
        lines.append(
            JournalLine(entry.number, clock_text(at_ns), entry.content.kind, text, entry.id in struck, missing)
        )
    lines.reverse()
    return lines


def _sentence(told: Told) -> str | None:
    """The words of an entry's line; None for entries that show in another line."""
    content = told.entry.content
    return content.sentence(told) if isinstance(content, Happening) else f"left out: {content.why}"


def look_back(opened: StudyReading, number: int) -> list[JournalLine]:
    """The whole journal of a sitting, without opening it for logging."""
    entries = opened.entries.get(number, [])
    sitting = opened.sittings.get(number)
    if sitting is None:
        return []
    struck = {entry.content.entry for entry in entries if isinstance(entry.content, j.Struck)}
    return journal_lines(opened.study, sitting, entries, entry_times(entries), struck, most=len(entries))


def look_back_between(
    opened: StudyReading,
    number: int,
    begin_seconds: float = 0.0,
    end_seconds: float = float("inf"),
    *,
    kinds: Collection[str] = (),
) -> list[JournalLine]:
    """The lines of a sitting's journal from one moment until before another one.

    Args:
        opened: The study.
        number: The sitting.
        begin_seconds, end_seconds: The moments, in seconds since it began.
        kinds: Of these kinds of entries alone; empty for all.
    """
    entries = opened.entries.get(number, [])
    times = dict(zip((entry.number for entry in entries), entry_times(entries), strict=True))
    begin_ns, end_ns = begin_seconds * 1e9 - 0.5, end_seconds * 1e9 - 0.5
    return [
        line
        for line in look_back(opened, number)
        if begin_ns <= times[line.number] < end_ns and (not kinds or line.kind in kinds)
    ]


def _card_line(sitting: Sitting, card: TaskCard, in_hand: bool) -> CardLine:
    attempt = sitting.last_try(card.id)
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
