"""The readers in a row, and the document of the chosen one as a list of lines."""

from collections.abc import Mapping

from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from fresh_chair.services.report.reports import Telling
from fresh_chair.tui.tell.widgets.document_lines import DocumentLine, document_lines
from fresh_chair.tui.tell.widgets.gathering import Gathered
from fresh_chair.tui.tell.widgets.going import reader_row
from fresh_chair.tui.tell.widgets.small_figures import small_figure
from fresh_chair.tui.widgets.line_list import LineList
from fresh_chair.tui.widgets.signs import Signs


class DocumentPanel(Vertical):
    """A document as it is told."""

    def __init__(self) -> None:
        super().__init__(classes="main")
        self._lines: Mapping[str, DocumentLine] = {}

    def compose(self) -> ComposeResult:
        """The readers, the lines below them."""
        yield Static(id="readers", markup=False)
        yield LineList("document")

    @property
    def listed(self) -> LineList:
        """The list of lines."""
        return self.query_one("#document", LineList)

    @property
    def line(self) -> DocumentLine | None:
        """The line in hand."""
        here = self.listed.here
        return self._lines.get(here) if here is not None else None

    def show_readers(self, telling: Telling) -> None:
        """Show which reader is chosen."""
        self.query_one("#readers", Static).update(reader_row(telling, max(self.size.width - 1, 40)))

    def show_document(self, gathered: Gathered, at: int, signs: Signs, *, whole: bool) -> None:
        """Show one of the documents.

        Args:
            gathered: The documents.
            at: Which of them.
            signs: The glyphs to draw with.
            whole: Its whole text; otherwise its outline.
        """
        listed = self.listed
        lines = document_lines(
            gathered.ready[at].document,
            gathered.points[at],
            max(listed.size.width - 1, 40),
            whole=whole,
            small=lambda name: small_figure(name, gathered.weighing, signs),
        )
        self._lines = {line.id: line for line in lines if line.id is not None}
        rows = [len(line.rows) for line in lines]
        listed.show([line.id for line in lines], lambda index, _: lines[index].rows, rows)
