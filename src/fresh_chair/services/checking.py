"""Checking a study file from end to end."""

from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

from fresh_chair.core.attempt import Lane
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.journal import Entry
from fresh_chair.core.replay import replay
from fresh_chair.core.sorting import replay_ledger
from fresh_chair.core.study import Study
from fresh_chair.core.witness.book import BaselineTaken, replay_book
from fresh_chair.store.chair_books import ChairBooks
from fresh_chair.store.journals import Journals, Ledgers
from fresh_chair.store.plans import Plans
from fresh_chair.store.preparations import Preparations
from fresh_chair.store.schema import HEAD
from fresh_chair.store.study_file import StudyFile, integrity, open_file


@dataclass(frozen=True, slots=True)
class Check:
    """One thing that was checked: what, what was found, and what is wrong with it."""

    what: str
    found: str
    problems: tuple[str, ...] = ()


def check_file(path: Path) -> list[Check]:
    """Everything that can be checked of a study file; it is only read.

    Raises:
        FileProblem: Where it is not a study file at all.
    """
    with open_file(path, write=False) as file:
        checks = [_database(file)]
        study, plan = _plan(file)
        checks.append(plan)
        if study is not None:
            checks += _journals(file, study)
            checks.append(_chairs(file))
        return checks


def _database(file: StudyFile) -> Check:
    try:
        with file.rows() as rows:
            problems = integrity(rows)
    except Exception as problem:  # noqa: BLE001 - whatever the database says here is the finding
        return Check("file", "cannot be read through", (type(problem).__name__,))
    return Check("file", f"schema {HEAD}, {file.path.stat().st_size} bytes", tuple(problems))


def _plan(file: StudyFile) -> tuple[Study | None, Check]:
    try:
        study = Plans(file).read()
    except FreshChairError as problem:
        return None, Check("plan", "cannot be used", (str(problem),))
    counts = (len(study.people), len(study.chairs), len(study.cards), len(study.seats))
    return study, Check("plan", "{} people, {} chairs, {} cards, {} sittings planned".format(*counts))


def _journals(file: StudyFile, study: Study) -> list[Check]:
    try:
        journals = Journals(file).all()
    except FreshChairError as problem:
        return [Check("journals", "cannot be read", (str(problem),))]
    problems: list[str] = []
    snags: set[str] = set()
    for number, entries in journals.items():
        snags |= {entry.id for entry in entries if getattr(entry.content, "mark", entry.content.kind) == "snag"}
        problems += _sitting_problems(study, number, entries)
    total = sum(len(entries) for entries in journals.values())
    checks = [Check("journals", f"{len(journals)} journals, {total} entries, all replayed", tuple(problems))]
    try:
        ledger = replay_ledger(Ledgers(file).all())
    except FreshChairError as problem:
        return [*checks, Check("findings", "cannot be read", (str(problem),))]
    missing = set(ledger.finding_of) - snags
    found = f"{len(ledger.findings)} findings from {ledger.entries} entries"
    # Whose figures were dropped, their snags went with them; which they were, nothing may tell any more.
    if missing and not all(erasure.figures_kept for erasure in Preparations(file).erasures()):
        return [*checks, Check("findings", f"{found}; {len(missing)} snags were of people who were erased")]
    strays = tuple(f"a finding holds a snag that no journal has: {snag}" for snag in missing)
    return [*checks, Check("findings", found, strays)]


def _chairs(file: StudyFile) -> Check:
    books = ChairBooks(file)
    problems: list[str] = []
    try:
        entries = books.all()
        replay_book(entries)
    except FreshChairError as problem:
        return Check("chairs", "cannot be read", (str(problem),))
    for entry in entries:
        if isinstance(entry.content, BaselineTaken):
            try:
                count = books.state(entry.content.state).count
            except FreshChairError as problem:
                problems.append(str(problem))
                continue
            if count != entry.content.keys:
                problems.append(f"the baseline of chair {entry.chair} holds {count} names, not {entry.content.keys}")
    return Check("chairs", f"{len(entries)} entries about chairs, every baseline read", tuple(problems))


def _sitting_problems(study: Study, number: int, entries: list[Entry]) -> list[str]:
    try:
        seat = study.seat(number)
        sitting = replay(number, seat.cards, entries)
    except FreshChairError as problem:
        return [str(problem)]
    problems = [
        f"Sitting {number}, entry {later.number}: it was pressed before the one above it"
        # Two people's keys may reach the disk in another order than they were pressed.
        for earlier, later in pairwise(entry for entry in entries if entry.author not in sitting.observers)
        if earlier.moment.boot == later.moment.boot and later.moment.ticks_ns < earlier.moment.ticks_ns
    ]
    for attempt in sitting.tried:
        if attempt.stopped_ns is not None and sum(attempt.lane_ns(lane) for lane in Lane) != attempt.elapsed_ns():
            problems.append(f"Sitting {number}, attempt {attempt.number}: its lanes do not add up to its time")
    return problems
