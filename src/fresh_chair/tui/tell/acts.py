"""The dialogues of Tell about its documents: answering, own words, formats, languages, drafts and finals."""

from dataclasses import replace
from datetime import date

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.telling import FOREWORD, OwnParagraph
from fresh_chair.core.plan.fields import require_date
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.records import evidence_of_kind, put_evidence
from fresh_chair.services.report.reports import Telling, finalize, formats_meant
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.language import languages_there, words_in
from fresh_chair.tui.tell.writing import TellWriting
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks


class TellActs(TellWriting):
    """The dialogues about the documents themselves; the screen says which, which one, and which line they are about."""

    def gather(self) -> None:
        """Make the documents anew."""
        raise NotImplementedError

    def choose(self, telling: Telling) -> None:
        """Tell it otherwise."""
        raise NotImplementedError

    def action_quotes_sheet(self) -> None:
        """Open the sheet of quotes."""
        self.open_sheet("quotes")

    @asks
    async def action_answer(self) -> None:
        """Answer the open point in hand: it stands, or something was changed for it."""
        if not await self.once_gathered():
            return
        line = self.line
        if line is None or not line.point:
            self.refuse("The line in hand is no open point.")
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
        if not await self.once_gathered():
            return
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
        if not await self.once_gathered():
            return
        line, ready = self.line, self.ready
        if ready is None:
            self.refuse("There is no document to answer to.")
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
