"""Where a study is: a path, or a database server and a name; and how it is opened and made there."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fresh_chair.store.tables.store import TableStore


def open_store(address: Path, *, write: bool = True, observe: bool = False) -> TableStore:
    """The store of a study, opened where it is kept.

    Args:
        address: A study file.
        write: False to read only.
        observe: Read, and add to journals beside whoever writes.

    Raises:
        FileProblem: Where it is not there, no study, damaged, or from a newer version.
    """
    from fresh_chair.store.sqlite.opening import open_file
    from fresh_chair.store.sqlite.tables import FileTables
    from fresh_chair.store.tables.store import TableStore

    return TableStore(FileTables(open_file(address, write=write, observe=observe)))


def create_store(address: Path, fill: Callable[[TableStore], None]) -> None:
    """Make a new study, whole or not at all.

    Args:
        address: Where it is to be; nothing may be there.
        fill: Writes the contents.

    Raises:
        FileProblem: Where something is there already.
        NotSaved: Where it cannot be made.
    """
    from fresh_chair.store.sqlite.opening import create_file
    from fresh_chair.store.sqlite.tables import FileTables
    from fresh_chair.store.tables.store import TableStore

    create_file(address, lambda file: fill(TableStore(FileTables(file))))
