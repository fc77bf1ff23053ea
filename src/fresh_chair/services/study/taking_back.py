"""Taking spooled entries of ended programs into the study file, or into the sittings in memory."""

import time
from collections.abc import Callable
from dataclasses import replace

from fresh_chair.core.errors import FreshChairError, NotSaved
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.journal import Entry, ObserverJoined, SittingBegan, Struck, late_mark
from fresh_chair.core.sitting.replay import advance, replay
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.services.study.mark_spool import TakenBack, append_where_room_can_be_made
from fresh_chair.store.ports import JournalStore, StudyHome
from fresh_chair.store.spool import Leftover, leftovers
from fresh_chair.store.stations import OutgoingJournals, StationLink

# How long marks stay on this disk that a server took and no second one holds.
_KEPT_SECONDS = 24 * 3600.0


def take_back(
    study: Study, home: StudyHome, journals: JournalStore, found: dict[int, list[Entry]], *, of: str = ""
) -> TakenBack:
    """Merge the spools of dead programs: into the file, or into the sittings as they are in memory.

    Args:
        study: The plan.
        home: Where the study is kept.
        journals: Its journals.
        found: Its entries by sitting; what is merged is added.
        of: Only what this author has left; everybody's by default.
    """
    taken = TakenBack()
    left = []
    for leftover in leftovers(study.id):
        theirs = not of or all(entry.author == of for _, _, entry in leftover.marks)
        if theirs and home.is_home_of(leftover.home):
            left.append(leftover)
        else:
            leftover.let_go()
    # One program's marks may follow on another's: whichever fits is taken until none does.
    while fitting := [each for each in left if each.marks and _fits(study, each, found)]:
        left.remove(fitting[0])
        _merge(study, home, journals, fitting[0], found, taken)
    for leftover in left:
        if leftover.marks:
            taken.apart.append(leftover)
            leftover.let_go()
        else:
            leftover.clear()
    return taken


def _merge(
    study: Study,
    home: StudyHome,
    journals: JournalStore,
    leftover: Leftover,
    found: dict[int, list[Entry]],
    taken: TakenBack,
) -> None:
    whole, waits = True, False
    states: dict[int, Sitting] = {}
    for sitting, _, entry in leftover.marks:
        entries = found.setdefault(sitting, [])
        if any(entry.id == other.id for other in entries):
            continue
        if sitting not in states:
            states[sitting] = replay(sitting, study.seat(sitting).cards, entries, lenient=True)
        placed = _placed(states, sitting, entries, entry)
        if placed is None:
            whole = False
            continue
        if taken.why is None:
            try:
                append_where_room_can_be_made(home, journals, sitting, [placed])
                taken.merged += 1
            except NotSaved as problem:
                taken.why = problem
            except FreshChairError:
                whole = False
                continue
        if taken.why is not None:
            taken.waiting.append((sitting, placed))
            waits = True
        entries.append(placed)
    if waits:
        taken.adopted.append(leftover)
    elif whole:
        leftover.clear()
    else:
        taken.apart.append(leftover)
        leftover.let_go()


def offer_back(
    study: Study, home: StudyHome, link: StationLink, found: dict[int, list[Entry]], *, of: str = ""
) -> TakenBack:
    """Offer the server the marks that dead programs of this machine have left, and those it may have lost since.

    A file whose marks are all there stays for a day, unless a second server holds them too: the one that took them may
    be replaced by one that did not.

    Args:
        study: The plan.
        home: Where the study is kept.
        link: The way there.
        found: Its entries by sitting; what is merged is added.
        of: Only what this author has left; everybody's by default.

    Raises:
        FileProblem, NotSaved: Where the server does not answer any more.
    """
    taken = TakenBack()
    for leftover in leftovers(study.id):
        if not home.is_home_of(leftover.home) or (of and any(entry.author != of for _, _, entry in leftover.marks)):
            leftover.let_go()
            continue
        try:
            taken.line = taken.line or link.line()
            offered = offer(study, link.outgoing, leftover, found, beside=link.seat_beside)
            old = time.time() - leftover.file.stat().st_mtime > _KEPT_SECONDS
            safe = not leftover.marks or old or bool(link.confirmed())
        except BaseException:
            # The server went away meanwhile: who holds the lock of a file keeps it from the next opening.
            for each in (leftover, *taken.adopted):
                each.let_go()
            raise
        taken.merged += offered.added
        if offered.refused:
            taken.apart.append(leftover)
            leftover.let_go()
        elif safe and not offered.early:
            leftover.clear()
        else:
            taken.adopted.append(leftover)
    there = {entry.id: (number, entry) for number, entries in found.items() for entry in entries}
    for sitting, after, entry in (mark for leftover in taken.adopted for mark in leftover.marks):
        number, known = there.get(entry.id, (sitting, entry))
        taken.kept.append((number, after, known))
        if entry.id in there:
            taken.numbers[entry.id] = known.number
    return taken


@frozen
class Offered:
    """The fate of the marks in a file.

    Attributes:
        added: How many were added.
        refused: Whether any cannot follow on what is there.
        early: Whether any follow on a beginning that is not there, and may come yet.
    """

    added: int = 0
    refused: bool = False
    early: bool = False


def offer(
    study: Study,
    journals: OutgoingJournals,
    leftover: Leftover,
    found: dict[int, list[Entry]],
    *,
    beside: Callable[[int, str], int] | None = None,
) -> Offered:
    """Add the marks of a file that are not in the study yet; the file stays.

    Args:
        study: The plan.
        journals: Where they go.
        leftover: The marks.
        found: The study's entries by sitting; what is added is read there.
        beside: Makes a sitting beside one that both have begun; without it such marks stay apart.

    Raises:
        FileProblem, NotSaved: Where the study's place does not answer.
    """
    offered = Offered()
    lies_in = {entry.id: number for number, entries in found.items() for entry in entries}
    for sitting in sorted({number for number, _, _ in leftover.marks}):
        marks = [(after, entry) for number, after, entry in leftover.marks if number == sitting]
        left = [entry for _, entry in marks if entry.id not in lies_in]
        if not left:
            continue
        if not any(seat.number == sitting for seat in study.seats):
            offered = replace(offered, refused=True)
            continue
        first = marks[0][1].id
        goes_to = lies_in.get(first, sitting)
        if first not in lies_in and not marks[0][0] and found.get(sitting) and beside is not None:
            goes_to = beside(sitting, first)
        entries = found.get(goes_to, [])
        if not entries and not isinstance(left[0].content, SittingBegan):
            offered = replace(offered, early=True)
            continue
        fresh = _following(study.seat(sitting).cards, goes_to, entries, left)
        if fresh:
            journals.add(goes_to, fresh)
            found[goes_to] = journals.since(goes_to, 0)
        offered = replace(offered, added=offered.added + len(fresh), refused=offered.refused or len(fresh) < len(left))
        if not any(seat.number == goes_to for seat in study.seats):
            # It is read with the plan, which was changed by it.
            found.pop(goes_to, None)
    return offered


def _following(cards: tuple[str, ...], number: int, entries: list[Entry], left: list[Entry]) -> list[Entry]:
    """Those of some marks that can follow on a sitting's entries, as they do."""
    states = {number: replay(number, cards, entries, lenient=True)}
    fresh: list[Entry] = []
    for entry in left:
        placed = _placed(states, number, [*entries, *fresh], entry)
        fresh += [placed] if placed is not None else []
    return fresh


def _placed(states: dict[int, Sitting], sitting: int, entries: list[Entry], entry: Entry) -> Entry | None:
    """An entry as it can follow the others: where its key was pressed before them, as a mark put in late at that time.

    None where it cannot follow at all. The sitting's state goes on with it.
    """
    before = states[sitting]
    late_ns = before.line.at(entry.moment)
    numbered = replace(entry, number=len(entries) + 1)
    own = entry.author not in before.observers and not isinstance(entry.content, ObserverJoined)
    if own and before.line.last is not None and late_ns < before.line.own_ns:
        content = late_mark(entry.content, late_ns, "kept in a second place at the time")
        if content is None:
            return None
        numbered = replace(numbered, content=content, moment=before.line.last)
    try:
        if isinstance(numbered.content, Struck):
            aside = frozenset(before.left_out)
            states[sitting] = replay(sitting, before.cards, [*entries, numbered], aside=aside)
        else:
            advance(before, numbered)
    except FreshChairError:
        return None
    return numbered


def _fits(study: Study, leftover: Leftover, found: dict[int, list[Entry]]) -> bool:
    """Whether its first mark follows on something that is there."""
    sitting, after, first = leftover.marks[0]
    entries = found.get(sitting, [])
    if not any(seat.number == sitting for seat in study.seats):
        return False
    known = any(entry.id in (after, first.id) for entry in entries)
    return known or (not after and not entries)
