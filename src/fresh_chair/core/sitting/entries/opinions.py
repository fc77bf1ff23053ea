"""Sides of a remark: praise and blame at once, taste, habit, intent; and an opinion that changed."""

from collections.abc import Mapping
from typing import ClassVar, Literal

from fresh_chair.core.evidence.kinds import SIDES, Side
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import BEGUN, Happening, Told, Why
from fresh_chair.core.sitting.entries.syntax import Reader, about, kept, shown, words_meant
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Remark, Sitting
from fresh_chair.core.text import with_article


@frozen
class SideTold(Happening):
    """An earlier remark is praise and blame at once, or a matter of taste, habit or intent; `plain` is none of them."""

    entry: str
    side: Side
    kind: Literal["side_told"] = "side_told"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        return "" if self.entry in sitting.remarks else "There is no remark that this tells of."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.remarks[self.entry].side = self.side

    def sentence(self, told: Told) -> None:
        """Shown with the remark."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"side #{numbers[self.entry]} {self.side}"


@frozen
class OpinionRevised(Happening):
    """A later opinion beside an earlier remark; both stay, each with its date.

    Args:
        entry: The earlier remark.
        meaning: What the later one is: a snag, a delight, a note.
        words: What is thought now, and why.
    """

    entry: str
    meaning: Literal["snag", "delight", "note"]
    words: Why
    kind: Literal["opinion_revised"] = "opinion_revised"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        remark = sitting.remarks.get(self.entry)
        if remark is None:
            return "There is no remark that this revises."
        if remark.revised_by:
            return "That remark was revised already; the later one is the one to revise."
        return "" if self.words.strip() else "A changed mind has words: what is thought now."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        earlier = sitting.remarks[self.entry]
        earlier.revised_by = entry.id
        later = Remark(entry.id, self.meaning, at_ns, None, self.words, entry.author, revises=self.entry)
        sitting.keep(later)

    def sentence(self, told: Told) -> str:
        earlier = told.sitting.remarks.get(self.entry)
        of = f" of “{earlier.words}”" if earlier is not None and earlier.words else ""
        remark = told.sitting.remarks.get(told.entry.id)
        words: Typed = self.words if remark is None else remark.words
        return f"changed mind{of}, now {with_article(self.meaning)}: {words}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"revises #{numbers[self.entry]} {self.meaning} {kept(self.words)}"


def _side(text: str) -> dict[str, object]:
    if text not in SIDES:
        raise ValueError(f"{shown(text)} is none of {', '.join(SIDES)}")
    return {"side": text}


def _revised(text: str) -> dict[str, object]:
    meaning, _, words = text.partition(" ")
    return {"meaning": meaning, "words": words_meant(words)}


VERBS: dict[str, Reader] = {
    "side": lambda at, rest: about(at, rest, SideTold, _side),
    "revises": lambda at, rest: about(at, rest, OpinionRevised, _revised),
}
