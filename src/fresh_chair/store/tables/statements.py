"""Statements in the tables' SQL, and the rows they find."""

from collections.abc import Callable, Iterator, Sequence
from typing import Any, Protocol


class Row(Protocol):
    """One row of a query, by column or by position."""

    def __getitem__(self, key: Any, /) -> Any: ...

    def __iter__(self) -> Iterator[Any]: ...

    def keys(self) -> list[str]:
        """The names of its columns."""


class StatementResult(Protocol):
    """The result of a statement: the rows it found, or how many it changed."""

    @property
    def rowcount(self) -> int:
        """How many rows were changed."""

    def fetchone(self) -> Any:
        """The next row, None after the last."""

    def fetchall(self) -> list[Any]:
        """All rows."""


# Runs one statement, whose parameters are question marks, within a transaction.
Execute = Callable[[str, Sequence[object]], StatementResult]
# Runs one statement for many rows.
ExecuteAll = Callable[[str, Sequence[Sequence[object]]], object]
# Reads rows, all of them as of one moment.
Look = Callable[[str, Sequence[object]], "list[Row]"]
