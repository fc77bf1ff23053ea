"""The column at the right: for whom, in which form, and the files that were written. Pure drawing."""

from collections.abc import Sequence

from textual.content import Content

from fresh_chair.core.text import legible
from fresh_chair.services.report.reports import Telling
from fresh_chair.services.system.files import Written

# The readers in the words of the screen, in the order of its keys.
READER_WORDS = {
    "decider": "decides",
    "maker": "makes it",
    "researcher": "checks it",
    "viewer": "watches it",
    "": "everyone",
}
# From so many files on their names stand side by side.
_MOST_LINES = 14


def reader_row(telling: Telling, width: int) -> Content:
    """The readers in a row, the chosen one lit."""
    chosen = telling.reader or ""
    parts: list[tuple[str, str]] = [("for who", "$thread")]
    for name, words in READER_WORDS.items():
        parts += [(" ", ""), (f" {words} ", "bold $ink on $lamp" if name == chosen else "$chalk")]
    row = Content.assemble(*parts)
    if row.cell_length <= width:
        return row
    at = list(READER_WORDS).index(chosen) + 1
    return Content.assemble(
        ("for who ", "$thread"),
        (f" {READER_WORDS[chosen]} ", "bold $ink on $lamp"),
        (f"  {at} of {len(READER_WORDS)}", "$thread"),
    )


def going(telling: Telling, which: str, written: Sequence[Written]) -> Content:
    """The form a document is written in, the command that does the same, and the files that were written.

    Args:
        telling: Which documents.
        which: Of several, the one on the screen.
        written: The files of the last time.
    """
    reader = f" --for {telling.reader}" if telling.reader else ""
    parts = [
        Content.styled("which", "$thread"),
        Content.styled(legible(which), "$chalk"),
        Content(""),
        Content.assemble(("formats  ", "$thread"), (", ".join(telling.formats), "$chalk")),
        Content.assemble(("language ", "$thread"), (telling.language, "$chalk")),
    ]
    if telling.until:
        parts.append(Content.assemble(("answers until ", "$thread"), (telling.until, "$chalk")))
    parts += [
        Content(""),
        Content.styled("w writes it, o the open data, each into a folder you name.", "$chalk"),
        Content(""),
        Content.styled("The same from the command line:", "$thread"),
        Content.styled(f"fresh-chair report FILE{reader} --to DIR", "$chalk"),
        Content.styled("fresh-chair export FILE --to DIR", "$chalk"),
    ]
    if written:
        parts += [Content(""), Content.styled(f"in {legible(str(written[-1].path.parent))}", "$thread")]
    if len(written) > _MOST_LINES:
        # So many stand side by side, each by its name alone.
        parts.append(Content.styled(", ".join(legible(each.path.name) for each in written), "$moss"))
    else:
        parts += [
            Content.assemble((legible(each.path.name), "$moss"), (f"  {each.what}", "$thread")) for each in written
        ]
    return Content("\n").join(parts)
