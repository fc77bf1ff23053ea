"""A document as Markdown; charts and pictures are linked by name."""

from collections.abc import Iterator, Mapping

from fresh_chair.core.text import legible
from fresh_chair.tell.document.model import (
    Block,
    Document,
    Figure,
    Listing,
    Paragraph,
    Picture,
    Quotation,
    Run,
    Section,
    Table,
    Text,
)

_ACTS = str.maketrans({sign: f"\\{sign}" for sign in "\\`*_{}[]<>()#+!|~$&"})
# A number, a sign or a line of these at the beginning would make a list or a rule.
_BEGINS = ("-", "=", ":", ".")


def markdown_of(document: Document) -> str:
    """The document as Markdown; its numbers lead to the full report, where there is one."""
    lines = [f"# {safe(document.title)}", ""]
    for line in (document.subtitle, document.status):
        if line:
            lines += [f"**{safe(line)}**", ""]
    if document.sample:
        lines += [f"*{safe(document.sample)}*", ""]
    for level, section in document.walk():
        lines += [f"{'#' * min(level + 1, 6)} {safe(section.title)}", ""] if section.title else []
        for block in section.blocks:
            lines += [*block_lines(block, document.full), ""]
    if document.footer:
        lines += ["---", inline(document.footer, document.full), ""]
    return "\n".join(lines)


def block_lines(block: Block, full: str = "") -> Iterator[str]:
    """One block as lines."""
    match block:
        case Paragraph():
            sign = {"own": "> ", "open": "**!** "}.get(block.look, "")
            yield sign + _begun(inline(block.text, full))
        case Listing():
            for number, item in enumerate(block.items, start=1):
                yield f"{f'{number}.' if block.numbered else '-'} {_begun(inline(item, full))}"
        case Quotation():
            yield f"> {inline(block.text, full)}" + (f" ({inline(block.source, full)})" if block.source else "")
        case Table():
            if block.title:
                yield f"*{safe(block.title)}*"
                yield ""
            yield f"| {' | '.join(inline(head, full) for head in block.heads)} |"
            yield "|" + "---|" * len(block.heads)
            for row in block.rows:
                yield f"| {' | '.join(inline(cell, full) for cell in row)} |"
        case Figure():
            yield f"![{safe(block.alt)}]({block.name}.svg)"
            yield ""
            yield f"*{safe(block.title)}*"
        case Picture():
            yield f"![{safe(block.alt)}]({block.name})"
            yield ""
            yield f"*{safe(block.title)}*"


def inline(text: Text, full: str = "") -> str:
    """A text on one line."""
    return "".join(_span(span, full) for span in text)


def _span(span: Run, full: str) -> str:
    shown = safe(span.text)
    bare = shown.strip()
    if span.look == "strong" and bare:
        shown = shown.replace(bare, f"**{bare}**")
    if span.look == "quote" and bare:
        shown = shown.replace(bare, f"*{bare}*")
    if span.id and full:
        return f"[{shown}]({full}.html#{span.id})"
    return shown


def _begun(line: str) -> str:
    """A line that begins no list and no rule by its first letter."""
    head, sign, rest = line.partition(".")
    if sign and head.isdecimal():
        return f"{head}\\.{rest}"
    return f"\\{line}" if line.startswith(_BEGINS) else line


def safe(text: str) -> str:
    """Text in which no sign of Markdown or HTML acts."""
    return legible(text).translate(_ACTS)


def finding_file(head: Mapping[str, object], section: Section) -> str:
    """A finding as a file of its own: a head in YAML, then its text.

    Args:
        head: Names and plain values.
        section: What it says.
    """
    import yaml

    told = yaml.safe_dump(dict(head), allow_unicode=True, sort_keys=False, width=1000)
    lines = ["---", told.rstrip("\n"), "---", "", f"# {safe(section.title)}", ""]
    for block in section.blocks:
        lines += [*block_lines(block), ""]
    return "\n".join(lines)
