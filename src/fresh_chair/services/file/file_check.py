"""Checking a study file from end to end."""

from collections.abc import Iterator, Mapping
from itertools import pairwise
from pathlib import Path

from fresh_chair.core.chair.ledger import BaselineTaken, ChairEntry, LedgersByChair, replay_chairs
from fresh_chair.core.chair.reading_values import was_misread
from fresh_chair.core.chair.records import Reading
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.evidence.ledger import circles, replay_evidence
from fresh_chair.core.evidence.succession import release_circles
from fresh_chair.core.findings.ledger import replay_sorting
from fresh_chair.core.findings.observations import MARKED
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.contradictions import impossible_entries, outcome_contradictions
from fresh_chair.core.sitting.entries.base import Happening
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.attachments import copy_files, ever_attached, problems_of, strays_of
from fresh_chair.services.file.erasing import left_of_erased
from fresh_chair.services.file.recording_check import clock_problems
from fresh_chair.store.address import Address
from fresh_chair.store.addresses.stores import open_store
from fresh_chair.store.ports import StudyStore
from fresh_chair.store.sqlite.copying import changed_objects, copy_sound, unchecked_store


@frozen
class FileCheck:
    """One check: its subject, the result, its problems, and remarks for the reviewer."""

    what: str
    found: str
    problems: tuple[str, ...] = ()
    remarks: tuple[str, ...] = ()


def check_file(address: Address) -> list[FileCheck]:
    """Everything that can be checked of a study, in a file or on a server; it is only read.

    Raises:
        FileProblem: Where it is not a study file at all.
    """
    store = open_store(address, write=False)
    try:
        return check_open(store)
    finally:
        store.home.close()


def check_open(store: StudyStore) -> list[FileCheck]:
    """The same of a study that is open; one program must not open a file twice, or it drops its own locks."""
    checks = [_database(store)]
    study, plan = _plan(store)
    checks.append(plan)
    if study is not None:
        checks += _journals(store, study)
        checks.append(_chairs(store))
        checks.append(_attached(store, study))
        checks.append(_evidence(store))
        checks += _aside(store)
    return checks


def _aside(store: StudyStore) -> Iterator[FileCheck]:
    """Rows that stand aside, where there are any."""
    try:
        said = store.aside()
    except FreshChairError as problem:
        yield FileCheck("rows", "cannot be read", (str(problem),))
        return
    if said:
        yield FileCheck("rows", "not all can be used", tuple(said))


def sound_copy(path: Path, to: Path) -> list[str]:
    """Copy the sound part of a study file into a new one; returns a sentence for each part left out.

    Raises:
        FileProblem, JournalError: Where it is no study, or its plan cannot be read; nothing is made then.
        NotSaved: Where the new file cannot be written.
    """
    said = [f"{each}; the copy has ours" for each in changed_objects(path)]
    with unchecked_store(path) as store:
        study = store.plans.read()
        journals = store.journals.all()
        left: dict[str, set[tuple[object, ...]]] = {"entry": set(), "sort_entry": set(), "chair_entry": set()}
        evidence = store.evidence.all()
        for number, entries in journals.items():
            sitting = _replayed(study, number, entries)
            for entry in entries:
                if entry.id in sitting.left_out:
                    left["entry"].add((entry.number, number))
                    said.append(sitting.left_out[entry.id])
        sorting, chairs = store.sorting.all(), store.chairs.all()
        found = _attachments(study, journals, replay_chairs(chairs))
        left_of_chairs: dict[str, str] = {}
        replay_chairs(chairs, left_of_chairs)
        for table, listed, left_out in (
            ("sort_entry", sorting, replay_sorting(sorting).left_out),
            ("chair_entry", chairs, left_of_chairs),
            ("evidence_entry", evidence, replay_evidence(evidence).left_out),
        ):
            # Numbers that are missing have no row to leave out.
            left[table] = {(entry.number,) for entry in listed if entry.id in left_out}
            said += left_out.values()
    copy_sound(path, to, left)
    return [*said, *copy_files(found, path, to)]


def _replayed(study: Study, number: int, entries: list[Entry]) -> Sitting:
    return replay(number, study.seat(number).cards, entries, lenient=True)


def _database(store: StudyStore) -> FileCheck:
    found, problems = store.integrity()
    if not problems and not store.packed and store.preparations.erasures():
        problems = ("bytes of somebody who was erased may still be in it; open it once for writing",)
    return FileCheck("file", found, problems)


def _plan(store: StudyStore) -> tuple[Study | None, FileCheck]:
    try:
        study = store.plans.read()
    except FreshChairError as problem:
        return None, FileCheck("plan", "cannot be used", (str(problem),))
    counts = (
        count_of(len(study.people), "person", "people"),
        *(count_of(len(found), what) for found, what in ((study.chairs, "chair"), (study.cards, "card"))),
        f"{count_of(len(study.seats), 'sitting')} planned",
    )
    return study, FileCheck("plan", ", ".join(counts), tuple(_erasures_of_nobody(store, study)))


def _erasures_of_nobody(store: StudyStore, study: Study) -> Iterator[str]:
    """Erasures on record of people who are not erased: with them on record, entries could be changed."""
    # Those who only read are not shown who was erased.
    shown = store.home.sees_people
    for erasure in store.preparations.erasures():
        if erasure.participant.endswith(f" {erasure.wall_ns}"):
            # The trace of a reviewer's words that were put otherwise; no person's code has a space.
            continue
        person = study.person_by_code.get(erasure.participant)
        if person is None or (shown and not person.erased):
            yield (
                f"an erasure of {legible(clipped(erasure.participant, 40))} is on record, who was not erased: "
                "entries may have been changed with it; hold them against an earlier export or backup"
            )


def _journals(store: StudyStore, study: Study) -> list[FileCheck]:
    try:
        journals = store.journals.all()
    except FreshChairError as problem:
        return [FileCheck("journals", "cannot be read", (str(problem),))]
    problems = left_of_erased(study, store.journals.bodies())
    marks: set[str] = set()
    for number, entries in journals.items():
        marks |= {entry.id for entry in entries if getattr(entry.content, "mark", entry.content.kind) in MARKED}
        problems += _sitting_problems(study, number, entries)
    total = sum(len(entries) for entries in journals.values())
    found = f"{count_of(len(journals), 'journal')}, {count_of(total, 'entry', 'entries')}"
    wrong_clocks, strange = clock_problems(
        {number: _replayed(study, number, entries) for number, entries in journals.items()}, store.home.beside
    )
    problems += wrong_clocks
    remarks = (*_contradictions(study, journals), *strange)
    checks = [FileCheck("journals", found if problems else f"{found}, all replayed", tuple(problems), remarks)]
    try:
        sorted_so_far = store.sorting.all()
    except FreshChairError as problem:
        return [*checks, FileCheck("findings", "cannot be read", (str(problem),))]
    sorted_out = replay_sorting(sorted_so_far)
    wrong = tuple(sorted_out.left_out.values())
    held = {target.removeprefix("mark:") for target in sorted_out.findings_of if target.startswith("mark:")}
    missing = held - marks
    found = f"{count_of(len(sorted_out.by_id), 'finding')} from {count_of(sorted_out.entries, 'entry', 'entries')}"
    # Whose figures were dropped, their snags went with them; which they were, nothing may tell any more.
    if missing and not all(erasure.figures_kept for erasure in store.preparations.erasures()):
        erased = f"{found}; {count_of(len(missing), 'mark')} of people who were erased"
        return [*checks, FileCheck("findings", erased, wrong)]
    strays = tuple(f"a finding stands on a mark that no journal has: {snag}" for snag in sorted(missing))
    return [*checks, FileCheck("findings", found, (*wrong, *strays))]


def _chairs(store: StudyStore) -> FileCheck:
    ledgers = store.chairs
    problems: list[str] = []
    try:
        entries = ledgers.all()
        replay_chairs(entries)
    except FreshChairError as problem:
        return FileCheck("chairs", "cannot be read", (str(problem),))
    problems += _misread(entries)
    for entry in entries:
        if isinstance(entry.content, Unreadable):
            problems.append(entry.content.why)
        if isinstance(entry.content, BaselineTaken):
            try:
                count = ledgers.state(entry.content.state).count
            except FreshChairError as problem:
                problems.append(str(problem))
                continue
            if count != entry.content.keys:
                problems.append(
                    f"the baseline of chair {entry.chair} holds {count_of(count, 'name')}, not {entry.content.keys}"
                )
    found = f"{count_of(len(entries), 'entry', 'entries')} about chairs"
    return FileCheck("chairs", found if problems else f"{found}, every baseline read", tuple(problems))


def _evidence(store: StudyStore) -> FileCheck:
    """The records of evidence: read, replayed, no cause its own cause and no release its own later one."""
    try:
        state = replay_evidence(store.evidence.all())
    except FreshChairError as problem:
        return FileCheck("evidence", "cannot be read", (str(problem),))
    count = sum(len(records) for records in state.records.values())
    round_about = [f"goes round: {' because of '.join(circle)}" for circle in circles(state)]
    round_about += [f"earlier than itself: {', '.join(circle)}" for circle in release_circles(state)]
    found = count_of(count, "record")
    problems = tuple(state.left_out.values())
    return FileCheck("evidence", found if problems else f"{found}, all replayed", problems, tuple(round_about))


def _attachments(study: Study, journals: Mapping[int, list[Entry]], chairs: LedgersByChair) -> list[Attachment]:
    """Every file that is attached to a mark, a step or a record."""
    found = [
        each.attachment for number, listed in journals.items() for each in _replayed(study, number, listed).attachments
    ]
    return [*found, *(each.attachment for ledger in chairs.values() for each in ledger.attachments)]


def _attached(store: StudyStore, study: Study) -> FileCheck:
    """The copies of attached files beside the study: there, and the files they were."""
    try:
        journals, chairs = store.journals.all(), replay_chairs(store.chairs.all())
    except FreshChairError as problem:
        return FileCheck("files", "cannot be read", (str(problem),))
    found = _attachments(study, journals, chairs)
    told = f"{count_of(len(found), 'file')} attached, {sum(each.copied for each in found)} of them copied"
    strays = strays_of(ever_attached(journals, store.chairs.all()), store.home.beside)
    problems = problems_of(found, store.home.beside)
    problems += [f"nothing refers to {legible(path.parent.name)}/{legible(path.name)}; remove it" for path in strays]
    return FileCheck("files", told, tuple(problems))


# Kinds of value that the earlier reader knew, and could take a part of.
_OLD_KINDS = ("measured", "range", "at least")


def _misread(entries: list[ChairEntry]) -> list[str]:
    """Readings of which an earlier version read the beginning only, with how each is put right."""
    found = []
    for letter, ledger in replay_chairs(entries).items():
        for held in ledger.held("reading"):
            reading = held.record
            if not isinstance(reading, Reading) or reading.typed or reading.precision not in _OLD_KINDS:
                continue
            suspicion = was_misread(reading.low if reading.high is None else reading.high, reading.unit)
            if suspicion is None:
                continue
            typed, why = suspicion
            was = f"typed as “{typed}”: " if typed else ""
            value = typed or "..."
            found.append(
                f"chair {letter}, reading {reading.id} of {reading.what}: {was}{why}; put it right with: "
                f"records set STUDY {letter} reading {reading.id} value='{value}'"
            )
    return found


def _contradictions(study: Study, journals: dict[int, list[Entry]]) -> list[str]:
    """Attempts whose outcome their own marks contradict."""
    return [
        f"Sitting {number}, attempt {attempt.number} ({attempt.card}): {words}"
        for number, entries in journals.items()
        for attempt in _replayed(study, number, entries).tried
        for words in outcome_contradictions(attempt)
    ]


def _moves_clock(entry: Entry, sitting: Sitting) -> bool:
    """Whether a sitting's clock goes by an entry: the moderator's own, and no word on an earlier one."""
    content = entry.content
    return entry.author not in sitting.observers and not (isinstance(content, Happening) and content.afterwards)


def _sitting_problems(study: Study, number: int, entries: list[Entry]) -> list[str]:
    try:
        sitting = _replayed(study, number, entries)
    except FreshChairError as problem:
        return [str(problem)]
    problems = list(sitting.left_out.values())
    problems += [f"Sitting {number}, entry {entry}: {why}" for entry, why in impossible_entries(study, number, entries)]
    problems += [
        f"Sitting {number}, entry {later.number}: it was pressed before the one above it"
        # Two people's keys may reach the disk in another order than they were pressed.
        for earlier, later in pairwise(entry for entry in entries if _moves_clock(entry, sitting))
        if earlier.moment.boot == later.moment.boot and later.moment.ticks_ns < earlier.moment.ticks_ns
    ]
    for attempt in sitting.tried:
        if attempt.stopped_ns is not None and sum(attempt.lane_ns(lane) for lane in Lane) != attempt.elapsed_ns():
            problems.append(f"Sitting {number}, attempt {attempt.number}: its lanes do not add up to its time")
    return problems
