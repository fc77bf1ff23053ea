"""Records of telling: the reviewer's own paragraphs, chosen quotes and pictures, makers' replies, final documents."""

from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, MaxLen, MinLen
from fresh_chair.core.evidence.targets import Target, require_target, target_parts
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Words, require_date

Id = Annotated[str, MaxLen(40)]
Short = Annotated[str, MaxLen(200)]
Letter = Annotated[str, MaxLen(1)]
# The readers that have a document each.
Reader = Literal["decider", "maker", "researcher", "viewer"]
# Of a record that holds in every document.
ReaderOrAll = Literal["", "decider", "maker", "researcher", "viewer"]
FOREWORD = "foreword"


@frozen(kw_only=True)
class OwnParagraph:
    """A paragraph of the reviewer's own in a document.

    Attributes:
        at: The id of the section, the figure or the number that it stands at; the foreword by default.
        reader: Whose document it is in; empty for all.
        chair: Of the documents for makers, which one; empty for all.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    text: Annotated[Words, MinLen(1)]
    at: Short = FOREWORD
    reader: ReaderOrAll = ""
    chair: Letter = ""


@frozen(kw_only=True)
class QuoteChoice:
    """Whether a quote, or the pictures of a mark, are shown in documents.

    Attributes:
        of: The mark.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    of: Target
    says: Literal["shown first", "left out"] = "shown first"
    reader: ReaderOrAll = ""

    def __post_init__(self) -> None:
        require_target("what is chosen", self.of, needed=True)
        if target_parts(self.of)[0] != "mark":
            raise ValueError("a mark is chosen, such as mark:4f2a")


@frozen(kw_only=True)
class MakersReply:
    """An answer of the makers of a chair to a draft.

    Attributes:
        of: The finding it is about; empty for the whole document.
        by: Who answered, as they want to be named.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    chair: Letter
    text: Annotated[Words, MinLen(1)]
    of: Target = ""
    by: Short = ""
    on: str = ""

    def __post_init__(self) -> None:
        require_target("what they answered to", self.of)
        require_date("the day of their answer", self.on)
        if self.of and target_parts(self.of)[0] != "finding":
            raise ValueError("makers answer to a finding, such as finding:ID, or to the whole")


@frozen(kw_only=True)
class FinalDocument:
    """A document that was given out: its day, its hash, and the hash of each of its sections.

    Attributes:
        sitting: Of documents for viewers, which one's; 0 for none.
        sha256: Of its Markdown, which is the same for the same study.
        sections: The hash of each section, as id=hash, so that a later one can say where it differs.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    reader: Reader
    on: str
    sha256: Annotated[str, MinLen(64), MaxLen(64)]
    chair: Letter = ""
    sitting: Annotated[int, Ge(0)] = 0
    language: Annotated[str, MaxLen(12)] = "en"
    sections: tuple[Annotated[str, MaxLen(300)], ...] = ()

    def __post_init__(self) -> None:
        require_date("the day of the document", self.on or "none")
