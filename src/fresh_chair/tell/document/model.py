"""A document as it is told: sections of paragraphs, lists, quotes, tables and figures, in spans of text.

Nothing of it is a format: a renderer makes HTML, Markdown, PDF, OpenDocument text or lines for a terminal of it.
"""

from collections.abc import Iterator, Sequence
from itertools import zip_longest
from typing import Literal

from fresh_chair.core.frozen import frozen

Look = Literal["plain", "strong", "quiet", "quote", "sign"]
ParagraphLook = Literal["plain", "lead", "quiet", "own", "open"]
# The documents that somebody is told by; `brief` is the short report for everyone.
DocumentName = Literal["decider", "maker", "researcher", "viewer", "brief"]


@frozen
class Run:
    """A run of text.

    Attributes:
        id: The id of the number it is, made of its figure, card and chair; empty for words.
        to: The id of a section or number that it leads to, in this document; empty for none.
    """

    text: str
    look: Look = "plain"
    id: str = ""
    to: str = ""


Text = tuple[Run, ...]


@frozen
class Paragraph:
    """A paragraph; one of the reviewer's own, or of open points, looks otherwise."""

    text: Text
    look: ParagraphLook = "plain"


@frozen
class Listing:
    """Items, one below the other; numbered where their order matters."""

    items: tuple[Text, ...]
    numbered: bool = False


@frozen
class Quotation:
    """The words of a person between their quotation marks, and whose they are."""

    text: Text
    source: Text = ()


@frozen
class Table:
    """Rows below heads; the first cell of a row is its head.

    Attributes:
        title: What it shows; empty where the section says it.
        wide: Shares of its width by column; empty for a division by content.
    """

    heads: tuple[Text, ...]
    rows: tuple[tuple[Text, ...], ...]
    title: str = ""
    wide: tuple[float, ...] = ()


@frozen
class Figure:
    """A chart by its name, with its description in words."""

    name: str
    title: str
    alt: str


@frozen
class Picture:
    """A picture that was attached to a mark: the name of its file beside the document, and its description."""

    name: str
    title: str
    alt: str


Block = Paragraph | Listing | Quotation | Table | Figure | Picture


@frozen
class Section:
    """A part of a document under its heading.

    Attributes:
        id: Names it for good, so that a paragraph of the reviewer's finds it again; links lead to it.
        keep: Whether it is kept together on one page, where it fits on one.
    """

    id: str
    title: str
    blocks: tuple[Block, ...] = ()
    sections: tuple["Section", ...] = ()
    keep: bool = False

    def walk(self, level: int = 1) -> Iterator[tuple[int, "Section"]]:
        """It and every section in it, each with its depth."""
        yield level, self
        for section in self.sections:
            yield from section.walk(level + 1)


@frozen
class Document:
    """A whole document.

    Attributes:
        name: For whom it is.
        file: The name of its file without an ending.
        status: Draft or final, with its day, and the hash of a final one; empty for neither.
        sample: The sentence that says all of it is made up; empty for real data.
        full: The file that its numbers lead to, without an ending; empty for itself.
        pages: The most pages it may have on paper; 0 for any number.
    """

    name: DocumentName
    file: str
    title: str
    subtitle: str
    language: str
    sections: tuple[Section, ...]
    status: str = ""
    sample: str = ""
    footer: Text = ()
    full: str = ""
    pages: int = 0

    def walk(self) -> Iterator[tuple[int, Section]]:
        """Every section with its depth, the outermost at 1."""
        for section in self.sections:
            yield from section.walk()

    def blocks(self) -> Iterator[Block]:
        """Every block, in the order of the document."""
        for _, section in self.walk():
            yield from section.blocks

    def figures(self) -> tuple[str, ...]:
        """The names of its charts, each once."""
        return tuple(dict.fromkeys(block.name for block in self.blocks() if isinstance(block, Figure)))

    def texts(self) -> Iterator[Text]:
        """Every text of its sections but the headings."""
        for block in self.blocks():
            yield from block_texts(block)

    def numbers(self) -> tuple[str, ...]:
        """The ids of its numbers, each once."""
        return tuple(dict.fromkeys(span.id for text in self.texts() for span in text if span.id))


def block_texts(block: Block) -> Iterator[Text]:
    """Every text of a block."""
    match block:
        case Paragraph():
            yield block.text
        case Listing():
            yield from block.items
        case Quotation():
            yield block.text
            yield block.source
        case Table():
            yield from block.heads
            for row in block.rows:
                yield from row
        case Figure() | Picture():
            yield (Run(block.title),)


def with_leads(blocks: Sequence[Block]) -> Iterator[tuple[Block, bool]]:
    """Each block, and whether it leads: it ends by a colon, and a list or a quote stands below, on the same page."""
    for block, after in zip_longest(blocks, blocks[1:]):
        colon = isinstance(block, Paragraph) and plain(block.text).rstrip().endswith(":")
        yield block, colon and isinstance(after, Listing | Quotation)


def plain(text: Text) -> str:
    """A text without its looks.

    >>> plain((Run("met by "), Run("3 of 5", "strong")))
    'met by 3 of 5'
    """
    return "".join(span.text for span in text)
