"""Erasing a person: from the study, from the files beside it, and from the bytes of both."""

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import replace

from fresh_chair.core.chair.ledger import BaselineTaken, FreshnessRead
from fresh_chair.core.errors import FreshChairError, NotSaved, Refused
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.plan.people import Erasure, Participant
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.journal import Attached
from fresh_chair.core.text import legible
from fresh_chair.services.chair.freshness import left_at
from fresh_chair.services.evidence.attachments import all_attachments, ever_attached, forget_copies, strays_of
from fresh_chair.services.evidence.later import remember_later
from fresh_chair.services.evidence.server_files import forget_files
from fresh_chair.services.plan.people import person_of, today
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.scrubbing import scrubbed
from fresh_chair.store.spool import leftovers, rescued_folder

_END_OF_TIME = 2**62


def erase_person(opened: OpenStudy, code: str, *, keep_figures: bool, in_copy: bool = False) -> None:
    """Remove a person's identifying data and words; their marks and seats too unless their figures stay.

    Args:
        opened: The open study.
        code: The person's.
        keep_figures: Whether their marks stay, without words.
        in_copy: Whether the study is a copy, in which nobody sits: what was open when it was made is of the past.

    Raises:
        InputError: Where there is nobody of this code.
        Refused: Where they are sitting right now, or were erased before.
        NotSaved: Where the disk refuses, and nothing was erased; or where it was erased and its bytes could not be
            overwritten yet, which the next opening does.
    """
    person = _person_to_erase(opened, code, in_copy=in_copy)
    now = opened.clock.now()
    left = _trace_of(person, today(opened))
    begun = opened.begun if keep_figures else set()
    missing = [s for s in opened.study.seats if s.participant == code and s.number not in begun]
    if missing:
        left = replace(left, left="erased")
    people = tuple(left if each.code == code else each for each in opened.study.people)
    seats = tuple(seat for seat in opened.study.seats if seat not in missing)
    study = replace(opened.study, people=people, seats=seats)
    trace = Erasure(participant=code, wall_ns=now.wall_ns, author=opened.author, figures_kept=keep_figures)
    attached, others = _attached_by(opened, code)
    opened.preparations.erase(
        opened.study, study, trace, own_places=_own_places(opened, code), windows=_windows(opened, code)
    )
    sittings = {seat.number for seat in opened.study.seats if seat.participant == code}
    opened.reload()
    said = forget_copies(attached, others, opened.beside)
    # A file that was refused at somebody's mark may have left its copy there, in an earlier version.
    said += _forget_strays(opened)
    said += [*_forget_marks(opened, sittings), *_erase_in_copies(opened, code, keep_figures=keep_figures)]
    opened.store.pack()
    forget_files(opened)
    remember_later(opened)
    if said:
        raise NotSaved(
            f"{code} was erased from the study, and not from what lies beside it: {said[0]}",
            f"It lies in {legible(str(rescued_folder().parent))}; remove it by hand.",
        )


def _person_to_erase(opened: OpenStudy, code: str, *, in_copy: bool) -> Participant:
    """A person who can be erased now. Raises InputError, Refused."""
    opened.require_moderating()
    person = person_of(opened, code)
    if person.erased:
        raise Refused(f"{code} was erased on {person.erased}.")
    seated = {*opened.held_elsewhere, *(seat.number for seat in opened.cut_short())}
    if not in_copy and any(seat.participant == code and seat.number in seated for seat in opened.study.seats):
        raise Refused(f"{code} is sitting right now.", "End or break off the sitting first.")
    if opened.spool.waiting:
        raise Refused(
            "Marks lie in a second place still.", "Let them be brought back first; then nothing is forgotten."
        )
    return person


def left_after_erasing(opened: OpenStudy) -> str:
    """The places that an erasure cannot reach where a study is on a server, in words; empty for a file."""
    if opened.store.link is None:
        return ""
    return (
        "It is gone from the server's tables and shown by no station. The server's backups, its write-ahead log and "
        "its standbys hold it until they are replaced or vacuumed, and other stations' disks up to a day: its "
        "administrator and its stations have to be told. Working copies that were taken along are yours to destroy."
    )


def _attached_by(opened: OpenStudy, code: str) -> tuple[list[Attachment], list[Attachment]]:
    """Files that were ever attached in a person's sittings, and those attached elsewhere."""
    own = {seat.number for seat in opened.study.seats if seat.participant == code}
    gone = [e.content.attachment for n in own for e in opened.entries.get(n, ()) if isinstance(e.content, Attached)]
    return gone, [attachment for number, attachment in all_attachments(opened) if number not in own]


def _trace_of(person: Participant, day: str) -> Participant:
    """The part of a person in the study that stays when they are erased."""
    return Participant(
        code=person.code,
        role=person.role,
        group=person.group,
        left=person.left and "erased",
        replaces=person.replaces,
        erased=day,
    )


def finish_erasing(opened: OpenStudy) -> bool:
    """Overwrite the bytes an erasure freed, and the traces an earlier version left in entries.

    Returns:
        True where there was anything to do.

    Raises:
        NotSaved: Where it cannot be done yet.
    """
    erased = [person.code for person in opened.study.people if person.erased]
    if not erased or not opened.writable or opened.store.packed:
        return False
    for code in erased:
        opened.preparations.erase_again(_own_places(opened, code), _windows(opened, code))
    opened.store.pack()
    opened.reload()
    return True


def left_of_erased(study: Study, bodies: Mapping[int, list[tuple[int, str]]]) -> list[str]:
    """Where words of people who were erased are still in entries, a sentence each.

    Args:
        study: The plan.
        bodies: Number and stored content of every entry, by sitting.
    """
    gone = {person.code for person in study.people if person.erased}
    own = {seat.number: _places_of(study, seat.chair) for seat in study.seats if seat.participant in gone}
    return [
        f"Sitting {number}, entry {entry}: words of somebody who was erased are still there; open it once for writing"
        for number, places in own.items()
        for entry, body in bodies.get(number, [])
        if scrubbed(body, places) != body
    ]


def _own_places(opened: OpenStudy, code: str) -> dict[int, frozenset[str]]:
    """For each of the person's sittings, the visited spots that are on the chair's own list."""
    return {s.number: _places_of(opened.study, s.chair) for s in opened.study.seats if s.participant == code}


def _places_of(study: Study, letter: str) -> frozenset[str]:
    chair = study.chair_by_letter[letter]
    routes = [step for card in study.cards for step in card.routes.get(letter, ())]
    return frozenset((*chair.labels, *routes))


def _windows(opened: OpenStudy, code: str) -> list[tuple[str, int, int]]:
    """The chairs a person sat at, with the time in which their traces may have been on them."""
    found = []
    entries = opened.known_chairs.entries()
    for seat in opened.study.seats:
        sat = opened.entries.get(seat.number)
        if seat.participant != code or not sat:
            continue
        since = sat[0].moment.wall_ns
        ends = [
            each.moment.wall_ns
            for each in entries
            if each.chair == seat.chair
            and each.moment.wall_ns > left_at(sat).wall_ns
            and isinstance(each.content, FreshnessRead | BaselineTaken)
            and (not isinstance(each.content, FreshnessRead) or each.content.freshness == "fresh")
        ]
        found.append((seat.chair, since, min(ends, default=_END_OF_TIME)))
    return found


def _forget_strays(opened: OpenStudy) -> list[str]:
    """Remove the files beside the study that nothing refers to; returns a sentence for each that stays."""
    said = []
    for path in strays_of(ever_attached(opened.entries, opened.known_chairs.entries()), opened.beside):
        try:
            path.unlink()
        except OSError as problem:
            said.append(f"{legible(path.name)} in {legible(path.parent.name)} stays: {problem.strerror}")
    return said


def _forget_marks(opened: OpenStudy, sittings: set[int]) -> list[str]:
    """Take marks of these sittings away that lie in second places; returns why some could not be."""
    problems = []
    try:
        opened.spool.forget_sittings(sittings)
    except OSError as problem:
        problems.append(f"marks that were sent: {problem.strerror}.")
    for leftover in leftovers(opened.study.id):
        try:
            leftover.without(sittings)
        except OSError as problem:
            problems.append(f"{leftover.file.name}: {problem.strerror}.")
            leftover.let_go()
    return problems


def _erase_in_copies(opened: OpenStudy, code: str, *, keep_figures: bool) -> list[str]:
    """Erase a person in rescued copies of the study too; returns why one could not be."""
    problems = []
    folder = rescued_folder()
    for path in sorted(folder.glob("*.fresh")) if folder.is_dir() else []:
        try:
            copy = open_study(path)
        except FreshChairError as problem:
            problems.append(f"{path.name}: {problem.title}")
            continue
        try:
            known = copy.study.person_by_code.get(code)
            if copy.study.id == opened.study.id and known is not None and not known.erased:
                erase_person(copy, code, keep_figures=keep_figures, in_copy=True)
        except FreshChairError as problem:
            problems.append(f"{path.name}: {problem.title}")
        finally:
            with suppress(FreshChairError):
                copy.close()
    return problems
