"""Stores opened and made at an address: a path, or a server's."""

from __future__ import annotations

from collections.abc import Callable
from importlib.util import find_spec
from typing import TYPE_CHECKING

from fresh_chair.core.errors import InputError
from fresh_chair.store.address import Address, ServerAddress

if TYPE_CHECKING:
    from fresh_chair.store.tables.store import TableStore


def require_driver() -> None:
    """Do nothing where the driver of servers is installed. Raises InputError."""
    if find_spec("psycopg") is None:
        raise InputError(
            "A study on a server needs one more package, which is not installed here.",
            "Install it with: pip install 'fresh-chair[server]'",
        )


def open_store(address: Address, *, write: bool = True, observe: bool = False) -> TableStore:
    """The store of a study, opened where it is kept.

    Args:
        address: A study file, or a study on a server.
        write: False to read only.
        observe: Read, and add to journals beside the moderator.

    Raises:
        FileProblem: Where it is not there, no study, damaged, or from a newer version.
        InputError: Where the package that speaks with servers is missing.
    """
    if isinstance(address, ServerAddress):
        require_driver()
        from fresh_chair.store.postgres.opening import open_study_on_server

        return open_study_on_server(address, write=write, observe=observe)
    from fresh_chair.store.sqlite.opening import open_file
    from fresh_chair.store.sqlite.tables import FileTables
    from fresh_chair.store.tables.store import TableStore

    return TableStore(FileTables(open_file(address, write=write, observe=observe)))


def is_there(address: Address) -> bool:
    """Whether anything is at an address. Raises FileProblem where a server cannot be asked, InputError as above."""
    if isinstance(address, ServerAddress):
        require_driver()
        from fresh_chair.store.postgres.opening import is_on_server

        return is_on_server(address)
    return address.exists()


def create_store(address: Address, fill: Callable[[TableStore], None]) -> None:
    """Make a new study, whole or not at all.

    Args:
        address: Where it is to be; nothing may be there.
        fill: Writes the contents.

    Raises:
        FileProblem: Where something is there already.
        NotSaved: Where it cannot be made.
        InputError: Where the package that speaks with servers is missing.
    """
    if isinstance(address, ServerAddress):
        require_driver()
        from fresh_chair.store.postgres.opening import create_study_on_server

        create_study_on_server(address, fill)
        return
    from fresh_chair.store.sqlite.opening import create_file
    from fresh_chair.store.sqlite.tables import FileTables
    from fresh_chair.store.tables.store import TableStore

    create_file(address, lambda file: fill(TableStore(FileTables(file))))
