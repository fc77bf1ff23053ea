"""A sitting as text: out to any editor or player, and in again from notes that were typed beside a recording."""

import re
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from fresh_chair.core.clock import SECOND, Moment, clock_text
from fresh_chair.core.errors import InputError, JournalError, Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.safe import safe
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contradictions import impossible_entries
from fresh_chair.core.sitting.entries.syntax import TimedContent
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import replay as replayed
from fresh_chair.core.sitting.state.sitting import TYPED_BOOT, Sitting
from fresh_chair.core.sitting.text.lines import lines_of, time_text
from fresh_chair.core.sitting.text.typed_lines import read_lines
from fresh_chair.core.text import clipped, legible, listed
from fresh_chair.services.plan.chairs import altered, moved
from fresh_chair.services.sitting.corrections import wall_ns_of
from fresh_chair.services.sitting.view import look_back
from fresh_chair.services.study.open_study import OpenStudy, new_id
from fresh_chair.services.system.files import Written, name_of, read_text, write_file

_MOST_BYTES = 20_000_000
# Notes that stand in a player's own format begin a cue each.
_CUE_SECONDS = 3.0


def sitting_lines(opened: OpenStudy, number: int) -> str:
    """A sitting's journal in the line format.

    Raises:
        InputError: Where nothing is logged of it.
    """
    entries = entries_of(opened, number)
    seat = opened.study.seat(number)
    return lines_of(entries, title=f"sitting {number}, {seat.participant} at {seat.chair}")


def sitting_cues(opened: OpenStudy, number: int, *, offset_seconds: float | None = None) -> str:
    """A sitting's marks as WebVTT, to be laid over its recording; cards become chapters.

    Args:
        opened: The study.
        number: The planned sitting's number.
        offset_seconds: Where in the recording the sitting begins; by default as its journal says.

    Raises:
        InputError: As `sitting_lines`.
    """
    chapters, offset_seconds = _chapters(opened, number, offset_seconds)
    parts = ["WEBVTT", "NOTE Marks of a sitting; each card or step is a cue of its own over its whole length."]
    parts += [_cue(each.name, each.begin, each.end, each.words) for each in chapters]
    for line in look_back(opened, number):
        if line.struck:
            continue
        begin = _seconds(line.at) + offset_seconds
        parts.append(_cue(f"mark-{line.number}", begin, begin + _CUE_SECONDS, line.text))
    return "\n\n".join(parts) + "\n"


def sitting_chapters(opened: OpenStudy, number: int, *, offset_seconds: float | None = None) -> str:
    """A sitting's cards, or a walk's steps, as lines of time and title, for the description of its recording.

    Raises:
        InputError: As `sitting_lines`.
    """
    chapters, _ = _chapters(opened, number, offset_seconds)
    begins: dict[str, float] = {}
    for each in chapters:
        begins.setdefault(each.title, each.begin)
    return "".join(f"{clock_text(round(begin * SECOND))} {legible(title)}\n" for title, begin in begins.items())


@frozen
class _Chapter:
    """A stretch of a recording, in seconds, that one card or step fills."""

    name: str
    begin: float
    end: float
    title: str
    ended: str

    @property
    def words(self) -> str:
        return f"{self.title} ({self.ended})" if self.ended else self.title


def _chapters(opened: OpenStudy, number: int, offset_seconds: float | None) -> tuple[list[_Chapter], float]:
    """The chapters of a sitting in the order of time, and where in the recording it begins."""
    entries_of(opened, number)
    sitting, study = opened.sittings[number], opened.study
    offset = offset_seconds
    if offset is None:
        offset = sitting.offset_seconds
    found = []
    for attempt in sitting.tried:
        if attempt.stopped_ns is None:
            continue
        title = study.card_by_id[attempt.card].title if attempt.card in study.card_by_id else attempt.card
        ended = attempt.outcome.words if attempt.outcome is not None else ""
        begin, end = (ns / SECOND + offset for ns in (attempt.started_ns, attempt.stopped_ns))
        found.append(_Chapter(f"card-{attempt.number}", begin, end, title, ended))
    for step in sitting.walk.steps if sitting.walk is not None else ():
        ended = step.ending.words if step.ending is not None else "open"
        for at, stretch in enumerate(step.in_hand, start=1):
            begin, end = (ns / SECOND + offset for ns in stretch)
            found.append(_Chapter(f"step-{step.number}-{at}", begin, end, step.title, ended))
    return sorted(found, key=lambda chapter: chapter.begin), offset


def draw_sitting(opened: OpenStudy, number: int, path: Path) -> Written:
    """Draw a sitting over time, as SVG or PDF by the ending of the file's name.

    Raises:
        InputError: Where nothing is logged of it, or the file is to be of another kind.
        OutsideError: Where it cannot be written.
    """
    from fresh_chair.draw.paper import saved
    from fresh_chair.draw.sitting import sitting_chart

    entries_of(opened, number)
    kind = path.suffix.casefold().removeprefix(".")
    if kind not in ("svg", "pdf"):
        raise InputError(f"{legible(path.name)} is neither .svg nor .pdf.", "Nothing was drawn.")
    figure = sitting_chart(opened.study, opened.study.seat(number), opened.sittings[number])
    return write_file(path, saved(figure, kind), f"sitting {number} over time")


def take_lines(
    opened: OpenStudy, number: int, path: Path, *, began: str = "", recording: str = "", offset_seconds: float = 0.0
) -> int:
    """Make a text in the line format the journal of a sitting without one; returns how many entries.

    Args:
        opened: The study.
        number: The planned sitting's number.
        path: The text.
        began: When the sitting began, such as 2026-11-09T10:00; now by default.
        recording: The recording that the times belong to, where there is one.
        offset_seconds: Where in it the sitting begins.

    Raises:
        InputError: Where the text says what cannot be, each reason @ line; nothing is taken from it.
        Refused: Where the sitting has entries already, or the study may only be read.
        NotSaved: Where the disk refuses.
    """
    name = name_of(path)
    read = read_lines(notes_text(path), name=name, cards=card_names(opened.study))
    read = _from_recording([_titled(opened.study, each) for each in read], offset_seconds, name)
    if recording.strip() and read:
        read = _with_second(read, j.RecordingOpened(clipped(recording.strip(), 400), offset_seconds))
    role = opened.study.person_by_code[opened.study.seat(number).participant].role
    if role == "reviewer" and read and not any(isinstance(each.content, j.WalkBegan) for each in read):
        read = _with_second(read, j.WalkBegan())
    return take_contents(opened, number, read, name=name, began=began)


def _titled(study: Study, timed: TimedContent) -> TimedContent:
    """A step that was opened by its card's id alone, with the card's title."""
    content = timed.content
    if not isinstance(content, j.StepOpened) or content.title != content.card or content.card not in study.card_by_id:
        return timed
    return replace(timed, content=replace(content, title=study.card_by_id[content.card].title))


def _with_second(read: list[TimedContent], content: j.Content) -> list[TimedContent]:
    """The same with one more entry after the first; those that speak of an entry by its number counted without it."""
    first, *others = read
    second = TimedContent(first.at_ns, content)
    return [first, second, *(replace(each, about=each.about + (each.about > 1)) for each in others)]


def card_names(study: Study) -> dict[str, str]:
    """Ids of cards by their possible names in a text: their ids and their titles, in small letters.

    A title that two cards have names neither.
    """
    titles = [card.title.casefold() for card in study.cards]
    named = {card.title.casefold(): card.id for card in study.cards if titles.count(card.title.casefold()) == 1}
    return named | {card.id: card.id for card in study.cards}


def _from_recording(read: list[TimedContent], offset_seconds: float, name: str) -> list[TimedContent]:
    """Times since sitting down, where the text counts as its recording does.

    A text that begins at 0:00 counts from sitting down already.

    Raises:
        InputError: Where it begins elsewhere than the offset says, or before it.
    """
    offset_ns = round(offset_seconds * SECOND) if 0 <= offset_seconds <= j.MOST_SECONDS else -1
    if offset_ns < 0:
        raise InputError("A sitting begins somewhere in its recording: --offset 2:31.", "Nothing was taken.")
    typed = [each for each in read if each.line]
    if not typed or typed[0].at_ns == 0:
        return read
    first = typed[0]
    sat = isinstance(first.content, j.SittingBegan)
    if (sat and first.at_ns != offset_ns) or first.at_ns < offset_ns:
        at = time_text(first.at_ns)
        raise InputError(
            f"{name} begins at {at}, and the sitting at {time_text(offset_ns)} of the recording.",
            f"Say --offset {at} where the times are those of the recording, or begin with 0:00. Nothing was taken.",
        )
    return [replace(each, at_ns=max(each.at_ns - offset_ns, 0)) for each in read]


def take_contents(opened: OpenStudy, number: int, read: Sequence[TimedContent], *, name: str, began: str = "") -> int:
    """Make parsed contents the journal of a sitting without one. Raises as `take_lines`."""
    opened.require_adding()
    seat = opened.study.seat(number)
    if opened.entries.get(number):
        raise Refused(f"Sitting {number} was logged already.", "Nothing was taken.")
    if not read:
        raise InputError(f"{name} says nothing.", "Nothing was taken from it.")
    start = _began(opened, began)
    entries = _as_entries(opened, read, name, start)
    problems = _problems_by_line(opened, seat.number, entries, read)
    if problems:
        raise InputError(f"{name} tells what cannot have been:\n{listed(problems)}", "Nothing was taken from it.")
    append_entries(opened, seat.number, _with_states(opened, seat.chair, entries), name)
    return len(entries)


def _with_states(opened: OpenStudy, letter: str, entries: list[Entry]) -> list[Entry]:
    """The entries, with a state of the chair made for each alteration and each move to another machine.

    Numbers that came with a text are those of the study it was written from.
    """
    made = []
    for entry in entries:
        content = entry.content
        chair = opened.study.chair_by_letter[letter]
        if isinstance(content, j.ChairAltered):
            # A text of the very study says what is on record already.
            if content.words not in chair.alterations:
                opened.amend(altered(opened.study, letter, content.words), within=True)
        elif isinstance(content, j.WalkMoved):
            if content.machine not in (chair.machine, opened.study.machine_of(chair).name):
                opened.amend(moved(opened.study, letter, content.machine)[0], within=True)
        else:
            made.append(entry)
            continue
        state = opened.plans.chair_states()[letter][-1].number
        made.append(replace(entry, content=replace(content, state=state)))
    return made


def _as_entries(opened: OpenStudy, read: Sequence[TimedContent], name: str, start: Moment) -> list[Entry]:
    """Parsed contents as entries; one that refers to the entry before it gets that one's id.

    Raises:
        InputError: All that speak of an entry which is none before them, each as reason @ line.
    """
    boot = f"{TYPED_BOOT}{new_id()}"
    ids = [new_id() for _ in read]
    entries: list[Entry] = []
    problems = []
    for index, timed in enumerate(read, start=1):
        content = timed.content
        if timed.about:
            target = timed.about if timed.about > 0 else index + timed.about
            if timed.last:
                kinds = [entry.content.kind for entry in entries]
                target = len(kinds) - kinds[::-1].index(timed.last) if timed.last in kinds else 0
            if not 1 <= target < index:
                said = f"there is no {timed.last} before it" if timed.last else f"entry #{target} is none before it"
                problems.append(f"{said} @ line {timed.line}")
            else:
                assert isinstance(content, j.About)
                content = replace(content, entry=ids[target - 1])
        moment = Moment(timed.at_ns, boot, start.wall_ns + timed.at_ns)
        entries.append(Entry(ids[index - 1], index, moment, timed.observer or opened.author, content))
    if problems:
        raise InputError(f"{name} cannot be used as it is:\n{listed(problems)}", "Nothing was taken from it.")
    return entries


def _problems_by_line(opened: OpenStudy, number: int, entries: list[Entry], read: Sequence[TimedContent]) -> list[str]:
    """All contradictions, each as reason @ line; consequences of an earlier one are left out."""
    lines = [timed.line for timed in read]
    numbers = {entry.id: entry.number for entry in entries}
    state: Sitting = replayed(number, opened.study.seat(number).cards, entries, lenient=True)
    found = {numbers[name]: why.split(": ", 1)[-1] for name, why in state.left_out.items()}
    found |= {n: why for n, why in impossible_entries(opened.study, number, entries) if n not in found}
    return [f"{why.rstrip('.')} @ line {lines[n - 1]}" for n, why in sorted(found.items())]


def notes_text(path: Path) -> str:
    """The text of a file of notes. Raises FileProblem where it cannot be read."""
    return read_text(path, _MOST_BYTES, kept="Nothing was taken from it.", what="notes of a sitting")


def append_entries(opened: OpenStudy, number: int, fresh: list[Entry], name: str) -> None:
    """Append entries that came from a file. Raises InputError where they contradict the journal."""
    fresh = safe(fresh)
    entries = [*opened.entries.get(number, []), *fresh]
    before = opened.sittings.get(number)
    try:
        aside = frozenset(before.left_out) if before is not None else frozenset()
        state = replayed(number, opened.study.seat(number).cards, entries, aside=aside)
    except JournalError as problem:
        said = re.sub(rf"^Sitting {number}, entry (\d+): ", r"entry \1: ", problem.title)
        raise InputError(f"{name} tells what cannot have been: {said}", "Nothing was taken from it.") from problem
    first = len(entries) - len(fresh)
    strange = [f"{why} @ entry {n}" for n, why in impossible_entries(opened.study, number, entries) if n > first]
    if strange:
        raise InputError(f"{name} tells what cannot have been:\n{listed(strange)}", "Nothing was taken from it.")
    opened.journals.append(number, fresh)
    opened.replayed.take(number, entries, state)


def entries_of(opened: OpenStudy, number: int) -> Sequence[Entry]:
    """The journal of a sitting. Raises InputError where nothing is logged of it."""
    opened.study.seat(number)
    entries = opened.entries.get(number)
    if not entries:
        raise InputError(f"Nothing is logged of sitting {number} yet.")
    return entries


def _began(opened: OpenStudy, began: str) -> Moment:
    now = opened.clock.now()
    return Moment(now.ticks_ns, now.boot, wall_ns_of(began)) if began.strip() else now


def _seconds(at: str) -> float:
    parts = [int(part) for part in at.split(":")]
    seconds: int = sum(part * 60**index for index, part in enumerate(reversed(parts)))
    return float(seconds)


def _cue(name: str, begin: float, end: float, words: str) -> str:
    safe = legible(words).replace("&", "&amp;").replace("<", "&lt;").replace("-->", "→")
    return f"{name}\n{_stamp(begin)} --> {_stamp(max(end, begin + 0.001))}\n{safe}"


def _stamp(seconds: float) -> str:
    milliseconds = round(max(seconds, 0.0) * 1000)
    hours, rest = divmod(milliseconds, 3_600_000)
    minutes, rest = divmod(rest, 60_000)
    return f"{hours:02}:{minutes:02}:{rest // 1000:02}.{rest % 1000:03}"
