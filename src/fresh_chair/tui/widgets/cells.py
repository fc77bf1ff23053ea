"""Rows of single cells, each with a style of its own."""

from collections.abc import Sequence
from itertools import groupby

from textual.content import Content


def row_of(cells: Sequence[tuple[str, str]]) -> Content:
    """Cells as one row; neighbours of the same style become one piece, which draws many times faster."""
    return Content.assemble(
        *(("".join(sign for sign, _ in run), style) for style, run in groupby(cells, key=lambda cell: cell[1]))
    )
