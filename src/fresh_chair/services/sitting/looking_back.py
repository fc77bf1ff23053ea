"""A finished sitting as rows over time, and its entries to step through."""

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.state.attempt import Span, Tick
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.sitting.corrections import EntryLine, entry_lines
from fresh_chair.services.study.open_study import OpenStudy


@frozen
class TimeRow:
    """One attempt over time, in nanoseconds since the sitting began.

    Attributes:
        limit_ns, benchmark_ns: Where on the line the limit and the expert's time stand; None where they are not on it.
    """

    number: int
    title: str
    begin_ns: int
    end_ns: int
    spans: tuple[Span, ...]
    ticks: tuple[Tick, ...]
    outcome: Outcome | None
    limit_ns: int | None
    benchmark_ns: int | None


@frozen
class TimedEntry:
    """One entry of the journal where it stands.

    Attributes:
        row: Which row it belongs to, from 0; None between attempts.
    """

    at_ns: int
    line: EntryLine
    row: int | None


@frozen
class SittingOverTime:
    """Everything the drawing shows."""

    end_ns: int
    rows: tuple[TimeRow, ...]
    entries: tuple[TimedEntry, ...]


def over_time(opened: OpenStudy, number: int) -> SittingOverTime:
    """One sitting of the open study, as far as it has come."""
    sitting, seat = opened.sittings[number], opened.study.seat(number)
    cards = opened.study.card_by_id
    rows = []
    for attempt in sitting.tried:
        end_ns = attempt.stopped_ns if attempt.stopped_ns is not None else sitting.at_ns
        card = cards.get(attempt.card)
        benchmark = None if card is None else card.benchmark_seconds.get(seat.chair)
        limit_ns = None if card is None else attempt.line_ns(card.limit_seconds * SECOND)
        rows.append(
            TimeRow(
                attempt.number,
                card.title if card is not None else attempt.card,
                attempt.started_ns,
                end_ns,
                tuple(attempt.lanes(sitting.at_ns)),
                tuple(attempt.ticks),
                attempt.outcome,
                limit_ns if limit_ns is not None and limit_ns <= end_ns else None,
                None if benchmark is None else attempt.line_ns(round(benchmark * SECOND)),
            )
        )
    end_ns = sitting.over_ns if sitting.over_ns is not None else sitting.at_ns
    return SittingOverTime(end_ns, tuple(rows), _entries(opened, number))


def _entries(opened: OpenStudy, number: int) -> tuple[TimedEntry, ...]:
    sitting, entries = opened.sittings[number], opened.entries[number]
    times = dict(zip((entry.id for entry in entries), entry_times(entries), strict=True))
    row_of = {attempt.number: row for row, attempt in enumerate(sitting.tried)}
    moved = {tick.entry: tick.at_ns for attempt in sitting.attempts for tick in attempt.ticks if tick.entry}
    moved |= {remark.entry: remark.at_ns for remark in sitting.remarks.values()}
    holder = {tick.entry: attempt.number for attempt in sitting.tried for tick in attempt.ticks if tick.entry}
    found = []
    for line in entry_lines(opened, number):
        at_ns = moved.get(line.entry.id, times[line.entry.id])
        attempt = sitting.attempt_at(at_ns)
        held = holder.get(line.entry.id, attempt.number if attempt is not None else None)
        found.append(TimedEntry(at_ns, line, None if held is None else row_of.get(held)))
    return tuple(sorted(found, key=lambda each: (each.at_ns, each.line.entry.number)))


def axis_steps(begin_ns: int, end_ns: int, most: int) -> list[tuple[int, str]]:
    """Moments for an axis with at most so many of them, each with its label."""
    minutes = (1, 2, 5, 10, 15, 30, 60, 120, 360, 1440)
    seconds = [*(5, 10, 15, 30), *(60 * minute for minute in minutes)]
    span = max((end_ns - begin_ns) / SECOND, 1)
    step = next((each for each in seconds if span / each <= max(most, 1)), seconds[-1])
    first = -(-begin_ns // (step * SECOND))
    last = end_ns // (step * SECOND)
    return [(index * step * SECOND, clock_text(index * step * SECOND)) for index in range(first, last + 1)]
