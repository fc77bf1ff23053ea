"""Remarks: snags, delights, notes, quotes, warnings and questions, and the words that follow them."""

from collections.abc import Mapping
from typing import ClassVar, Literal

from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, IN_A_WALK
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed, kind_name
from fresh_chair.core.sitting.entries.base import BEGUN, OPEN, WORDED_MARKS, Happening, Severity, Told, observer_of
from fresh_chair.core.sitting.entries.corrections import MarkMoved
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, about, kept, made, number, words_meant
from fresh_chair.core.sitting.entries.typed_marks import read_typed
from fresh_chair.core.sitting.state.attempt import Tick
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Remark, Sitting


class RemarkMade(Happening):
    """Something seen or heard that has words, at once or later."""

    __slots__ = ()
    words: str
    phases: ClassVar[frozenset[Phase]] = OPEN
    observable: ClassVar[bool] = True
    movable: ClassVar[bool] = True

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        observer = observer_of(sitting, entry)
        # An observer's may come late: others' entries that were made after it can be there already.
        attempt = sitting.attempt_seen_at(at_ns) if observer else sitting.attempt
        within = attempt.number if attempt else None
        sitting.keep(Remark(entry.id, self.kind, at_ns, within, self.words, entry.author))
        if attempt is not None:
            attempt.snags += self.kind == "snag" and not observer
            attempt.put(Tick(self.kind, at_ns, entry.id, observer=observer))

    def sentence(self, told: Told) -> str:
        """Its kind, how bad it was as far as that was said, and its latest words."""
        remark = told.sitting.remarks.get(told.entry.id)
        words = self.words if remark is None else remark.words
        kind = self.kind if remark is None else remark.kind
        usual = BESIDE_A_NEWCOMER if told.sitting.walk is None else IN_A_WALK
        rated = f" {remark.severity} of 4" if remark is not None and remark.severity is not None else ""
        told_of = [] if remark is None or remark.evidence == usual else [str(remark.evidence)]
        told_of += [] if remark is None or remark.side == "plain" else [str(remark.side)]
        told_of += ["revised later"] if remark is not None and remark.revised_by else []
        known = f" ({', '.join(told_of)})" if told_of else ""
        # One that was struck has no words to come.
        to_come = " (words to come)" if remark is not None else ""
        return f"{kind}{rated}{known}: {words}" if words else f"{kind}{rated}{known}{to_come}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"{self.kind} {kept(self.words, typed=True)}".rstrip(" ") if self.words else self.kind


@frozen
class SnagSeen(RemarkMade):
    """A trouble; the words may follow."""

    words: Typed = ""
    kind: Literal["snag"] = "snag"
    letter: ClassVar[str] = "s"


@frozen
class DelightSeen(RemarkMade):
    """Something that pleased; the words may follow."""

    words: Typed = ""
    kind: Literal["delight"] = "delight"
    letter: ClassVar[str] = "d"


@frozen
class NoteTaken(RemarkMade):
    """Anything else worth keeping; the words may follow."""

    words: Typed = ""
    kind: Literal["note"] = "note"
    letter: ClassVar[str] = "n"


@frozen
class QuoteTaken(RemarkMade):
    """The participant's own words; they may follow."""

    words: Typed = ""
    kind: Literal["quote"] = "quote"
    letter: ClassVar[str] = "q"


@frozen
class WarningSeen(RemarkMade):
    """The machine warned; the words may follow."""

    words: Typed = ""
    kind: Literal["warning"] = "warning"
    letter: ClassVar[str] = "y"


@frozen
class QuestionLeft(RemarkMade):
    """Something to come back to; the words may follow."""

    words: Typed = ""
    kind: Literal["question"] = "question"
    letter: ClassVar[str] = "k"


@frozen
class Worded(Happening):
    """The words for an earlier remark or mark: a snag, a note, a help (the words said to the person)."""

    entry: str
    words: Typed
    kind: Literal["worded"] = "worded"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    observable: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        tick = None if self.entry in sitting.remarks else sitting.mark_by(self.entry)
        known = self.entry in sitting.remarks or (tick is not None and tick.kind in WORDED_MARKS)
        return "" if known else "There is no mark that these words belong to."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        remark = sitting.remarks.get(self.entry)
        if remark is None:
            sitting.mark_words[self.entry] = self.words
            return
        remark.words = self.words
        sitting.wordless.discard(self.entry)

    def sentence(self, told: Told) -> None:
        """Shown with the remark."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"words #{numbers[self.entry]} {kept(self.words)}"


@frozen
class SnagRated(Happening):
    """How bad an earlier snag was, as far as could be said at once."""

    entry: str
    severity: Severity
    kind: Literal["snag_rated"] = "snag_rated"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    observable: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        remark = sitting.remarks.get(self.entry)
        return "" if remark is not None and remark.kind == "snag" else "There is no snag that this rates."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.remarks[self.entry].severity = self.severity

    def sentence(self, told: Told) -> None:
        """Shown with the snag."""

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"rate #{numbers[self.entry]} {self.severity}"


def _reader(kind: type[RemarkMade]) -> Reader:
    def read(at_ns: int, rest: str) -> list[TimedContent]:
        typed = read_typed(rest)
        parts = [TimedContent(at_ns, made(kind, words=words_meant(typed.words.removeprefix("\\ "))))]
        if typed.severity is not None and kind is SnagSeen:
            parts.append(TimedContent(at_ns, SnagRated("", typed.severity), -1))
        if typed.seconds_earlier:
            parts.append(TimedContent(at_ns, MarkMoved("", typed.seconds_earlier), -len(parts)))
        return parts

    return read


REMARKS: tuple[type[RemarkMade], ...] = (SnagSeen, DelightSeen, NoteTaken, QuoteTaken, WarningSeen, QuestionLeft)
VERBS: dict[str, Reader] = {
    **{kind_name(kind): _reader(kind) for kind in REMARKS},
    "rate": lambda at, rest: about(at, rest, SnagRated, lambda text: {"severity": number(text)}),
    "words": lambda at, rest: about(at, rest, Worded, lambda text: {"words": words_meant(text)}),
}
