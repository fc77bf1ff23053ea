"""A study in the tables of a database, as a study store."""

from functools import cached_property
from typing import TYPE_CHECKING

from fresh_chair.store.tables.journals import Journals
from fresh_chair.store.tables.ledgers import EvidenceLedger, SortLedger
from fresh_chair.store.tables.plans import Plans
from fresh_chair.store.tables.preparations import Preparations

if TYPE_CHECKING:
    from fresh_chair.store.ports import StudyHome
    from fresh_chair.store.stations import StationLink
    from fresh_chair.store.tables.chair_ledgers import ChairLedgers
    from fresh_chair.store.tables.database import Database


_LEDGERS = {"chair_entry": "Chairs", "sort_entry": "Sorting", "evidence_entry": "Evidence", "entry": "A sitting"}


class TableStore:
    """The parts of a study store, each in the same database.

    Args:
        database: The open study's tables.
        link: The other stations at it, where it is on a server.
    """

    def __init__(self, database: "Database", link: "StationLink | None" = None) -> None:
        self.database = database
        self.link = link
        self.journals = Journals(database)
        self.sorting = SortLedger(database)
        self.evidence = EvidenceLedger(database)
        self.plans = Plans(database)
        self.preparations = Preparations(database)

    @cached_property
    def chairs(self) -> "ChairLedgers":
        """The ledgers of the chairs; loaded when they are first asked for, after the first paint."""
        from fresh_chair.store.tables.chair_ledgers import ChairLedgers

        return ChairLedgers(self.database)

    @property
    def home(self) -> "StudyHome":
        """Where it is kept."""
        return self.database.home

    def require_readable(self) -> None:
        """Do nothing where the ledgers that are read later can be. Raises FileProblem."""
        if self.database.holds_rules:
            return
        for table, name in _LEDGERS.items():
            self.database.require_numbers(table, name)
        self.journals.require_sittings()

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """The form and size of the study's place, and the damage that its database finds in itself."""
        return self.database.integrity()

    def aside(self) -> list[str]:
        """A sentence for each row or gap that cannot be used, so that rows stand aside. Raises FileProblem."""
        from fresh_chair.store.tables.ledgers import rows_aside

        return [*rows_aside(self.database), *self.preparations.aside()]

    @property
    def packed(self) -> bool:
        """True where no byte that can be freed here holds anything of an erased person."""
        return self.database.packed

    def pack(self) -> None:
        """Overwrite the bytes that an erasure freed. Raises NotSaved where it cannot be done yet."""
        self.database.pack()

    def send_away(self, to: str) -> str:
        """Close the study, which was moved; returns a sentence that says how. Raises NotSaved."""
        return self.database.send_away(to)

    def call_back(self) -> None:
        """Open the study again where it was moved away. Raises NotSaved."""
        self.database.call_back()

    @property
    def name(self) -> str:
        """The name of its place as it may stand in a sentence."""
        return self.database.name
