"""Checking the clocks of sittings: nothing lies beyond its recording, waits for ever, or took no time at all."""

from collections.abc import Callable, Iterable, Mapping
from pathlib import Path

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import count_of, legible
from fresh_chair.probe.recordings import length_seconds
from fresh_chair.services.sitting.recording import recording_path

# A player's own length and the last frame it stands at differ by a little.
_SLACK_SECONDS = 2.0


def clock_problems(
    sittings: Mapping[int, Sitting], beside: Path, *, length: Callable[[Path], float | None] = length_seconds
) -> tuple[list[str], list[str]]:
    """The faults in the times of sittings, and the times that the reviewer should look at, each a sentence.

    Args:
        sittings: By their numbers.
        beside: The study file; recordings may lie beside it.
        length: Tells the length of a recording in seconds; None where it cannot.
    """
    problems: list[str] = []
    remarks: list[str] = []
    for number, sitting in sittings.items():
        problems += _beyond(number, sitting, beside, length)
        remarks += [
            f"Sitting {number}, attempt {attempt.number} ({attempt.card}): it took 0 seconds from beginning to end"
            for attempt in sitting.tried
            if attempt.outcome is not None and attempt.outcome.counts and not attempt.elapsed_ns()
        ]
        if sitting.ahead and sitting.over is not None:
            at = clock_text(round(min(ns for ns, _ in sitting.ahead) + sitting.offset_seconds * SECOND))
            waits = f"{count_of(len(sitting.ahead), 'note')} still {'waits' if len(sitting.ahead) == 1 else 'wait'}"
            remarks.append(f"Sitting {number}: {waits} for {at} of the recording; it was ended before")
    return problems, remarks


def _beyond(number: int, sitting: Sitting, beside: Path, length: Callable[[Path], float | None]) -> Iterable[str]:
    """Times that lie beyond the end of their recording, where that can be known here."""
    if sitting.recording is None:
        return
    path = recording_path(sitting.recording[0], beside)
    long = length(path) if path is not None else None
    last = max(_moments(sitting), default=0) / SECOND + sitting.offset_seconds
    if path is not None and long is not None and last > long + _SLACK_SECONDS:
        yield (
            f"Sitting {number}: its last time is {clock_text(round(last * SECOND))}, and {legible(path.name)} is "
            f"{clock_text(round(long * SECOND))} long"
        )


def _moments(sitting: Sitting) -> Iterable[int]:
    """Every time that a sitting's record holds, in nanoseconds since it began."""
    yield sitting.line.own_ns
    yield from (remark.at_ns for remark in sitting.remarks.values())
    yield from (at_ns for at_ns, _ in sitting.ahead)
