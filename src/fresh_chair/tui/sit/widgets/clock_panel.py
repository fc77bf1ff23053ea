"""One clock with two lanes, and the line of time under it."""

from textual.app import ComposeResult
from textual.containers import Vertical
from textual.content import Content
from textual.widget import Widget

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.sitting.mark_letters import tick_letter
from fresh_chair.core.sitting.state.attempt import Tick
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.text import count_of
from fresh_chair.services.sitting.view import ClockFace
from fresh_chair.tui.sit.widgets.big_digits import big_digits, digits_width
from fresh_chair.tui.widgets.cells import row_of
from fresh_chair.tui.widgets.signs import LANE_COLOUR, Signs

_COLOURS = {
    "snag": "$clay",
    "delight": "$moss",
    "helped": "$moss",
    "wrong_place": "$lamp",
    "said_done": "$plum",
    "marked": "$lamp",
    "step_reached": "$moss",
    "quote": "$plum",
    "warning": "$clay",
    "left_running": "$tide",
    "left_ready": "$moss",
    "taken_up": "$lamp",
}


def drawn_tick(tick: Tick) -> tuple[str, str] | None:
    """A mark's letter above the line of time, with its colour; None for entries without one."""
    letter = tick_letter(tick)
    return (letter, _COLOURS.get(tick.kind, "$thread")) if letter else None


class ClockPanel(Vertical):
    """Draws a clock face in two parts, so that a mark costs the drawing of its line of time alone; knows no clock."""

    def __init__(self, signs: Signs) -> None:
        super().__init__()
        self._clock_digits = ClockDigits(signs)
        self._line_of_time = LineOfTime(signs)

    def compose(self) -> ComposeResult:
        """Digits, and the line of time under them."""
        yield self._clock_digits
        yield self._line_of_time

    def show(self, face: ClockFace) -> None:
        """Draw this face, each part where it shows anything that the last one did not."""
        seconds = tuple(t // SECOND for t in (face.hands_ns, face.wait_ns, face.aside_ns))
        self._clock_digits.show(face, (seconds, face.lane, face.limit_ns, face.benchmark_ns))
        self._line_of_time.show(
            face, (face.elapsed_ns // SECOND, face.lane, len(face.ticks), face.started_ns, face.moved)
        )


class _FacePart(Widget):
    """A part of the clock, redrawn only where it shows something else."""

    def __init__(self, signs: Signs) -> None:
        super().__init__()
        self._signs = signs
        self._face: ClockFace | None = None
        self._shown: object = None

    def show(self, face: ClockFace, shown: object) -> None:
        """Keep the face, and draw it where `shown` differs from the last time."""
        self._face = face
        if shown != self._shown:
            self._shown = shown
            self.refresh()


class ClockDigits(_FacePart):
    """The lanes in digits that can be read from two metres, their names, and the limit in words."""

    def render(self) -> Content:
        """Five rows of digits, a row of names, a row of words."""
        return Content("") if self._face is None else Content("\n").join(self._rows(self._face))

    def _rows(self, face: ClockFace) -> list[Content]:
        hands, wait = clock_text(face.hands_ns), clock_text(face.wait_ns)
        width = self.size.width
        wide = width >= digits_width(hands, wide=True) + digits_width(wait, wide=False) + 6
        both_wide = width >= digits_width(hands, wide=True) + digits_width(wait, wide=True) + 6
        over = face.hands_ns > face.limit_ns
        live = {lane: face.lane is lane for lane in Lane}
        pixel = self._signs.pixel
        colour = "$lamp" if live[Lane.HANDS] else "$thread"
        if over:
            colour = "$clay blink" if live[Lane.HANDS] else "$clay"
        left = big_digits(hands, colour, pixel=pixel, wide=wide)
        right = big_digits(wait, "$tide" if live[Lane.WAIT] else "$thread", pixel=pixel, wide=both_wide)
        gap = " " * 5
        rows = [Content.assemble(one, gap, other) for one, other in zip(left, right, strict=True)]
        first = digits_width(hands, wide=wide) + len(gap)
        names = Content.assemble(
            (self._lane_name("hands", live[Lane.HANDS]).ljust(first), "bold $lamp" if live[Lane.HANDS] else "$thread"),
            (self._lane_name("wait", live[Lane.WAIT]), "bold $tide" if live[Lane.WAIT] else "$thread"),
            ("   " + self._lane_name("aside", live[Lane.ASIDE]), "bold $plum" if live[Lane.ASIDE] else "$thread"),
            (f" {clock_text(face.aside_ns)}", "bold $plum" if live[Lane.ASIDE] else "$thread"),
        )
        return [*rows, names, self._marks_in_words(face, over)]

    def _lane_name(self, name: str, live: bool) -> str:
        return f"{self._signs.here if live else ' '}{name}"

    def _marks_in_words(self, face: ClockFace, over: bool) -> Content:
        limit = f"limit {clock_text(face.limit_ns)}"
        runs = f" from {count_of(face.benchmark_runs, 'run')}" if face.benchmark_runs else ""
        expert = "" if face.benchmark_ns is None else f", expert {clock_text(face.benchmark_ns)}{runs}"
        said = Content.styled(f" {limit}{expert}", "$thread")
        if over:
            beyond = clock_text(face.hands_ns - face.limit_ns)
            said = Content.assemble(said, (f"   past the limit by {beyond}; it ends when you end it", "$clay"))
        return said


class LineOfTime(_FacePart):
    """Elapsed time from left to right: lanes as they were, marks above, limit and benchmark below."""

    def __init__(self, signs: Signs) -> None:
        super().__init__(signs)
        self._marks: dict[int, tuple[str, str]] = {}
        self._marked: tuple[int, ...] = (0, 0, 0, 0, 0)

    def render(self) -> Content:
        """Three rows."""
        face = self._face
        return Content("") if face is None else Content("\n").join(self._rows(face, max(self.size.width - 2, 20)))

    def _rows(self, face: ClockFace, width: int) -> list[Content]:
        # Beyond the limit the line grows by quarters of it, not with every tick.
        step = max(face.limit_ns // 4, 1)
        beyond = max(face.elapsed_ns - face.limit_ns - face.wait_ns - face.aside_ns, 0)
        full = face.limit_ns + face.wait_ns + face.aside_ns + -(-beyond // step) * step
        cells: list[tuple[str, str]] = [(self._signs.none, "$seam")] * width
        noted = self._marks_by_column(face, full, width)
        marks = [noted.get(index, (" ", "")) for index in range(width)]
        for span in face.spans:
            begin = _column(span.begin_ns - face.started_ns, full, width)
            end = max(_column(span.end_ns - face.started_ns, full, width), begin + 1)
            for index in range(begin, min(end, width)):
                cells[index] = (self._signs.lanes[span.lane], LANE_COLOUR[span.lane])
        below: list[tuple[str, str]] = [(" ", "")] * width
        # Hands time stands still in the other lanes, so both points move right by what was not hands.
        other = face.wait_ns + face.aside_ns
        if face.benchmark_ns is not None:
            below[_column(face.benchmark_ns + other, full, width)] = (self._signs.expert, "$moss")
        below[_column(face.limit_ns + other, full, width)] = (self._signs.limit, "$clay")
        return [row_of(marks), row_of(cells), row_of(below)]

    def _marks_by_column(self, face: ClockFace, full: int, width: int) -> dict[int, tuple[str, str]]:
        """The latest mark of each cell; only new ones are looked at, however many there are."""
        start, *scale = self._marked
        scale_now = [face.started_ns, full, width, face.moved]
        if scale != scale_now or start > len(face.ticks):
            self._marks, start = {}, 0
        for tick in face.ticks[start:]:
            drawn = drawn_tick(tick)
            if drawn is not None:
                self._marks[_column(tick.at_ns - face.started_ns, full, width)] = drawn
        self._marked = (len(face.ticks), *scale_now)
        return self._marks


def _column(at_ns: int, full_ns: int, width: int) -> int:
    return min(max(at_ns * width // full_ns, 0), width - 1)
