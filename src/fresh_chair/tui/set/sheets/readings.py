"""Readings: measured figures with their conditions, over time, and across chairs only under like conditions."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.chair.ledger import Held, readings_of
from fresh_chair.core.chair.reading_values import Ambiguous
from fresh_chair.core.chair.readings import across, kind_of_reading, series_of
from fresh_chair.core.chair.record_time import when_text
from fresh_chair.core.chair.records import Reading, borrowed_words, reading_text
from fresh_chair.core.clock import SECOND, Moment, elapsed_ns
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair import records
from fresh_chair.tui.base.linking import link_lines
from fresh_chair.tui.base.session import QuestionChain
from fresh_chair.tui.set.sheets.records import Records, target_of
from fresh_chair.tui.set.widgets.chair_bands import series_lines
from fresh_chair.tui.widgets.dialogue import asks

_TICK_SECONDS = 0.2


class Readings(Records):
    """The readings of the chair in hand."""

    sheet_name = "readings"
    title_words = "readings"
    kind = "reading"
    first_words = "what was measured?"
    empty_words = "Figures with how, when and under what conditions they were taken. r in Set takes them; a adds one."
    about = (
        "A value, a range (40 to 55 s), a bound (at least 20 fps, under 2 GB), about so much, a time (2 min 30 s), a "
        "share (3 of 5), a version (2.30.0) or how it felt (felt sticky). Where a comma or a point could mean two "
        "numbers, you are asked. What you doubt never enters a line or a comparison. t is a stopwatch: once to start "
        "it, once more when the window is there."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("t", "stopwatch", "stopwatch", id="readings.stopwatch", tooltip="Start; once more puts the time down"),
        Binding("v", "trust", "trust", id="readings.trust", tooltip="Trusted, or doubted with a reason"),
    ]
    _started_at: Moment | None = None

    def arrived(self) -> None:
        """Keep the stopwatch going."""
        super().arrived()
        self.every(_TICK_SECONDS, self._tick)

    def line(self, held: Held) -> Content:
        """A reading, when, and how far it is trusted."""
        reading = held.record
        assert isinstance(reading, Reading)
        room = max(self.pile.size.width - 50, 14)
        doubted = reading.trust == "doubted"
        return Content.assemble(
            (clipped(legible(reading.what), room - 1).ljust(room), "$chalk"),
            (clipped(legible(reading_text(reading)), 21).ljust(22), "$thread" if doubted else "$lamp"),
            (when_text(held.when), "$thread"),
            ("  doubted" if doubted else "", "$clay"),
            (borrowed_words(reading), "$clay"),
        )

    def told(self, held: Held) -> Content:
        """The same thing over time at this chair, and at the others."""
        if not isinstance(held.record, Reading):
            return Content("")
        reading, ledgers = held.record, self.session.opened.known_chairs.all
        alike = [
            series
            for letter in self.session.opened.study.chair_by_letter
            if letter in ledgers
            for series in series_of(readings_of({letter: ledgers[letter]}, self.session.opened.study.machine_words))
            if kind_of_reading(series.taken[-1].reading)[0] == kind_of_reading(reading)[0]
        ]
        width = max(self.query_one("#beside").size.width, 30)
        parts = [Content.styled(f"{legible(reading.what)}, {legible(reading.method)}", "$thread")]
        parts += [line for s in alike if s.taken[0].chair == self.letter for line in series_lines(s, width, self.signs)]
        parts += [Content(""), Content.styled("across chairs", "$thread"), Content(legible(across(alike)))]
        parts += link_lines(self, target_of(self, held))
        return Content("\n").join(parts)

    @asks
    async def action_add(self) -> None:
        """Ask for the subject, then the value."""
        draft = QuestionChain(self, f"a reading at {self.letter}")
        what = await self._ask_subject(draft, self.first_words, "")
        if what:
            await self._ask_value(draft, what, "", method="by hand")

    async def _ask_subject(self, draft: QuestionChain, prompt: str, value: str) -> str:
        """The subject of a reading; empty where the question is left."""

        def named(what: str) -> bool:
            if not what.strip():
                self.tell("A reading is of something; Esc closes the line.", colour="$clay")
            return bool(what.strip())

        return await draft.ask("what", prompt, named, value=value) or ""

    async def _ask_value(self, draft: QuestionChain, what: str, value: str, *, method: str) -> None:
        """Ask for the value; where it can be read in two ways, ask which one is meant."""
        either: list[str] = []
        prompt = f"{legible(clipped(what, 30))}: 412 MiB, 40 to 55 s, at most 1 s, 3 of 5"
        done = await draft.end(
            prompt, lambda text: self._put(what, text, method, either), to_come="its value", value=value
        )
        if done and either:
            at = await self.ask_one_of(f"{legible(clipped(either[0], 20))} is:", either[1:])
            if at is not None:
                self._put(what, either[1:][at], method, [])

    def _put(self, what: str, text: str, method: str, either: list[str]) -> bool:
        """Put a reading down; a text that can be read in two ways goes to `either`, with its readings."""
        try:
            records.put_reading(self.session.opened, self.letter, what, text, method=method)
        except Ambiguous as ambiguous:
            either[:] = [text, *ambiguous.readings]
            return True
        except FreshChairError as problem:
            self.tell_problem(problem)
            return False
        self.clear_notice()
        self.draw()
        self.pile.highlighted = self.pile.option_count - 1
        return True

    @asks
    async def action_stopwatch(self) -> None:
        """Start the stopwatch, or stop it and put its time down."""
        now = self.session.opened.clock.now()
        draft = QuestionChain(self, f"the stopwatch at {self.letter}")
        if self._started_at is None and not draft.texts:
            self._started_at = now
            self._tick()
            return
        if self._started_at is not None:
            draft.texts = {"seconds": f"{elapsed_ns(self._started_at, now) / SECOND:.1f} s"}
            self._started_at = None
        # A time that was taken and not put down stays until it is, or is left a second time.
        seconds, asked_before = draft.texts["seconds"], "asked" in draft.texts
        draft.texts["asked"] = "once"
        self.clear_notice()
        what = await self._ask_subject(draft, f"{seconds} until:", "the window of ")
        if what:
            await self._ask_value(draft, what, seconds, method="by stopwatch, from the key to the key")
        elif asked_before:
            self.session.drafts.pop(f"the stopwatch at {self.letter}", None)
            self.tell(f"{seconds} was let go.")
        else:
            self.tell(f"{seconds} is kept: t asks for it again.", colour="$lamp")

    def _tick(self) -> None:
        if self._started_at is not None and not self.asking:
            seconds = elapsed_ns(self._started_at, self.session.opened.clock.now()) / SECOND
            self.tell(f"{seconds:.1f} s; t when it is there", colour="$lamp")

    @asks
    async def action_trust(self) -> None:
        """Trust the reading in hand, or doubt it with a reason."""
        words = ("trusted", "doubted", "not looked at closely")
        at = await self.ask_one_of("how far is it trusted?", words)
        if at is not None and words[at] == "doubted":
            await self.ask_until("why is it doubted?", self._doubt)
        elif at is not None:
            self.change("trust", words[at])

    def _doubt(self, why: str) -> bool:
        if not why.strip():
            self.tell("A doubt needs a reason; Esc closes the line.", colour="$clay")
            return False
        return self.change("why", why) and self.change("trust", "doubted")
