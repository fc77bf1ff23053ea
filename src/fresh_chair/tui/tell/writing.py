"""The dialogues of Tell that write: documents, open data, one chart or one sentence alone."""

from collections.abc import Callable
from pathlib import Path

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.report.charts import write_chart
from fresh_chair.services.report.reports import Prepared, Telling, produced
from fresh_chair.services.report.writing import WritingJob
from fresh_chair.services.system.files import typed_path, write_file
from fresh_chair.tui.base.waiting import WaitingPlace
from fresh_chair.tui.tell.widgets.document_lines import DocumentLine
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import Prompt, asks


class TellWriting(WaitingPlace):
    """The dialogues that write; the screen says which documents, which one, and which line they are about."""

    telling: Telling
    # Whether the documents are being made.
    gathering = False

    @property
    def ready(self) -> Prepared | None:
        """The document on the screen."""
        raise NotImplementedError

    @property
    def line(self) -> DocumentLine | None:
        """The line in hand."""
        raise NotImplementedError

    def begin(self, job: WritingJob) -> None:
        """Start writing."""
        raise NotImplementedError

    @property
    def working(self) -> bool:
        """Whether the document is being made, and is not there."""
        return self.gathering and self.ready is None

    def once_gathered(self) -> Prompt[bool]:
        """Wait for the document; keys typed meanwhile belong to the question that follows. False where it is left."""
        return self.once_there("as soon as all is gathered ... (Esc: not)")

    def refuse(self, why: str) -> None:
        """Say why a key does nothing here, and take nothing of the text that was typed behind it for keys."""
        self.tell(f"{why}{' The text typed behind it was not taken.' if self.drop_typed() else ''}", colour="$thread")

    @asks
    async def action_write(self) -> None:
        """Ask where, and write the documents of the reader."""
        name = self.telling.reader or "report"
        await self._ask_where(name, lambda: produced(self.session.opened, self.telling, apart=self._apart))

    @asks
    async def action_export(self) -> None:
        """Ask where, and write the open data."""
        await self._ask_where("data", lambda: produced(self.session.opened, None, apart=self._apart))

    @asks
    async def action_export_redacted(self) -> None:
        """Ask where, and write the open data without words about people."""
        opened = self.session.opened
        await self._ask_where("data-redacted", lambda: produced(opened, None, apart=self._apart, redact=True))

    @property
    def _apart(self) -> bool:
        return self.session.in_hand is not None

    async def _ask_where(self, name: str, produce: Callable[[], object]) -> None:
        path = self.session.opened.proposed

        def named(typed: str) -> bool:
            found: list[Path] = []
            if not self.attempt(lambda: found.append(typed_path(typed))):
                return False
            self.begin(WritingJob(found[0], produce()))  # type: ignore[arg-type]
            return True

        await self.ask_until("into which folder?", named, value=str(path.parent / f"{path.stem}-{name}"))

    @asks
    async def action_take_out(self) -> None:
        """The chart in hand as SVG and PDF, or the sentence in hand copied or into a file."""
        if not await self.once_gathered():
            return
        line = self.line
        if line is None or self.ready is None:
            self.refuse("There is nothing in hand to take out.")
            return
        folder = self.session.opened.proposed.parent
        if line.figure:
            value = str(folder / f"{line.figure}.svg")
            await self.ask_until("into which file?", lambda typed: self._chart(line.figure, typed), value=value)
            return
        words = legible(line.words)
        chosen = await self.ask_choice(clipped(words, 50), [Choice("c", "copy it"), Choice("f", "into a file")])
        if chosen == "c":
            self.app.copy_to_clipboard(words)
            self.tell("Copied, where the terminal lets programs copy.")
        elif chosen == "f":

            def put(typed: str) -> bool:
                return self.attempt(lambda: write_file(typed_path(typed), f"{words}\n".encode(), "a sentence"))

            if await self.ask_until("into which file?", put, value=str(folder / "sentence.txt")):
                self.tell("Written.")

    def _chart(self, name: str, typed: str) -> bool:
        opened, ready = self.session.opened.snapshot(), self.ready
        assert ready is not None
        found: list[Path] = []
        if not self.attempt(lambda: found.append(typed_path(typed))):
            return False
        path, weighing, words = found[0], ready.told.weighing, ready.told.words
        # Into a folder of its own beside, whole or not at all, as every document.
        self.begin(
            WritingJob(path.parent, lambda beside: write_chart(opened, weighing, name, beside / path.name, words))
        )
        return True

    def action_stop(self) -> None:
        """Give up; nothing of the document is left."""
        if self.session.writing is not None:
            self.session.writing.stop()
