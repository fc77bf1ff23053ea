"""Files attached to marks, steps and records: hashed, copied beside the study where wished, shown, and erased."""

import contextlib
import hashlib
import os
import re
import shutil
import stat
import subprocess
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from threading import Thread
from typing import BinaryIO

from fresh_chair.core.chair.ledger import ChairEntry, RecordAttached
from fresh_chair.core.clock import SECOND, Moment, clock_text
from fresh_chair.core.errors import FileProblem, FreshChairError, InputError, OutsideError
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair.enquiries import chair_of
from fresh_chair.services.chair.records import find_record
from fresh_chair.services.sitting.journal_writer import JournalWriter
from fresh_chair.services.sitting.recording import read_code, taken_up
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import copy_file, make_folder, name_of, typed_path

_CHUNK = 1_048_576
_KEPT = "Nothing was attached."
# A stretch of a clip after the path: `walk.webm 1:01-1:10`, or where it begins alone.
_STRETCH = re.compile(r"(.*\S)\s+(\d[\d:.,]*)(?:\s*-\s*(\d[\d:.,]*))?")


@frozen
class NamedFile:
    """A file as it was typed: its path, and the stretch of the clip that is meant."""

    path: Path
    begin_seconds: float | None = None
    end_seconds: float | None = None


@frozen
class Shown:
    """One attachment of a sitting, with the mark or step it shows.

    Attributes:
        about: The mark or the step, by the entry that made it.
        entry: The entry that attached it; empty for a record's.
        words: What it shows, in a few words.
    """

    about: str
    entry: str
    words: str
    attachment: Attachment


def named_file(text: str) -> NamedFile:
    """The file and the stretch of a clip that were typed.

    >>> named_file("walk.webm 1:01-1:10")
    NamedFile(path=PosixPath('walk.webm'), begin_seconds=61.0, end_seconds=70.0)

    Raises:
        InputError: Where no path is typed, or the stretch ends before it begins.
    """
    match = _STRETCH.fullmatch(text.strip())
    # A file may be called by a number: the path as a whole comes first.
    if match is None or typed_path(text).exists():
        return NamedFile(typed_path(text))
    begin = read_code(match[2])[0]
    end = read_code(match[3])[0] if match[3] else None
    if end is not None and end < begin:
        raise InputError("A stretch of a clip ends after it begins.", "Such as: walk.webm 1:01-1:10.")
    return NamedFile(typed_path(match[1]), begin, end)


def folder_beside(study: Path) -> Path:
    """The folder beside a study that its copies lie in."""
    return study.with_name(f"{study.name}-files")


def read_attachment(
    named: NamedFile, study: Path, *, copy: bool, going_on: Callable[[int], bool] = lambda _: True
) -> Attachment:
    """Hash a file, and copy it beside the study where that is wished; it is read once, in pieces.

    Args:
        named: The file.
        study: The study file.
        copy: Whether the study keeps a copy of its own.
        going_on: Told after each piece how many bytes were read; False stops.

    Raises:
        FileProblem: Where it is no file, cannot be read, or was stopped; nothing is kept then.
        OutsideError: Where the copy cannot be written.
    """
    path = named.path
    with _opened(path) as file:
        folder = folder_beside(study)
        draft = folder / f".{os.getpid()}.part"
        try:
            if copy:
                make_folder(folder)
            with _draft(draft) if copy else contextlib.nullcontext() as to:
                sha256, size = _read_through(file, to, path, going_on)
            found = Attachment(
                name=clipped(path.name, 200),
                sha256=sha256,
                size=size,
                location="" if copy else _location(path, study),
                begin_seconds=named.begin_seconds,
                end_seconds=named.end_seconds,
            )
            if copy:
                draft.replace(folder / found.copy_name)
        except OSError as problem:
            raise OutsideError(
                f"{name_of(path)} cannot be copied: {problem.strerror or 'the system refused'}.", _KEPT
            ) from problem
        finally:
            if copy:
                with contextlib.suppress(OSError):
                    draft.unlink(missing_ok=True)
    return found


@contextlib.contextmanager
def _opened(path: Path) -> Iterator[BinaryIO]:
    """A regular file, open; a pipe without a writer is not waited for. Raises FileProblem."""
    try:
        descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
    except (OSError, ValueError) as problem:
        said = getattr(problem, "strerror", None) or "that is no path"
        raise FileProblem(f"{name_of(path)} cannot be read: {said}.", _KEPT) from problem
    if not stat.S_ISREG(os.fstat(descriptor).st_mode):
        os.close(descriptor)
        raise FileProblem(f"{name_of(path)} is no file but something else.", _KEPT)
    with os.fdopen(descriptor, "rb") as file:
        yield file


def _draft(path: Path) -> BinaryIO:
    """A new file for its owner alone, open for writing. Raises OSError."""
    flags = os.O_CREAT | os.O_TRUNC | os.O_WRONLY | os.O_NOFOLLOW | os.O_CLOEXEC
    return os.fdopen(os.open(path, flags, 0o600), "wb")


def _read_through(file: BinaryIO, to: BinaryIO | None, path: Path, going_on: Callable[[int], bool]) -> tuple[str, int]:
    """The hash and the size of a file that is read once, and copied meanwhile. Raises FileProblem where stopped."""
    digest, size = hashlib.sha256(), 0
    while piece := file.read(_CHUNK):
        digest.update(piece)
        size += len(piece)
        if to is not None:
            to.write(piece)
        if not going_on(size):
            raise FileProblem(f"{name_of(path)} was not read to its end: it was stopped.", _KEPT)
    return digest.hexdigest(), size


def _location(path: Path, study: Path) -> str:
    """Where a file lies: from the study's own folder where it is in it, so that both may move together."""
    whole, home = path.absolute(), study.absolute().parent
    return str(whole.relative_to(home)) if whole.is_relative_to(home) else str(whole)


def relocated(attachment: Attachment, study: Path, to: Path) -> Attachment:
    """An attachment of one study as another one names it: where it lies, from the other's own folder."""
    if attachment.copied:
        return attachment
    return replace(attachment, location=_location(path_of(attachment, study), to))


def attach(writer: JournalWriter, about: str, attachment: Attachment, moment: Moment) -> None:
    """Tie a file to a mark, or to a step by the entry that opened it. Raises Refused, NotSaved as `log`."""
    writer.log(
        j.Attached(
            about,
            attachment.name,
            attachment.sha256,
            attachment.size,
            attachment.location,
            attachment.begin_seconds,
            attachment.end_seconds,
        ),
        moment,
    )


def attach_to(opened: OpenStudy, number: int, about: str, attachment: Attachment) -> None:
    """Attach a file in a sitting that is not in hand.

    Args:
        opened: The open study.
        number: The sitting.
        about: `step 3`, or the id of a mark.
        attachment: The file, read.

    Raises:
        InputError: Where nothing is logged there, or there is no such step.
        Refused, NotSaved: As `attach`.
    """
    about = entry_shown(opened, number, about)
    writer = taken_up(opened, opened.study.seat(number).number)
    last = writer.state.line.last
    assert last is not None
    with leaving_nothing(opened, attachment):
        attach(writer, about, attachment, last)


def entry_shown(opened: StudyReading, number: int, about: str) -> str:
    """The entry that made a mark or a step of a sitting, from `step 3` or the mark's id.

    Raises:
        InputError: Where nothing is logged there, or there is no such step or mark.
    """
    state = opened.sittings.get(opened.study.seat(number).number)
    if state is None or state.line.last is None:
        raise InputError(f"Nothing is logged of sitting {number} yet.", _KEPT)
    walk = state.walk
    match = re.fullmatch(r"(?:step )?(\d{1,4})", about.strip().casefold())
    if match is not None:
        steps = walk.steps if walk is not None else []
        at = int(match[1])
        if not 1 <= at <= len(steps):
            raise InputError(f"Sitting {number} has no step {at}.", _KEPT)
        return steps[at - 1].entry
    entry = about.strip()
    if entry not in state.remarks and (walk is None or walk.opened_by(entry) is None):
        raise InputError(f"Sitting {number} has no mark {legible(clipped(entry, 40))}.", _KEPT)
    return entry


@contextlib.contextmanager
def leaving_nothing(opened: OpenStudy, attachment: Attachment) -> Iterator[None]:
    """Take the copy of a file away again where it is not attached after all, unless something else shows it."""
    try:
        yield
    except FreshChairError:
        forget_copies([attachment], [each for _, each in all_attachments(opened)], opened.beside)
        raise


def attach_to_record(opened: OpenStudy, letter: str, kind: str, record_id: str, attachment: Attachment) -> None:
    """Attach a file to a record about a chair. Raises InputError where there is none; Refused, NotSaved as `note`."""
    with leaving_nothing(opened, attachment):
        find_record(opened, chair_of(opened, letter), kind, record_id)
        opened.note(letter, RecordAttached(kind, record_id, attachment))


def attachments_of(opened: StudyReading, number: int) -> tuple[Shown, ...]:
    """The files attached to the marks and steps of a sitting, in the order they came."""
    sitting = opened.sittings.get(number)
    if sitting is None:
        return ()
    found = []
    for each in sitting.attachments:
        step = sitting.walk.opened_by(each.about) if sitting.walk is not None else None
        remark = sitting.remarks.get(each.about)
        words = "" if remark is None else f"{remark.kind} {remark.words}".strip()
        words = words if step is None else step.title
        found.append(Shown(each.about, each.entry, words, each.attachment))
    return tuple(found)


def path_of(attachment: Attachment, study: Path) -> Path:
    """Where an attachment is to be found; it need not be there."""
    if attachment.copied:
        return folder_beside(study) / attachment.copy_name
    return study.absolute().parent / attachment.location


def show_recording(file: str, seconds: float, study: Path) -> str:
    """Show a recording of a sitting from a moment on, in the system's player. Raises as `show`."""
    return show(Attachment(Path(file).name, "0" * 64, 0, file, begin_seconds=seconds), study)


def show(attachment: Attachment, study: Path) -> str:
    """Show an attachment in the system's viewer, a clip from the moment on; returns that moment in words.

    Raises:
        OutsideError: Where the file is not there, or no viewer is.
    """
    path = path_of(attachment, study).absolute()
    if not path.is_file():
        raise OutsideError(f"{legible(attachment.name)} is not at {legible(str(path))} any more.", "Its hash is kept.")
    command = _viewer(path, attachment)
    try:
        viewer = subprocess.Popen(
            command,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
    except OSError as problem:
        raise OutsideError(
            f"{legible(attachment.name)} cannot be shown: {problem.strerror}.", f"It lies at {legible(str(path))}."
        ) from problem
    # It is waited for where no key waits: nothing of it stays behind when it is closed.
    Thread(target=viewer.wait, name="viewer", daemon=True).start()
    begin = attachment.begin_seconds
    return "" if begin is None else f"from {clock_text(round(begin * SECOND))}"


def _viewer(path: Path, attachment: Attachment) -> list[str]:
    """The command that shows a file: a player that can begin at a moment for clips, else the system's opener."""
    player = shutil.which("mpv") if attachment.begin_seconds is not None else None
    if player is not None:
        end = [] if attachment.end_seconds is None else [f"--end={attachment.end_seconds:.3f}"]
        return [player, "--force-window=yes", f"--start={attachment.begin_seconds:.3f}", *end, "--", str(path)]
    opener = next((found for name in ("xdg-open", "gio") if (found := shutil.which(name)) is not None), None)
    if opener is None:
        raise OutsideError("This machine has no viewer to open a file with.", f"It lies at {legible(str(path))}.")
    return [opener, *(["open"] if opener.endswith("gio") else []), str(path)]


def all_attachments(opened: StudyReading) -> Iterator[tuple[int, Attachment]]:
    """Every attachment of every sitting, with the sitting's number, and those of records with 0."""
    for number, sitting in opened.sittings.items():
        yield from ((number, each.attachment) for each in sitting.attachments)
    for letter in opened.study.chair_by_letter:
        for held in opened.known_chairs.of(letter).attachments:
            yield 0, held.attachment


def problems_of(attachments: Collection[Attachment], study: Path) -> list[str]:
    """Copies beside a study that are gone or changed, a sentence each."""
    found = []
    for attachment in attachments:
        path = path_of(attachment, study)
        if not attachment.copied:
            continue
        try:
            with path.open("rb") as file:
                same = hashlib.file_digest(file, "sha256").hexdigest() == attachment.sha256
        except OSError:
            found.append(f"the copy of {legible(attachment.name)} is not in {folder_beside(study).name} any more")
            continue
        if not same:
            found.append(f"the copy of {legible(attachment.name)} is not the file that was attached")
    return found


def ever_attached(journals: Mapping[int, Sequence[Entry]], chairs: Sequence[ChairEntry]) -> list[Attachment]:
    """Every file that was ever attached to a mark, a step or a record, struck ones too."""
    marks = [each.content for entries in journals.values() for each in entries]
    found = [content.attachment for content in marks if isinstance(content, j.Attached)]
    records = [each.content for each in chairs]
    return [*found, *(content.attachment for content in records if isinstance(content, RecordAttached))]


def strays_of(referred: Collection[Attachment], study: Path) -> list[Path]:
    """Files in the folder beside a study that nothing in it refers to, and never did."""
    names = {each.copy_name for each in referred if each.copied}
    folder = folder_beside(study)
    return sorted(path for path in folder.iterdir() if path.name not in names) if folder.is_dir() else []


def forget_copies(gone: Collection[Attachment], kept: Collection[Attachment], study: Path) -> list[str]:
    """Remove the copies of attachments that nothing refers to any more; returns a sentence for each that stays."""
    names = {each.copy_name for each in gone if each.copied} - {each.copy_name for each in kept if each.copied}
    said = []
    for name in sorted(names):
        try:
            (folder_beside(study) / name).unlink(missing_ok=True)
        except OSError as problem:
            said.append(f"a copy in {folder_beside(study).name} stays: {problem.strerror}")
    return said


def copy_files(attachments: Collection[Attachment], study: Path, to: Path) -> list[str]:
    """Copy the copies beside a study beside another one; returns a sentence for each that could not be."""
    said = []
    for attachment in {each.copy_name: each for each in attachments if each.copied}.values():
        try:
            copy_file(path_of(attachment, study), path_of(attachment, to), "attached file")
        except OutsideError:
            said.append(f"the copy of {legible(attachment.name)} is not there, or could not be copied")
    return said
