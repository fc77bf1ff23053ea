"""Records of evidence, of the study as a whole: references, comparisons, changes, inventory, links, forecasts, later.

Each record is whole; a change is the record again under the same id, and the earlier one stays in the file.
"""

from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le, MaxLen
from fresh_chair.core.evidence.judged import ChairVerdict, ContradictionAnswer, Criterion, Score
from fresh_chair.core.evidence.kinds import OWN, Evidence, Said
from fresh_chair.core.evidence.targets import Target, require_target
from fresh_chair.core.evidence.telling import FinalDocument, MakersReply, OwnParagraph, QuoteChoice
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words, require_date

Id = Annotated[str, MaxLen(40)]
Short = Annotated[str, MaxLen(200)]
Letter = Annotated[str, MaxLen(1)]
ReferenceSort = Literal["earlier release", "rival", "what most systems do", "another device", "something else"]
Says = Literal[
    "better", "worse", "as it was", "new here", "gone", "back again", "moved", "renamed", "replaced by", "cannot say"
]
ChangeSort = Literal["added", "removed", "replaced", "moved", "renamed", "newer version", "behaves otherwise"]
Instead = Literal["not looked at", "as promised", "something else", "newest elsewhere"]
Presence = Literal[
    "not looked for", "there", "launcher with nothing behind it", "in the store", "in a further source", "nowhere"
]  # fmt: skip
Relation = Literal[
    "because of", "excused by", "contradicts", "speaks for", "speaks against", "mended by", "same as", "seen through",
    "earlier release of",
]  # fmt: skip
Sure = Literal["a guess", "likely", "nearly sure"]
CameTrue = Literal["open", "came true", "did not", "cannot be told"]
LaterSort = Literal["put off", "look again", "without an answer", "promised"]
Audience = Literal["people", "makers", "oneself"]
Terms = Literal["not said", "paid", "lent", "given", "none"]


@frozen(kw_only=True)
class Reference:
    """A named thing that chairs are compared with and that has no sittings here.

    Attributes:
        earlier_of: The chair or the reference whose earlier release it is.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    name: Line
    sort: ReferenceSort = "something else"
    earlier_of: Target = ""
    note: Words = ""

    def __post_init__(self) -> None:
        require_target("what it is the earlier release of", self.earlier_of)


@frozen(kw_only=True)
class Against:
    """A thing held against a reference or a chair: better, worse, gone, ...

    Attributes:
        of: The mark, the record, the chair, ... that is spoken of.
        than: The reference or the chair it is held against.
        differs: What differs in the conditions.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    of: Target
    than: Target
    says: Says = "cannot say"
    words: Words = ""
    differs: Words = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_target("what is compared", self.of, needed=True)
        require_target("what it is held against", self.than, needed=True)


@frozen(kw_only=True)
class ReleaseChange:
    """One change that a release brings, announced or found.

    Attributes:
        chair: The chair it is found at, or announced for; empty where it is of a reference.
        release: The reference that it came with, where nobody sits at that release here.
        comes: The date or the release it is still to come with; empty where it is here.
        claim: The claim that promises it, by its id.
        instead: What became of the promise.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    chair: Letter = ""
    release: Target = ""
    sort: ChangeSort = "behaves otherwise"
    what: Line
    was: Short = ""
    now: Short = ""
    known: Literal["found", "announced"] = "found"
    comes: Short = ""
    claim: Short = ""
    instead: Instead = "not looked at"
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_target("the release it came with", self.release)
        if bool(self.chair) == bool(self.release):
            raise ValueError("say at which chair it is, or of which reference; one of them")


@frozen(kw_only=True)
class InventoryItem:
    """The program or feature for a purpose at a chair, or its absence.

    Attributes:
        purpose: What it is for: a mail program, something for the tides.
        shown: The name it is shown under.
        found, looked: Where it was found, and where it was looked for.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    chair: Letter
    purpose: Line
    presence: Presence = "not looked for"
    shown: Short = ""
    version: Short = ""
    package_format: Short = ""
    source: Short = ""
    found: Short = ""
    looked: Short = ""
    note: Words = ""
    evidence: Said = ""


@frozen(kw_only=True)
class Link:
    """Two things tied together, and how."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    first: Target
    relation: Relation
    second: Target
    note: Words = ""

    def __post_init__(self) -> None:
        require_target("what is tied", self.first, needed=True)
        require_target("what it is tied to", self.second, needed=True)
        if self.first == self.second:
            raise ValueError("a thing is not tied to itself")


@frozen(kw_only=True)
class Forecast:
    """A prediction, with its day or release and how sure it is.

    Attributes:
        bears_on: What it is about, where that is on record.
        sealed: Whether it can be changed no more; its outcome can.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    what: Line
    by: str = ""
    release: Short = ""
    sure: Sure = "likely"
    bears_on: Target = ""
    sealed: bool = False
    outcome: CameTrue = "open"
    note: Words = ""

    def __post_init__(self) -> None:
        require_target("what it bears on", self.bears_on)
        require_date("by when", self.by)


@frozen(kw_only=True)
class LaterItem:
    """Something put off: a check to come back to, a question without an answer, a promise.

    Attributes:
        due: The date that brings it back.
        when: What else brings it back: when it is final, a release, another chair.
        whom: For whom.
        of: What it comes from.
        became: What came of it.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    what: Line
    sort: LaterSort = "look again"
    due: str = ""
    when: Short = ""
    chair: Letter = ""
    whom: Short = ""
    of: Target = ""
    done: bool = False
    became: Words = ""

    def __post_init__(self) -> None:
        require_target("what it comes from", self.of)
        require_date("the day it is due", self.due)


@frozen(kw_only=True)
class Advice:
    """Advice of the reviewer to people, to makers, or to themselves.

    Attributes:
        of: What it comes from.
        told, told_on: Where and when its makers were told.
        answer: What they answered.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    what: Line
    to: Audience = "people"
    of: Target = ""
    told: Short = ""
    told_on: str = ""
    answer: Words = ""

    def __post_init__(self) -> None:
        require_target("what it comes from", self.of)
        require_date("the day they were told", self.told_on)


@frozen(kw_only=True)
class Disclosure:
    """The terms on which the reviewer had a chair, or walked; its edition's price and stated worth.

    Attributes:
        sitting: The walk it is of; 0 for all of the chair.
        group: The release whose editions belong together.
        meant_for: What this edition is for.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    chair: Letter
    sitting: Annotated[int, Ge(0), Le(100_000)] = 0
    terms: Terms = "not said"
    price: Short = ""
    worth: Short = ""
    group: Short = ""
    edition: Short = ""
    meant_for: Short = ""
    note: Words = ""


EvidenceRecord = (
    Reference | Against | ReleaseChange | InventoryItem | Link | Forecast | LaterItem | Advice | Disclosure
    | ChairVerdict | Criterion | Score | ContradictionAnswer
    | OwnParagraph | QuoteChoice | MakersReply | FinalDocument
)  # fmt: skip
KINDS: dict[str, type[EvidenceRecord]] = {
    "reference": Reference,
    "against": Against,
    "change": ReleaseChange,
    "inventory": InventoryItem,
    "link": Link,
    "forecast": Forecast,
    "later": LaterItem,
    "advice": Advice,
    "disclosure": Disclosure,
    "verdict": ChairVerdict,
    "criterion": Criterion,
    "score": Score,
    "answer": ContradictionAnswer,
    "paragraph": OwnParagraph,
    "choice": QuoteChoice,
    "reply": MakersReply,
    "final": FinalDocument,
}
KIND_OF = {kind: name for name, kind in KINDS.items()}


def kind_of(record: EvidenceRecord) -> str:
    """A record's kind on disk."""
    return KIND_OF[type(record)]


def evidence_of(record: EvidenceRecord) -> Evidence:
    """How a record is known: as it says itself; announced changes are read about, all others seen."""
    said: Said = getattr(record, "evidence", "")
    if said:
        return said
    return "read about" if isinstance(record, ReleaseChange) and record.known == "announced" else "seen"


def is_own(record: EvidenceRecord) -> bool:
    """Whether a record is the reviewer's own evidence."""
    return evidence_of(record) in OWN
