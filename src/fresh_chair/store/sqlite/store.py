"""A study in one SQLite file, as a study store."""

from fresh_chair.store.sqlite.chair_ledgers import ChairLedgers
from fresh_chair.store.sqlite.journals import Journals
from fresh_chair.store.sqlite.ledgers import SortLedger
from fresh_chair.store.sqlite.plans import Plans
from fresh_chair.store.sqlite.preparations import Preparations
from fresh_chair.store.sqlite.study_file import StudyFile


class SqliteStore:
    """The parts of a study store, each on the same open file.

    Args:
        file: The open study file.
    """

    def __init__(self, file: StudyFile) -> None:
        self.file = file
        self.journals = Journals(file)
        self.sorting = SortLedger(file)
        self.chairs = ChairLedgers(file)
        self.plans = Plans(file)
        self.preparations = Preparations(file)

    @property
    def name(self) -> str:
        """The file's name as it may stand in a sentence."""
        return self.file.name
