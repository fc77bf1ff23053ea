"""The entries of a walk besides its steps: its beginning, lines and their kinds, how things are known, cuts."""

from collections.abc import Mapping
from typing import ClassVar, Literal, get_args

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.evidence.kinds import KINDS, Evidence
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.sitting.entries.base import BEGUN, Happening, Seconds, Told, Why
from fresh_chair.core.sitting.entries.remarks import RemarkMade
from fresh_chair.core.sitting.entries.syntax import Reader, about, kept, one, seconds_in, shown, words_meant
from fresh_chair.core.sitting.entries.walks.steps import WALKING, walk_of
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Remark, Sitting
from fresh_chair.core.sitting.state.walk import Step, Walk

# The kinds that a line typed in a hurry may turn out to be.
Meaning = Literal["snag", "delight", "note", "quote", "warning", "question"]
MEANINGS: tuple[Meaning, ...] = get_args(Meaning)


@frozen
class WalkBegan(Happening):
    """The sitting is a walk: a reviewer alone goes through the chair."""

    kind: Literal["walk_began"] = "walk_began"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.READING, Phase.USABILITY, Phase.CLOSING})
    undoable: ClassVar[bool] = False
    said: ClassVar[str] = "a walk: nobody else sits at the chair"
    typed: ClassVar[str] = "walk"

    def objection(self, sitting: Sitting) -> str:
        begun = sitting.attempts or sitting.passed or sitting.usability
        return "A sitting in which something was tried already is no walk from its beginning." if begun else ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.walk = Walk()


@frozen
class WalkDeclared(Happening):
    """A sitting logged otherwise was a walk, with why: it enters no newcomers' figure from here on."""

    reason: Why
    kind: Literal["walk_declared"] = "walk_declared"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.ENDED, Phase.BROKEN_OFF})
    undoable: ClassVar[bool] = False

    def objection(self, sitting: Sitting) -> str:
        if sitting.walk is not None:
            return "It is a walk already."
        return "" if self.reason.strip() else "Declaring a sitting a walk needs a reason."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.walk = Walk(declared=self.reason)

    def sentence(self, told: Told) -> str:
        return f"declared a walk: {self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"declared a walk {kept(self.reason)}"


@frozen
class LineTyped(RemarkMade):
    """A line typed in a hurry; its kind is told later."""

    words: Typed = ""
    kind: Literal["line"] = "line"
    phases: ClassVar[frozenset[Phase]] = WALKING
    letter: ClassVar[str] = "+"


@frozen
class LineMeant(Happening):
    """The kind that an earlier line turns out to be: a snag, a delight, ..."""

    entry: str
    meaning: Meaning
    kind: Literal["line_meant"] = "line_meant"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        remark = sitting.remarks.get(self.entry)
        return "" if remark is not None and remark.typed_as_line else "There is no line of that kind to be told."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.remarks[self.entry].kind = self.meaning

    def sentence(self, told: Told) -> None:
        """Shown with the line."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"meant #{numbers[self.entry]} {self.meaning}"


@frozen
class EvidenceTold(Happening):
    """How an earlier mark is known, a step by the entry that opened it, or an outcome by the one that judged it."""

    entry: str
    evidence: Evidence
    kind: Literal["evidence_told"] = "evidence_told"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        return "" if self._told_of(sitting) is not None else "There is no mark, step or outcome that this tells of."

    def _told_of(self, sitting: Sitting) -> Step | Remark | Attempt | None:
        step = sitting.walk.opened_by(self.entry) if sitting.walk is not None else None
        judged = next((attempt for attempt in sitting.attempts if attempt.judged_by == self.entry), None)
        return step or sitting.remarks.get(self.entry) or judged

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        told_of = self._told_of(sitting)
        assert told_of is not None
        told_of.evidence = self.evidence

    def sentence(self, told: Told) -> None:
        """Shown with the mark."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"evidence #{numbers[self.entry]} {self.evidence}"


@frozen
class RecordingCut(Happening):
    """The recording is cut here: a time across this point is none."""

    kind: Literal["recording_cut"] = "recording_cut"
    phases: ClassVar[frozenset[Phase]] = WALKING
    said: ClassVar[str] = "the recording is cut here"
    typed: ClassVar[str] = "cut here"

    def objection(self, sitting: Sitting) -> str:
        return "" if sitting.recording is not None else "This walk is not logged from a recording."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).cuts.append(at_ns)


@frozen
class RecordingUncut(Happening):
    """The recording is whole, as the reviewer says: it is as long as the walk was."""

    kind: Literal["recording_uncut"] = "recording_uncut"
    phases: ClassVar[frozenset[Phase]] = WALKING
    said: ClassVar[str] = "the recording is uncut"
    typed: ClassVar[str] = "uncut"

    def objection(self, sitting: Sitting) -> str:
        return RecordingCut.objection(RecordingCut(), sitting)

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).uncut = True


@frozen
class WalkTimeboxed(Happening):
    """How long the walk is to last; 0 for as long as it takes."""

    seconds: Seconds
    kind: Literal["walk_timeboxed"] = "walk_timeboxed"
    phases: ClassVar[frozenset[Phase]] = WALKING
    afterwards: ClassVar[bool] = True

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        walk_of(sitting).promised_seconds = self.seconds or None

    def sentence(self, told: Told) -> str:
        return f"to last {clock_text(round(self.seconds * SECOND))}" if self.seconds else "to last as long as it takes"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"timebox {self.seconds!r}"


def _evidence(text: str) -> dict[str, object]:
    if text not in KINDS:
        raise ValueError(f"{shown(text)} is no kind of evidence: {', '.join(KINDS)}")
    return {"evidence": text}


WALKS = (WalkBegan(), RecordingCut(), RecordingUncut())
VERBS: dict[str, Reader] = {
    "declared a walk": lambda at, rest: one(at, WalkDeclared, reason=words_meant(rest)),
    "line": lambda at, rest: one(at, LineTyped, words=words_meant(rest.removeprefix("\\ "))),
    "meant": lambda at, rest: about(at, rest, LineMeant, lambda text: {"meaning": text}),
    "timebox": lambda at, rest: one(at, WalkTimeboxed, seconds=seconds_in(rest)),
    "evidence": lambda at, rest: about(at, rest, EvidenceTold, _evidence),
}
