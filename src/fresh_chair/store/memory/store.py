"""A study store without a disk, for tests above the store: it keeps the same rows behind the same gate."""

from pathlib import Path

from fresh_chair.store.home import HomeAddress
from fresh_chair.store.memory.kept import Kept
from fresh_chair.store.memory.ledgers import MemoryChairs, MemoryEvidence, MemoryJournals, MemorySorting
from fresh_chair.store.memory.plans import MemoryPlans
from fresh_chair.store.memory.preparations import MemoryPreparations


class MemoryStore:
    """The parts of a study store, on kept rows.

    Args:
        kept: What other stores keep too; something of its own by default.
    """

    name = "a study in memory"

    def __init__(self, kept: Kept | None = None) -> None:
        self.kept = kept if kept is not None else Kept()
        self.journals = MemoryJournals(self.kept)
        self.sorting = MemorySorting(self.kept)
        self.chairs = MemoryChairs(self.kept)
        self.evidence = MemoryEvidence(self.kept)
        self.plans = MemoryPlans(self.kept)
        self.preparations = MemoryPreparations(self.kept)
        self.home = MemoryHome(self.kept)

    packed = True
    link = None

    def require_readable(self) -> None:
        """Rows in memory can always be read."""

    def aside(self) -> list[str]:
        """Nothing stands aside in memory."""
        return []

    def integrity(self) -> tuple[str, tuple[str, ...]]:
        """Memory is whole."""
        return "in memory", ()

    def send_away(self, to: str) -> str:
        """Rows in memory go nowhere."""
        return ""

    def call_back(self) -> None:
        """Rows in memory were nowhere else."""

    def pack(self) -> None:
        """Rows that were changed leave nothing behind."""


class MemoryHome:
    """The home of kept rows: always there, and written by their holders."""

    there = writable = shares = sees_people = True
    line = ""
    changed = False

    def touched(self) -> tuple[int, ...]:
        """Nothing: it is read anew each time."""
        return ()

    observes = False
    away = ""

    def __init__(self, kept: Kept) -> None:
        self.address = HomeAddress("memory", id(kept))
        self.beside = Path("memory.fresh")

    def take_over(self) -> bool:
        """The rows are one's own."""
        return True

    def is_home_of(self, address: HomeAddress) -> bool:
        """True for the same rows; others may be anywhere in memory."""
        return address == self.address

    def make_room(self) -> None:
        """Rows in memory take all the room they need."""

    def rescue(self) -> Path | None:
        """Rows in memory are not taken away."""
        return None

    def close(self, *, clean: bool = True) -> None:
        """The rows stay with those who hold them."""
