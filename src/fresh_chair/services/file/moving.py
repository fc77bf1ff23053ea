"""A study moved from a file to a server and back; and a working copy that goes along and comes back."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from fresh_chair.core.errors import FileProblem, Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import count_of
from fresh_chair.services.evidence.server_files import carry_files
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.address import Address
from fresh_chair.store.addresses.stores import create_store, is_there
from fresh_chair.store.ports import StudyStore
from fresh_chair.store.tables.copying import copy_study
from fresh_chair.store.tables.merging import MergedRows, merge_rows
from fresh_chair.store.tables.store import TableStore


@frozen
class MovedStudy:
    """The result of a move.

    Attributes:
        rows: How many rows were copied and compared; 0 where a copy was brought back.
        merged: What was brought back into a study that was there; None where it was copied whole.
        left: Where the source is now, where it was moved.
    """

    rows: int
    merged: MergedRows | None = None
    left: str = ""


def move_study(source: Address, to: Address, *, copy: bool = False) -> MovedStudy:
    """Move a study, or bring a working copy back into the study it came from.

    Where nothing is at the new address, the study is copied there whole and compared row by row; then the old one is
    closed: a file gets another name, a study on a server takes nothing more until it is moved back. Where the same
    study is there, what the source has more is added to it.

    Args:
        source: Where it is.
        to: Where it is to be.
        copy: Leave the source as it is.

    Raises:
        FileProblem, NotSaved: Where one of both cannot be used; the source is then as it was.
        Refused: Where another study is there, a sitting is going on, or the plan was changed in both.
    """
    if source == to:
        raise Refused("A study is not moved to where it is.", "Say another address.")
    with _opened(source, write=not copy) as opened:
        _require_whole(opened, copy=copy)
        carry_files(opened)
        moved = MovedStudy(0, _brought_back(opened, to)) if is_there(to) else _copied(opened, to)
        return moved if copy else MovedStudy(moved.rows, moved.merged, opened.store.send_away(str(to)))


def moved_sentences(moved: MovedStudy, to: Address) -> list[str]:
    """The result of a move, in words."""
    said = []
    if moved.merged is None:
        said.append(f"{count_of(moved.rows, 'row')} copied to {to} and compared one by one.")
    else:
        added = moved.merged.added
        listed = ", ".join(count_of(count, *_ROWS[table]) for table, count in added.items() if table in _ROWS)
        said.append(f"Brought back into {to}: {listed or 'nothing that was not there already'}.")
        if moved.merged.plan:
            said.append("The plan is the copy's now.")
        for number, beside in moved.merged.clashes:
            said.append(f"Sitting {number} had begun in both: the copy's is kept beside it, as sitting {beside}.")
        for code in sorted(set(moved.merged.erased)):
            said.append(f"{code} was erased meanwhile: their marks in the copy were left there. Destroy the copy.")
        for code in moved.merged.to_erase:
            said.append(f"{code} was erased in the copy and is still in the study: people erase STUDY {code}")
    if moved.left:
        said.append(moved.left)
    return said


_ROWS = {
    "entry": ("entry of sittings", "entries of sittings"),
    "sort_entry": ("of sorting", "of sorting"),
    "chair_entry": ("about a chair", "about chairs"),
    "evidence_entry": ("record of evidence", "records of evidence"),
    "hunch": ("hunch", "hunches"),
    "fixture_check": ("look at the bench", "looks at the bench"),
    "change": ("change of the plan", "changes of the plan"),
}


@contextmanager
def _opened(address: Address, *, write: bool) -> Iterator[OpenStudy]:
    opened = open_study(address, write=write)
    try:
        yield opened
    finally:
        opened.close()


def _require_whole(opened: OpenStudy, *, copy: bool) -> None:
    """Do nothing where all of a study can be taken along. Raises Refused."""
    if opened.spool.waiting:
        raise Refused("Marks of it lie in a second place still.", "Open it once, so that they are brought into it.")
    if not opened.store.home.sees_people:
        raise Refused("You may not see the people of that study, and so cannot take it along.", "Nothing was moved.")
    if copy:
        return
    opened.require_moderating()
    if opened.cut_short():
        raise Refused("Somebody is sitting in it right now.", "End or break off the sitting first.")


def _tables(store: StudyStore) -> TableStore:
    if isinstance(store, TableStore):
        return store
    raise FileProblem("That study is kept in no database.", "Nothing was moved.")


def _copied(opened: OpenStudy, to: Address) -> MovedStudy:
    counts: list[int] = []

    def fill(store: TableStore) -> None:
        counts.append(copy_study(_tables(opened.store).database, store.database))

    create_store(to, fill)
    with _opened(to, write=False) as there:
        _carry_files(opened.beside, there.beside)
    with _opened(to, write=True) as there:
        carry_files(there)
    return MovedStudy(counts[0])


def _brought_back(opened: OpenStudy, to: Address) -> MergedRows:
    with _opened(to, write=True) as there:
        if there.study.id != opened.study.id:
            raise Refused(f"There is another study at {to} already.", "Nothing was moved. Choose another place.")
        there.store.call_back()
        there.require_adding()
        merged = merge_rows(_tables(opened.store).database, _tables(there.store).database)
        _carry_files(opened.beside, there.beside)
        there.reload()
        carry_files(there)
        return merged


def _carry_files(beside: Path, to: Path) -> None:
    """Copy the files that were copied beside one study beside the other, those that are not there yet."""
    from fresh_chair.services.evidence.attachments import folder_beside
    from fresh_chair.services.system.files import copy_file, make_folder

    folder, target = folder_beside(beside), folder_beside(to)
    if not folder.is_dir() or folder == target:
        return
    make_folder(target)
    for path in sorted(folder.iterdir()):
        if path.is_file() and not (target / path.name).exists():
            copy_file(path, target / path.name, "attached file")
