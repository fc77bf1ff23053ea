"""The dialogues of Tell: writing, answering, own words, taking one thing out, drafts and finals."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from pathlib import Path

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.telling import FOREWORD, OwnParagraph
from fresh_chair.core.plan.fields import require_date
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.records import evidence_of_kind, put_evidence
from fresh_chair.services.report.charts import write_chart
from fresh_chair.services.report.reports import Prepared, Telling, finalize, formats_meant, produced
from fresh_chair.services.report.writing import WritingJob
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import typed_path, write_file
from fresh_chair.services.system.language import languages_there, words_in
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.tell.widgets.document_lines import DocumentLine
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks


class TellActs(Place):
    """The dialogues of the place; the screen says which documents, which one, and which line they are about."""

    telling: Telling

    @property
    def ready(self) -> Prepared | None:
        """The document on the screen."""
        raise NotImplementedError

    @property
    def line(self) -> DocumentLine | None:
        """The line in hand."""
        raise NotImplementedError

    def gather(self) -> None:
        """Make the documents anew."""
        raise NotImplementedError

    def choose(self, telling: Telling) -> None:
        """Tell it otherwise."""
        raise NotImplementedError

    def begin(self, job: WritingJob) -> None:
        """Start writing."""
        raise NotImplementedError

    def action_quotes_sheet(self) -> None:
        """Open the sheet of quotes."""
        self.open_sheet("quotes")

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
        path = self.session.opened.file.path

        def named(typed: str) -> bool:
            found: list[Path] = []
            if not self.attempt(lambda: found.append(typed_path(typed))):
                return False
            self.begin(WritingJob(found[0], produce()))  # type: ignore[arg-type]
            return True

        await self.ask_until("into which folder?", named, value=str(path.parent / f"{path.stem}-{name}"))

    @asks
    async def action_answer(self) -> None:
        """Answer the open point in hand: it stands, or something was changed for it."""
        line = self.line
        if line is None or not line.point:
            return
        key = line.point
        chosen = await self.ask_choice(
            clipped(legible(line.words), 60), [Choice("s", "stands, because"), Choice("c", "changed: what")]
        )
        if chosen is None:
            return
        how = "stands" if chosen == "s" else "changed"

        def put(text: str) -> bool:
            given = {"about": key, "answer": how, "because": text.strip()}
            return self.attempt(lambda: put_evidence(self.session.opened, "answer", given))

        if await self.ask_until("because?", put):
            self.gather()

    @asks
    async def action_own_words(self) -> None:
        """A paragraph of one's own at the section or figure in hand; one that is there is changed."""
        line = self.line
        at = FOREWORD if line is None else line.figure or line.section or FOREWORD
        before = None if line is None else paragraph_of(self.session.opened, line.words)
        opened = self.session.opened

        def put(text: str) -> bool:
            given = {"text": text.strip(), "at": at, "reader": self.telling.reader or ""}
            if self.ready is not None:
                given["chair"] = self.ready.told.chair
            if before is not None:
                given = {"text": text.strip()}
            name = "" if before is None else before.id
            return self.attempt(lambda: put_evidence(opened, "paragraph", given, record_id=name))

        prompt = f"own words at {at}" if before is None else "own words"
        if await self.ask_until(prompt, put, value="" if before is None else before.text):
            self.gather()

    @asks
    async def action_take_out(self) -> None:
        """The chart in hand as SVG and PDF, or the sentence in hand copied or into a file."""
        line = self.line
        if line is None or self.ready is None:
            return
        folder = self.session.opened.file.path.parent
        if line.figure:
            value = str(folder / f"{line.figure}.svg")
            await self.ask_until("into which file?", lambda typed: self._chart(line.figure, typed), value=value)
            return
        chosen = await self.ask_choice(
            clipped(legible(line.words), 50), [Choice("c", "copy it"), Choice("f", "into a file")]
        )
        if chosen == "c":
            self.app.copy_to_clipboard(line.words)
            self.tell("Copied, where the terminal lets programs copy.")
        elif chosen == "f":
            words = f"{line.words}\n".encode()

            def put(typed: str) -> bool:
                return self.attempt(lambda: write_file(typed_path(typed), words, "a sentence"))

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

    @asks
    async def action_formats(self) -> None:
        """In which formats it is written."""

        def taken(typed: str) -> bool:
            return self.attempt(lambda: self.choose(replace(self.telling, formats=formats_meant(typed))))

        await self.ask_until("formats: html, md, pdf, odt", taken, value=", ".join(self.telling.formats))

    @asks
    async def action_language(self) -> None:
        """In whose sentences it is written."""
        there = languages_there()
        chosen = await self.ask_one_of("language", there)
        if chosen is not None:
            code = there[chosen]

            def put() -> None:
                # One that cannot be read is said before anything is made in it.
                words_in(code)
                self.choose(replace(self.telling, language=code))

            self.attempt(put)

    @asks
    async def action_until(self) -> None:
        """Until when makers may answer; empty for no draft."""

        def taken(typed: str) -> bool:
            def put() -> None:
                try:
                    require_date("the day until when makers may answer", typed.strip())
                except ValueError as problem:
                    raise InputError(f"{problem}.", "Empty for no draft.") from problem
                self.choose(replace(self.telling, until=typed.strip()))

            return self.attempt(put)

        await self.ask_until("answers until which day?", taken, value=self.telling.until)

    @asks
    async def action_reply(self) -> None:
        """An answer of the makers to the finding in hand, or to the whole."""
        line, ready = self.line, self.ready
        if ready is None:
            return
        number = line.section.removeprefix("finding-F") if line is not None else ""
        finding = self.session.opened.findings.by_number(int(number)) if number.isdecimal() else None
        given = {"chair": ready.told.chair, "on": date.today().isoformat()}
        if finding is not None:
            given["of"] = f"finding:{finding.id}"
        about = "the whole" if finding is None else finding.name

        def put(text: str) -> bool:
            return self.attempt(lambda: put_evidence(self.session.opened, "reply", {**given, "text": text.strip()}))

        if await self.ask_until(f"its makers answer to {about}", put):
            self.gather()

    @asks
    async def action_give_out(self) -> None:
        """Keep that the documents on the screen are final as they are now."""
        if await self.ask_sure("keep it as final, with today's date and its hash?", "it goes out as it is"):
            today = date.today().isoformat()
            named: list[str] = []
            if self.attempt(lambda: named.extend(finalize(self.session.opened, self.telling, today))):
                self.tell(f"Final as they are now: {', '.join(named)}.")
                self.gather()


def paragraph_of(opened: StudyReading, words: str) -> OwnParagraph | None:
    """The reviewer's own paragraph with this line of words in it; None where there is none."""
    held = (each.record for each in evidence_of_kind(opened, "paragraph"))
    return next((each for each in held if isinstance(each, OwnParagraph) and words in each.text.split("\n")), None)
