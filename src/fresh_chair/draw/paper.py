"""The common style of all charts: paper, ink, fonts, and saving without a trace of date or machine."""

from io import BytesIO
from math import sqrt
from pathlib import Path
from textwrap import wrap
from typing import Any
from warnings import catch_warnings, simplefilter

from matplotlib import get_data_path, rc_context
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.backends.backend_svg import FigureCanvasSVG
from matplotlib.figure import Figure

from fresh_chair.core.hues import CHAIR_HUES, hue_place
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import clipped, legible

INK = "#23282d"
QUIET = "#69727a"
RULE = "#d9d3c6"
OUTCOME_FILL = {
    Outcome.UNAIDED: "#4f7a33",
    Outcome.HELPED: "#a3bf84",
    Outcome.PARTLY: "#e2b65c",
    Outcome.GAVE_UP: "#c9583a",
    Outcome.OUT_OF_TIME: "#de8d76",
    Outcome.BLOCKED: "#7d2f1c",
    Outcome.VOID: "#c2c5c7",
}
_DOTS, _MOST_DOTS = 170.0, 6_000_000
_SETTINGS: Any = {
    "font.family": ["DejaVu Sans"],
    "font.size": 9.0,
    "svg.fonttype": "none",
    "svg.hashsalt": "fresh-chair",
    "pdf.fonttype": 42,
    "path.simplify": False,
}


def chair_ink(chair: Chair) -> str:
    """A chair's hue on paper."""
    return CHAIR_HUES[hue_place(chair.letter, chair.hue)][1]


def plain_text(text: str, most: int = 44) -> str:
    """Text that matplotlib draws as it is, dollar signs included; at most so long that a chart has room for it."""
    return clipped(legible(text), most).replace("$", r"\$")


def quiet_axes(axes: Axes) -> None:
    """Take away every line that says nothing."""
    for side in ("top", "right", "left"):
        axes.spines[side].set_visible(False)
    axes.spines["bottom"].set_color(RULE)
    axes.tick_params(colors=QUIET, bottom=False, left=False, labelcolor=INK)
    axes.tick_params(which="minor", left=False)
    axes.grid(axis="x", color=RULE, linewidth=0.6)
    axes.set_axisbelow(True)


def font_folder() -> Path:
    """Where the faces lie that charts and printed pages embed."""
    return Path(get_data_path()) / "fonts" / "ttf"


def saved(figure: Figure, kind: str) -> bytes:
    """The figure as "svg", "pdf" or "png"; the same figure gives the same bytes."""
    buffer = BytesIO()
    undated: dict[str, dict[str, None]] = {"svg": {"Date": None}, "pdf": {"CreationDate": None, "Producer": None}}
    metadata = undated.get(kind, {"Software": None})
    with rc_context(_SETTINGS), catch_warnings():
        # What the drawing library says of glyphs and layouts is of no use to anybody at the terminal.
        simplefilter("ignore")
        _lay_out(figure, kind)
        figure.savefig(buffer, format=kind, metadata=metadata, dpi=_dots(figure))
    return buffer.getvalue()


def _lay_out(figure: Figure, kind: str) -> None:
    """Lay the figure out once; saving one that has still to be laid out draws all of it twice."""
    layout = figure.get_layout_engine()
    if layout is not None:
        if kind == "svg":
            FigureCanvasSVG(figure)
        layout.execute(figure)
        # `None`, and not "none", which keeps a place for the engine, for which saving draws all of it once more.
        figure.set_layout_engine(None)


def _dots(figure: Figure) -> float:
    """Dots an inch of a picture: fewer for a very large one, so that it stays one that programs open."""
    width, height = figure.get_size_inches()
    return min(_DOTS, sqrt(_MOST_DOTS / float(width * height)))


def new_figure(width: float, height: float) -> Figure:
    """An empty figure, in inches."""
    with rc_context(_SETTINGS):
        return Figure(figsize=(width, height), facecolor="white", layout="constrained")


def wrapped_text(text: str, width: int = 34) -> str:
    """A whole text on as many lines as it takes, as matplotlib draws it: nothing of a label is cut."""
    lines = wrap(legible(text), width, break_long_words=True) or [""]
    return "\n".join(lines).replace("$", r"\$")


def inside(*artists: Artist) -> None:
    """Let artists that lie within their axes take no part in laying out the figure, which looks at each otherwise."""
    for artist in artists:
        artist.set_in_layout(False)


def ticks_within(axes: Axes) -> None:
    """Only the ticks that lie on the axis: the drawing library makes some beyond its ends."""
    low, high = axes.get_xlim()
    axes.set_xlim(low, high)
    axes.set_xticks([tick for tick in axes.get_xticks() if low <= tick <= high])
