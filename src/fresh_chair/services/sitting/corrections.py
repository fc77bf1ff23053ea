"""Correcting a journal, live or days after: nothing is overwritten, each correction names its entry and its reason."""

import re
from datetime import datetime
from typing import get_args

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.evidence.kinds import KINDS
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import WORDED_MARKS
from fresh_chair.core.sitting.entries.typed_marks import read_typed
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.rules import MOVABLE
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.view import JournalLine, look_back
from fresh_chair.services.study.open_study import OpenStudy

LATE_MARKS: tuple[j.LateMark, ...] = get_args(j.LateMark)


@frozen
class EntryLine:
    """One entry of a journal, to be corrected.

    Attributes:
        at: When, since the sitting began; where a mark was moved, where it stands now.
        corrected: What was done to it since, each in a sentence with when and by whom.
    """

    entry: j.Entry
    at: str
    text: str
    struck: bool
    corrected: tuple[str, ...]


def entry_lines(opened: OpenStudy, number: int) -> list[EntryLine]:
    """Every entry of a sitting that stands for itself, oldest first, with its corrections beside it."""
    entries = opened.entries.get(number, [])
    shown: dict[int, JournalLine] = {line.number: line for line in look_back(opened, number)}
    times = dict(zip((entry.id for entry in entries), entry_times(entries), strict=True))
    corrections: dict[str, list[str]] = {}
    for entry in entries:
        target = getattr(entry.content, "entry", None)
        if target is not None:
            corrections.setdefault(target, []).append(_said(entry, times[entry.id]))
    return [
        EntryLine(entry, line.at, line.text, line.struck, tuple(corrections.get(entry.id, ())))
        for entry in entries
        if (line := shown.get(entry.number)) is not None
    ]


def _said(entry: j.Entry, at_ns: int) -> str:
    when = f"{clock_text(at_ns)}, {entry.author}"
    match entry.content:
        case j.Struck(reason=reason):
            return f"struck ({when}): {reason}"
        case j.MarkMoved(seconds_earlier=seconds, reason=reason):
            way = "earlier" if seconds > 0 else "later"
            return f"moved {abs(seconds)} s {way} ({when}){': ' if reason else ''}{reason}"
        case j.Worded(words=words):
            return f"worded ({when}): {words}"
        case j.EvidenceTold(evidence=evidence):
            return f"known: {evidence} ({when})"
        case j.SideTold(side=side):
            return f"side: {side} ({when})"
        case j.SnagRated(severity=severity):
            return f"rated {severity} of 4 ({when})"
        case _:
            return f"{entry.content.kind.replace('_', ' ')} ({when})"


def strike(live: LiveSitting, entry: j.Entry, reason: str) -> None:
    """An entry does not hold. Raises InputError without a reason; Refused where the rest would make no sense."""
    live.correct(j.Struck(entry.id, _reason(reason)), live.now())


def move(live: LiveSitting, entry: j.Entry, text: str) -> None:
    """A mark belongs earlier or later: `-10 pressed late`, `+5 the other way`. Raises as `strike`."""
    match = re.fullmatch(r"\s*([+-])(\d{1,4})\b\s*(.*)", text)
    if match is None or not int(match.group(2)):
        raise InputError("Say by how much, and why: -10 pressed late.", "Nothing was changed.")
    if entry.content.kind not in MOVABLE:
        raise Refused("Only a mark can be moved, and no clock that was started or stopped.")
    seconds = int(match.group(2)) * (1 if match.group(1) == "-" else -1)
    live.correct(j.MarkMoved(entry.id, max(min(seconds, 3600), -3600), _reason(match.group(3))), live.now())


def reword(live: LiveSitting, entry: j.Entry, words: str) -> None:
    """Other words for a mark that has some; the first ones stay. Raises as `strike`."""
    if entry.content.kind not in (*j.WORDABLE, *WORDED_MARKS, "added_late"):
        raise Refused("This entry has no words to change.")
    if not words.strip():
        raise InputError("A mark without words says nothing; strike it, with a reason.", "Nothing was changed.")
    live.correct(j.Worded(entry.id, words.strip()), live.now())


def tell_evidence(live: LiveSitting, entry: j.Entry, evidence: str) -> None:
    """Tell how a mark, a step or an outcome is known. Raises InputError where the text is no kind of evidence."""
    kind = next((kind for kind in KINDS if kind == evidence.strip().casefold()), None)
    if kind is None:
        shown = legible(clipped(evidence, 30))
        raise InputError(f"“{shown}” is no kind of evidence.", f"These are: {', '.join(KINDS)}.")
    live.correct(j.EvidenceTold(entry.id, kind), live.now())


def late_marks(opened: OpenStudy, number: int) -> tuple[j.LateMark, ...]:
    """The kinds of mark that can be added late to a sitting: lines to a walk alone, marks of an attempt to no walk."""
    sitting = opened.sittings.get(number)
    walked = sitting is not None and sitting.walk is not None and not sitting.walk.declared
    return tuple(mark for mark in LATE_MARKS if (mark in j.WORDABLE if walked else mark != "line"))


def add_late(live: LiveSitting, mark: str, at: str, words: str, reason: str) -> None:
    """A mark that was missed at the time. Raises InputError where its time is none; else as `strike`."""
    if mark not in LATE_MARKS:
        raise InputError("Nothing of that kind can be added late.", f"These can: {', '.join(LATE_MARKS)}.")
    if mark in j.WORDABLE and not words.strip():
        raise InputError("What is added late needs words.", "Nothing was changed.")
    typed = read_typed(words.strip())
    said = typed.words if typed.severity is not None or typed.seconds_earlier else words.strip()
    if mark in j.WORDABLE and not said:
        raise InputError("What is added late needs words.", "Nothing was changed.")
    at_seconds = max(seconds_of(at) - typed.seconds_earlier, 0.0)
    content = j.AddedLate(mark, at_seconds, said, _reason(reason), typed.severity if mark == "snag" else None)
    live.correct(content, live.now())


def judge_again(live: LiveSitting, attempt: int, outcome: Outcome, reason: str) -> None:
    """An attempt is judged otherwise, void included. Raises as `strike`."""
    live.correct(j.OutcomeCorrected(attempt, outcome, _reason(reason)), live.now())


def split(live: LiveSitting, attempt: int, at: str, outcome: Outcome, card: str, reason: str) -> None:
    """One attempt was two: the first part ended then, the second was a go at that card. Raises as `strike`."""
    live.correct(j.AttemptSplit(attempt, seconds_of(at), outcome, card, _reason(reason)), live.now())


def join(live: LiveSitting, attempt: int, later: int, reason: str) -> None:
    """Two attempts were one. Raises as `strike`."""
    live.correct(j.AttemptsJoined(attempt, later, _reason(reason)), live.now())


def score_of(text: str) -> int | None:
    """A number of a scale as it is typed; None for `-`, `none` or nothing. Raises InputError where it is none."""
    given = text.strip()
    if given in ("", "-", "none"):
        return None
    if not given.isdecimal() or len(given) > 2:
        raise InputError(f"“{legible(clipped(given, 20))}” is no number of a scale.", "Nothing was changed.")
    return int(given)


def correct_ease(live: LiveSitting, attempt: int, score: int | None, reason: str) -> None:
    """How easy an attempt was, otherwise than it was put down; None for not answered. Raises as `strike`."""
    live.correct(j.RatingCorrected("ease", _reason(reason), attempt=attempt, score=score), live.now())


def correct_usability(live: LiveSitting, item: int, score: int | None, reason: str) -> None:
    """An answer of the usability scale, otherwise than it was put down. Raises as `strike`."""
    live.correct(j.RatingCorrected("usability", _reason(reason), item=item, score=score), live.now())


def correct_answer(live: LiveSitting, question: str, attempt: int, answer: str, reason: str) -> None:
    """An answer to one of the study's own questions, as it is typed; `-` for none. Raises as `strike`."""
    found = next((each for each in live.opened.study.sheet.questions if each.id == question), None)
    if found is None:
        raise InputError(f"The study asks no question “{legible(clipped(question, 40))}”.", "Nothing was changed.")
    given = answer.strip()
    score = score_of(given) if found.kind == "scale" else None
    words = "" if found.kind == "scale" or given == "-" else given[: j.MAX_WORDS]
    content = j.RatingCorrected(
        "question", _reason(reason), attempt=attempt, question=question, score=score, words=words
    )
    live.correct(content, live.now())


def late_stop(text: str) -> tuple[float, str]:
    """By how many seconds a clock was stopped too late, and why: `-12 we talked on`. Raises InputError for none."""
    match = re.fullmatch(r"\s*-(\d{1,4}(?:\.\d{1,3})?)\b\s*(.*)", text)
    if match is None or not float(match.group(1)):
        raise InputError("Say by how much it was late, and why: -12 we talked on.", "Nothing was changed.")
    return float(match.group(1)), match.group(2)


def move_stop(live: LiveSitting, attempt: int, seconds: float, reason: str) -> None:
    """An attempt's clock was stopped too late by so many seconds. Raises as `strike`."""
    live.correct(j.StopMoved(attempt, seconds, _reason(reason)), live.now())


def refuse_benchmark(live: LiveSitting, attempt: int, reason: str) -> None:
    """An expert's attempt does not count for the benchmark. Raises as `strike`."""
    live.correct(j.BenchmarkRefused(attempt, _reason(reason)), live.now())


def outcome_of(text: str) -> Outcome:
    """An ending by its name or in its words. Raises InputError for none."""
    found = {outcome.value: outcome for outcome in Outcome} | {outcome.words: outcome for outcome in Outcome}
    wanted = text.strip().replace("-", "_") if text.strip() not in found else text.strip()
    if wanted not in found:
        known = ", ".join(outcome.value for outcome in Outcome)
        raise InputError(f"“{legible(clipped(text, 30))}” is no ending.", f"These are: {known}.")
    return found[wanted]


def seconds_of(text: str) -> float:
    """Seconds from a time as a clock shows it: `2:31`, `1:02:31`, `151`.

    >>> seconds_of("2:31"), seconds_of("1:02:31"), seconds_of("151.5")
    (151.0, 3751.0, 151.5)

    Raises:
        InputError: Where it is none.
    """
    match = re.fullmatch(r"\s*(?:(?:(\d{1,2}):)?(\d{1,3}):)?(\d{1,6}(?:\.\d{1,3})?)\s*", text)
    if match is None:
        raise InputError(f"A time is such as 2:31, not “{text[:20]}”.", "Nothing was changed.")
    hours, minutes, seconds = match.groups()
    return int(hours or 0) * 3600 + int(minutes or 0) * 60 + float(seconds)


def offset_of(text: str) -> float:
    """Where in a recording a sitting begins, in seconds: `2:31`, or `151`; 0 for nothing.

    Raises:
        InputError: Where it is no time, or longer than any recording.
    """
    seconds = seconds_of(text) if text.strip() else 0.0
    if seconds > j.MOST_SECONDS:
        raise InputError(f"“{legible(clipped(text, 30))}” is longer than any recording.", "Nothing was changed.")
    return seconds


def wall_ns_of(text: str) -> int:
    """A day and time of this machine's zone, as nanoseconds since 1970 UTC.

    Raises:
        InputError: Where it is none, or of a year in which nobody sat down.
    """
    try:
        when = datetime.fromisoformat(text.strip())
        if 1980 <= when.year <= 2200:
            return round(when.timestamp() * SECOND)
    except (ValueError, OverflowError):
        pass
    raise InputError(
        f"“{legible(clipped(text, 30))}” is no day and time of a sitting.",
        "They are such as 2026-11-09T10:00; nothing was taken.",
    )


def attempt_of(opened: OpenStudy, number: int, entry: j.Entry) -> int | None:
    """The number of the attempt that an entry was made in; None between attempts."""
    entries = opened.entries[number]
    times = dict(zip((each.id for each in entries), entry_times(entries), strict=True))
    attempt = opened.sittings[number].attempt_at(times[entry.id])
    if attempt is None and entry.content.kind in ("outcome_judged", "ease_rated"):
        earlier = [a for a in opened.sittings[number].tried if a.started_ns <= times[entry.id]]
        attempt = earlier[-1] if earlier else None
    return attempt.number if attempt is not None else None


def _reason(reason: str) -> str:
    if not reason.strip():
        raise InputError("A correction needs a reason.", "Nothing was changed.")
    return reason.strip()[: j.MAX_WORDS]
