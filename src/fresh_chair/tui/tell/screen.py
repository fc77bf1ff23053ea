"""Tell: a reader is chosen, then their document as an outline, and where it goes."""

from contextlib import suppress
from dataclasses import replace
from typing import ClassVar

from textual import events, on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.widget import Widget
from textual.widgets import Static
from textual.worker import get_current_worker

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.evidence.telling import Reader
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.report.reports import READERS, Prepared, Telling, prepared
from fresh_chair.services.report.telling.open_points import OpenPoint, open_points
from fresh_chair.services.report.writing import WritingJob
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.services.system.child import Stopped
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.tell.acts import TellActs
from fresh_chair.tui.tell.job_follower import JobFollower
from fresh_chair.tui.tell.widgets.document_lines import DocumentLine
from fresh_chair.tui.tell.widgets.document_panel import DocumentPanel
from fresh_chair.tui.tell.widgets.gathering import Gathered, Ready
from fresh_chair.tui.tell.widgets.going import going
from fresh_chair.tui.widgets.line_list import LineList

# The readers in the order of the keys; None is everyone, in short.
_ORDER: tuple[Reader | None, ...] = (*READERS, None)


class Tell(TellActs):
    """The documents, a reader at a time."""

    place = "tell"
    older_words = "Others have gone on since this was made. 6 makes it again."
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "reader(-1)", "reader before", id="tell.before", show=False, tooltip="The reader before"),
        Binding("right", "reader(1)", "next reader", id="tell.after", key_display="→", tooltip="The next reader"),
        Binding("w", "write", "write it", id="tell.write", tooltip="The document of this reader, into a folder"),
        Binding("s", "stop", "stop", id="tell.stop", tooltip="Stop writing; nothing of it is left"),
        Binding("v", "whole", "text", id="tell.whole", tooltip="Its whole text, or its outline"),
        Binding("n", "which(1)", "next one", id="tell.which", tooltip="The next chair's, or sitting's, document"),
        Binding("a", "answer", "answer", id="tell.answer", tooltip="Answer what is open in hand"),
        Binding("p", "own_words", "own words", id="tell.words", tooltip="A paragraph of your own at the line in hand"),
        Binding("x", "take_out", "take out", id="tell.out", tooltip="One chart, or one sentence, alone"),
        Binding("k", "quotes_sheet", "quotes", id="tell.quotes", tooltip="Which quotes and pictures are shown"),
        Binding("o", "export", "open data", id="tell.export", tooltip="Tables and JSON into a folder"),
        Binding(
            "O",
            "export_redacted",
            "redacted",
            id="tell.redacted",
            show=False,
            tooltip="Open data without quotes, words about people, observers' names and locations of files",
        ),
        Binding("f", "formats", "formats", id="tell.formats", show=False, tooltip="HTML, Markdown, PDF, ODT"),
        Binding("l", "language", "language", id="tell.language", show=False, tooltip="Whose sentences"),
        Binding("u", "until", "answers until", id="tell.until", show=False, tooltip="A draft for makers, until when"),
        Binding("m", "reply", "makers' answer", id="tell.reply", show=False, tooltip="What makers answered"),
        Binding("g", "give_out", "final", id="tell.final", show=False, tooltip="Keep that it is final as it is now"),
        Binding("5", "go('weigh')", "weigh", id="tell.weigh", tooltip="Go to Weigh", show=False),
        Binding("question_mark", "help", "help", id="tell.help", tooltip="What works in this place"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.telling = Telling("decider", formats=("html", "md", "pdf", "odt"))
        self.gathered: Gathered | None = None
        self._at = 0
        self._whole = False
        self._follower = JobFollower()

    def middle(self) -> ComposeResult:
        """The document, and at the right where it goes."""
        yield DocumentPanel()
        yield Static(classes="aside", id="went", markup=False)

    def main(self) -> Widget | None:
        """The document has the keys."""
        return self.query_one(DocumentPanel).listed

    def arrived(self) -> None:
        """Gather in the background."""
        self.gather()
        self.every(0.1, self._follow_job)

    def gather(self) -> None:
        """Make the documents of the chosen reader anew."""
        self._draw()
        self.gathering = True
        if self.gathered is None:
            self.tell("gathering what can be said ...", colour="$thread")
        self._gather(self.session.opened.snapshot(), self.telling, apart=self.session.in_hand is not None)

    @work(thread=True, exclusive=True, group="gather", description="gather")
    def _gather(self, study: StudySnapshot, telling: Telling, *, apart: bool) -> None:
        worker = get_current_worker()
        path = self.session.opened.beside
        try:
            with suppress(Stopped):
                found = weigh(study, apart=apart, stopped=lambda: worker.is_cancelled)
                ready = tuple(prepared(study, telling, weighing=found, beside=path, apart=apart))
                points = tuple(tuple(_points_of(each)) for each in ready)
                if not worker.is_cancelled:
                    self.post_message(Ready(Gathered(telling, found, ready, points)))
        except FreshChairError as problem:
            self.post_message(Ready(problem))

    @on(Ready)
    def _ready(self, message: Ready) -> None:
        found = message.gathered
        if not isinstance(found, FreshChairError) and found.telling != self.telling:
            return
        self.gathering = False
        if isinstance(found, FreshChairError):
            self.fail_waiting()
            self.tell_problem(found)
            return
        self.gathered = found
        if not self.session.is_writing:
            self.clear_notice()
        self._at = min(self._at, max(len(found.ready) - 1, 0))
        self._draw()
        self.answer_waiting(True)

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.call_after_refresh(self._draw)

    @property
    def ready(self) -> Prepared | None:
        """The document on the screen."""
        found = self.gathered
        fits = found is not None and found.telling == self.telling and self._at < len(found.ready)
        return found.ready[self._at] if found is not None and fits else None

    @property
    def line(self) -> DocumentLine | None:
        """The line in hand."""
        return self.query_one(DocumentPanel).line

    def _draw(self) -> None:
        self.query_one(DocumentPanel).show_readers(self.telling)
        found = self.gathered
        if found is not None and self.ready is not None:
            self.query_one(DocumentPanel).show_document(found, self._at, self.signs, whole=self._whole)
        self._draw_went()
        self.refresh_bindings()

    def _draw_went(self) -> None:
        found, ready = self.gathered, self.ready
        which = ready.document.title if ready is not None else ""
        if found is not None and len(found.ready) > 1:
            which = f"{which} ({self._at + 1} of {len(found.ready)})"
        self.query_one("#went", Static).update(going(self.telling, which, self._follower.written))

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Writing can be stopped while it goes on, and started while it does not; the rest where it fits."""
        if action == "stop":
            return self.session.is_writing
        if action in ("write", "export", "export_redacted") and self.session.is_writing:
            return False
        if self.is_mounted:
            line = self.line if action in ("answer", "own_words", "take_out") else None
            if action == "answer":
                return self.working or (line is not None and bool(line.point))
            if action == "which":
                return self.gathered is not None and len(self.gathered.ready) > 1
            if action in ("until", "reply"):
                return self.telling.reader == "maker"
            if action == "give_out":
                return self.telling.reader is not None and not self.telling.until
        return super().check_action(action, parameters)

    @on(LineList.Moved)
    def _moved(self) -> None:
        self.refresh_bindings()

    def action_reader(self, step: int) -> None:
        """The document of another reader."""
        at = (_ORDER.index(self.telling.reader) + step) % len(_ORDER)
        self._at = 0
        self.choose(replace(self.telling, reader=_ORDER[at], until=""))

    def choose(self, telling: Telling) -> None:
        """Tell it otherwise."""
        self.telling = telling
        self.gather()

    def action_which(self, step: int) -> None:
        """The document of the next chair, or sitting."""
        if self.gathered is not None and self.gathered.ready:
            self._at = (self._at + step) % len(self.gathered.ready)
            self._draw()

    def action_whole(self) -> None:
        """The whole text, or the outline."""
        self._whole = not self._whole
        self._draw()

    def begin(self, job: WritingJob) -> None:
        """Start writing."""
        self.session.writing = job
        job.start()
        self._follower = JobFollower()
        self.tell("writing ...", colour="$lamp")
        self.refresh_bindings()

    def _follow_job(self) -> None:
        """Say how far writing is; once, how it ended."""
        job = self.session.writing
        said = None if job is None else self._follower.said(job)
        if job is None or said is None:
            return
        if not job.running:
            self.session.writing = None
            if job.problem is not None:
                self.tell_problem(job.problem)
        if said.words:
            self.tell(said.words, colour=said.colour)
        self._draw_went()
        self.refresh_bindings()


def _points_of(ready: Prepared) -> list[OpenPoint]:
    """The open points of a document; of makers' documents those of their chair alone."""
    letter = ready.told.chair
    return [each for each in open_points(ready.told) if letter in ("", each.chair)]
