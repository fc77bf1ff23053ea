"""Tell: the documents, and where they go."""

from contextlib import suppress
from pathlib import Path
from typing import ClassVar, Literal

from textual import on, work
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.content import Content
from textual.message import Message
from textual.widgets import Static
from textual.worker import get_current_worker

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.core.words.figures import position_sentence
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.report.documents import WritingJob
from fresh_chair.services.report.outputs import produced
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.services.system.child import Stopped
from fresh_chair.services.system.files import Written, typed_path
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.weigh.widgets.axis import Axis, interval_row
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, chair_colour


class Ready(Message):
    """The figures to tell are there."""

    def __init__(self, weighing: Weighing) -> None:
        super().__init__()
        self.weighing = weighing


# From so many files on their names stand side by side.
_MOST_LINES = 18


class Tell(Place):
    """The outline of the documents."""

    place = "tell"
    CSS_PATH = "screen.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("w", "write", "write the report", id="tell.write", tooltip="Charts and report into a folder"),
        Binding("o", "export", "open data", id="tell.export", tooltip="Tables and JSON into a folder"),
        Binding("s", "stop", "stop", id="tell.stop", tooltip="Stop writing; nothing of it is left"),
        Binding("up", "scroll(-3)", "up", id="tell.up", show=False, tooltip="Scroll up"),
        Binding("down", "scroll(3)", "down", id="tell.down", show=False, tooltip="Scroll down"),
        Binding("5", "go('weigh')", "weigh", id="tell.weigh", tooltip="Go to Weigh"),
        Binding("question_mark", "help", "help", id="tell.help", tooltip="What works in this place"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._weighing: Weighing | None = None
        self._told = 0
        self._written: list[Written] = []

    def middle(self) -> ComposeResult:
        """The outline, and at the right where it went."""
        with VerticalScroll(classes="main", id="outline-scroll", can_focus=False):
            yield Static("gathering what can be said ...", id="outline", markup=False)
        yield Static(classes="aside", id="went", markup=False)

    def arrived(self) -> None:
        """Gather in the background."""
        self._gather(self.session.opened.snapshot(), apart=self.session.in_hand is not None)
        self._draw_went()
        self.set_interval(0.1, self._follow_job)

    @work(thread=True, exclusive=True, group="gather")
    def _gather(self, study: StudySnapshot, *, apart: bool) -> None:
        worker = get_current_worker()
        with suppress(Stopped):
            self.post_message(Ready(weigh(study, apart=apart, stopped=lambda: worker.is_cancelled)))

    @on(Ready)
    def _ready(self, message: Ready) -> None:
        self._weighing = message.weighing
        self._draw()

    def _draw(self) -> None:
        weighing = self._weighing
        if weighing is None:
            return
        study, sorted_findings = weighing.study, sorted_findings_of(self.session.opened)
        voids = sum(fact.outcome is Outcome.VOID for fact in weighing.facts)
        parts = [
            Content.styled(legible(study.title), "bold $lamp"),
            Content.styled(legible(study.question), "$chalk"),
            Content(""),
            Content.styled(f"{count_of(len(weighing.facts), 'attempt')}, {voids} void", "$thread"),
            Content.styled(legible(position_sentence(weighing.positions)), "$thread"),
            Content(""),
            Content.assemble(("1  outcomes by task and chair", "bold $chalk"), ("   outcomes.svg, .pdf", "$thread")),
            *self._small_outcomes(weighing),
            Content(""),
            Content.assemble(("2  time on task by chair", "bold $chalk"), ("   times.svg, .pdf", "$thread")),
            *self._small_times(weighing),
            Content(""),
            Content.assemble(
                (f"3  findings: {len(sorted_findings.findings)}", "bold $chalk"),
                (
                    f"   {count_of(len(sorted_findings.loose), 'snag')} to sort yet",
                    "$clay" if sorted_findings.loose else "$thread",
                ),
            ),
        ]
        for finding in sorted_findings.findings[:6]:
            severity = "?" if finding.severity is None else self.signs.severities[finding.severity]
            parts.append(Content.assemble((f"   {severity} ", "$clay"), (legible(finding.title), "$chalk")))
        if len(sorted_findings.findings) > 6:
            parts.append(Content.styled(f"     and {len(sorted_findings.findings) - 6} more", "$thread"))
        parts += [
            Content(""),
            Content.styled("report.md and report.html carry all of it; the HTML needs no other file.", "$thread"),
        ]
        self.query_one("#outline", Static).update(Content("\n").join(parts))

    def _small_outcomes(self, weighing: Weighing) -> list[Content]:
        rows = []
        most = max((sum(cell.counts.values()) for cell in weighing.cells.values()), default=0)
        for card in weighing.study.cards:
            parts: list[tuple[str, str]] = [("   " + clipped(legible(card.title), 28).ljust(29), "$chalk")]
            for chair in weighing.study.chairs:
                cell = weighing.cells[card.id, chair.letter]
                parts.append((f" {chair.letter} ", chair_colour(chair)))
                drawn = 0
                for outcome, count in cell.counts.items():
                    parts.append(((self.signs.outcomes[outcome] + " ") * count, OUTCOME_COLOUR[outcome]))
                    drawn += count
                parts.append((" " * 2 * (most - drawn), ""))
            rows.append(Content.assemble(*parts))
        return rows

    def _small_times(self, weighing: Weighing) -> list[Content]:
        values = [
            value
            for cell in weighing.cells.values()
            for value in (cell.all_seconds.low, cell.all_seconds.value, cell.all_seconds.high)
            if value is not None
        ]
        if not values:
            return [Content.styled("   no times yet", "$thread")]
        axis = Axis(max(min(values), 0.5), max(values), 14, logarithmic=True)
        rows = []
        for card in weighing.study.cards:
            parts: list[Content | tuple[str, str]] = [("   " + clipped(legible(card.title), 28).ljust(29), "$chalk")]
            for chair in weighing.study.chairs:
                cell = weighing.cells[card.id, chair.letter]
                drawn = interval_row(cell.all_seconds, axis, self.signs, chair_colour(chair))
                parts += [(" ", ""), drawn, (" ", "")]
            rows.append(Content.assemble(*parts))
        return rows

    def _draw_went(self) -> None:
        parts = [Content.styled("where it goes", "$thread"), Content("")]
        if not self._written:
            parts += [
                Content("w writes charts and report, o the open data, each into a folder you name."),
                Content(""),
                Content.styled("The same from the command line:", "$thread"),
                Content.styled("fresh-chair report FILE --to DIR", "$chalk"),
                Content.styled("fresh-chair export FILE --to DIR", "$chalk"),
            ]
        if self._written:
            parts.append(Content.styled(f"in {legible(str(self._written[-1].path.parent))}", "$thread"))
        if len(self._written) > _MOST_LINES:
            # So many stand side by side, each by its name alone.
            parts.append(Content.styled(", ".join(legible(w.path.name) for w in self._written), "$moss"))
        else:
            parts += [
                Content.assemble((legible(w.path.name), "$moss"), (f"  {w.what}", "$thread")) for w in self._written
            ]
        self.query_one("#went", Static).update(Content("\n").join(parts))

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Writing can be stopped while it goes on, and started while it does not."""
        running = self._job is not None
        if action == "stop":
            return running
        if action in ("write", "export") and running:
            return False
        return super().check_action(action, parameters)

    def action_write(self) -> None:
        """Charts and report."""
        self._ask_where("report", "report")

    def action_export(self) -> None:
        """Open data."""
        self._ask_where("data", "export")

    @asks
    async def _ask_where(self, name: str, what: Literal["report", "export"]) -> None:
        default = self.session.opened.file.path.with_suffix("").name + f"-{name}"
        folder = self.session.opened.file.path.parent / default

        def named(typed: str) -> bool:
            found: list[Path] = []
            if not self.attempt(lambda: found.append(typed_path(typed))):
                return False
            apart = self.session.in_hand is not None
            produce = produced(self.session.opened, what, apart=apart)
            job = self.session.writing = WritingJob(found[0], produce)
            job.start()
            self._told = 0
            self.tell("writing ...", colour="$lamp")
            self.refresh_bindings()
            return True

        await self.ask_until("into which folder?", named, value=str(folder))

    def _follow_job(self) -> None:
        """Say how far writing is; once, how it ended."""
        job = self.session.writing
        if job is None:
            return
        if job.bug is not None:
            self.session.writing = None
            raise job.bug
        if len(job.written) > self._told:
            self._told = len(job.written)
            self._draw_went()
            self.tell(f"written: {legible(job.written[-1].path.name)}", colour="$lamp")
        if job.running:
            return
        self.session.writing = None
        if job.problem is not None:
            self.tell_problem(job.problem)
        elif job.done:
            self._written = list(job.written)
            self.tell(f"{count_of(len(job.written), 'file')} in {legible(str(job.folder))}.")
        else:
            self.tell("Stopped. Nothing of it was written.", colour="$lamp")
        self._draw_went()
        self.refresh_bindings()

    def action_stop(self) -> None:
        """Give up; nothing of the document is left."""
        if self._job is not None:
            self._job.stop()

    @property
    def _job(self) -> WritingJob | None:
        job = self.session.writing
        return job if job is not None and job.running else None

    def action_scroll(self, rows: int) -> None:
        """Scroll the outline."""
        self.query_one("#outline-scroll").scroll_relative(y=rows, animate=False)
