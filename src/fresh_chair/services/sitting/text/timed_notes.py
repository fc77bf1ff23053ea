"""Notes with times, from a player or an editor, as marks of a sitting that were added late."""

import re
from collections.abc import Iterator
from pathlib import Path

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.typed_marks import TypedMark, read_typed
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.text import clipped, count_of
from fresh_chair.services.sitting.corrections import late_marks
from fresh_chair.services.sitting.text.notes import append_entries, entries_of, notes_text
from fresh_chair.services.study.open_study import OpenStudy, new_id
from fresh_chair.services.system.files import name_of

_STAMP = re.compile(r"(?:(\d{1,3}):)?(\d{2}):(\d{2})[.,](\d{3})")


@frozen
class NotesTaken:
    """How many notes of a file were taken.

    Attributes:
        taken: Those that are marks from now on.
        known: Those that had been taken before; they stand once.
        waiting: Of the taken ones, those for a moment that the recording has not come to.
    """

    taken: int
    known: int = 0
    waiting: int = 0

    @property
    def words(self) -> str:
        """A sentence that says so."""
        said = [f"{count_of(self.taken, 'note')} taken"]
        if self.waiting:
            wait = "waits" if self.waiting == 1 else "wait"
            said.append(f"{self.waiting} of them {wait} until the recording is there")
        if self.known:
            said.append(f"{self.known} {'was' if self.known == 1 else 'were'} there already")
        return "; ".join(said) + "."


def take_notes(opened: OpenStudy, number: int, path: Path, *, offset_seconds: float | None = None) -> NotesTaken:
    """Notes from WebVTT or SRT become marks added late, at their times.

    A note that begins with a kind of mark (`snag wrong menu`) becomes one of that kind; all others are notes. One
    that was taken from the same file before, or stands at its moment already, is not taken twice. In a sitting that
    is being logged from its recording, notes for a later moment wait for it.

    Args:
        opened: The study.
        number: A sitting that was logged.
        path: The file.
        offset_seconds: Where in the recording the sitting begins.

    Raises:
        InputError: Where it holds no cue, or a time before the sitting; nothing is taken from it then.
        Refused, NotSaved: As `take_lines`.
    """
    opened.require_adding()
    entries, name = entries_of(opened, number), name_of(path)
    sitting = opened.sittings[number]
    offset = sitting.offset_seconds if offset_seconds is None else offset_seconds
    found = list(_marks_of(opened, number, path, offset))
    if not found:
        raise InputError(f"{name} holds no note with a time.", "Notes are read from WebVTT and SRT.")
    known = _known(opened, number)
    fresh = [content for content in found if _sameness(content) not in known]
    moment = _moment(opened, number)
    append_entries(
        opened,
        number,
        [Entry(new_id(), len(entries) + n, moment, opened.author, content) for n, content in enumerate(fresh, start=1)],
        name,
    )
    ids = {entry.id for _, entry in opened.sittings[number].ahead}
    waiting = sum(entry.id in ids for entry in opened.entries[number][-len(fresh) :]) if fresh else 0
    return NotesTaken(len(fresh), len(found) - len(fresh), waiting)


def _marks_of(opened: OpenStudy, number: int, path: Path, offset: float) -> Iterator[j.AddedLate]:
    """Every note of a file as a mark. Raises InputError for one before the sitting."""
    kinds, name = late_marks(opened, number), name_of(path)
    for at, words in cues_in(notes_text(path)):
        if at < offset:
            raise InputError(
                f"{name} has a note before the sitting began, at {at:.1f} s.", "Nothing was taken from it."
            )
        kind, _, rest = words.partition(" ")
        mark = kind.rstrip(":").casefold()
        known = mark in kinds and mark in j.WORDABLE and rest.strip()
        typed = read_typed(rest) if known else TypedMark(words.strip())
        yield j.AddedLate(
            mark if known else "note",  # type: ignore[arg-type]
            round(max(at - offset - typed.seconds_earlier, 0.0), 3),
            clipped(typed.words or rest.strip(), j.MAX_WORDS),
            f"from {clipped(name, 80)}",
            typed.severity if mark == "snag" else None,
        )


def _sameness(content: j.AddedLate) -> tuple[str, int, str]:
    """The file, the moment in milliseconds, and the words of a note: two that share them are one."""
    return content.reason, round(content.at_seconds * 1000), content.words


def _known(opened: OpenStudy, number: int) -> set[tuple[str, int, str]]:
    """The notes that were taken already, struck ones too, which come in once only."""
    contents = [entry.content for entry in opened.entries[number]]
    return {_sameness(content) for content in contents if isinstance(content, j.AddedLate)}


def _moment(opened: OpenStudy, number: int) -> Moment:
    """When notes are taken: now, and in a recording where that stands, whose clock they never move."""
    sitting = opened.sittings[number]
    if sitting.recording is not None and sitting.line.last is not None:
        return sitting.line.last
    return opened.clock.now()


def cues_in(text: str) -> list[tuple[float, str]]:
    """Begin in seconds and words of every cue of a WebVTT or SRT text.

    >>> cues_in("1\\n00:00:02,500 --> 00:00:04,000\\nwrong menu\\n")
    [(2.5, 'wrong menu')]
    """
    found = []
    for block in re.split(r"\n\s*\n", text.replace("\r\n", "\n").replace("\r", "\n")):
        lines = block.strip("\n").split("\n")
        for index, line in enumerate(lines):
            begin, arrow, _ = line.partition("-->")
            match = _STAMP.search(begin) if arrow else None
            if match is not None:
                hours, minutes, seconds, thousandths = (int(part or 0) for part in match.groups())
                words = " ".join(re.sub(r"<[^<>]*>", "", each).strip() for each in lines[index + 1 :]).strip()
                if words:
                    found.append((hours * 3600 + minutes * 60 + seconds + thousandths / 1000, words))
                break
    return found
