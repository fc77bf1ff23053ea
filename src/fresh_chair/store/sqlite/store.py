"""A study in one SQLite file, as a study store."""

from functools import cached_property
from typing import TYPE_CHECKING

from fresh_chair.store.sqlite.journals import Journals
from fresh_chair.store.sqlite.ledgers import EvidenceLedger, SortLedger, require_numbers
from fresh_chair.store.sqlite.plans import Plans
from fresh_chair.store.sqlite.preparations import Preparations
from fresh_chair.store.sqlite.study_file import StudyFile

if TYPE_CHECKING:
    from fresh_chair.store.sqlite.chair_ledgers import ChairLedgers


_LEDGERS = {"chair_entry": "Chairs", "sort_entry": "Sorting", "evidence_entry": "Evidence", "entry": "A sitting"}


class SqliteStore:
    """The parts of a study store, each on the same open file.

    Args:
        file: The open study file.
    """

    def __init__(self, file: StudyFile) -> None:
        self.file = self.home = file
        self.journals = Journals(file)
        self.sorting = SortLedger(file)
        self.evidence = EvidenceLedger(file)
        self.plans = Plans(file)
        self.preparations = Preparations(file)

    @cached_property
    def chairs(self) -> "ChairLedgers":
        """The ledgers of the chairs; loaded when they are first asked for, after the first paint."""
        from fresh_chair.store.sqlite.chair_ledgers import ChairLedgers

        return ChairLedgers(self.file)

    def require_readable(self) -> None:
        """Do nothing where the ledgers that are read later can be. Raises FileProblem."""
        for table, name in _LEDGERS.items():
            require_numbers(self.file, table, name)
        self.journals.require_sittings()

    @property
    def name(self) -> str:
        """The file's name as it may stand in a sentence."""
        return self.file.name
