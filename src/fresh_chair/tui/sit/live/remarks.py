"""Remarks: the moment is that of the key, the words follow in a line at the bottom."""

from functools import partial

from fresh_chair.core.clock import clock_text
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.evidence.kinds import KINDS
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import WORDED_MARKS
from fresh_chair.core.sitting.state.attempt import Tick
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.dialogue import asks


class Remarks(SitPart):
    """Snags, delights, notes, quotes, warnings and questions, and their words."""

    def snag(self) -> None:
        """A trouble, now."""
        self._remark(j.SnagSeen())

    def delight(self) -> None:
        """Something that pleased, now."""
        self._remark(j.DelightSeen())

    def note(self) -> None:
        """Anything else, now."""
        self._remark(j.NoteTaken())

    def quote(self) -> None:
        """Take down the participant's words, now."""
        self._remark(j.QuoteTaken())

    def warning(self) -> None:
        """The machine warns, now."""
        self._remark(j.WarningSeen())

    def question(self) -> None:
        """Something to come back to, now."""
        self._remark(j.QuestionLeft())

    @asks
    async def _remark(self, content: j.Wordable) -> None:
        now = self.sit.now()
        live = self.live
        if live is None:
            return
        resume = live.state.phase in (Phase.JUDGING, Phase.EASE, Phase.USABILITY)
        try:
            entry = live.log(content, now).id
        except FreshChairError as problem:
            self.sit.tell_problem(problem)
            return
        self.sit.clear_notice()
        self.sit.draw()

        def worded(words: str) -> bool:
            return not words.strip() or self.sit.record(lambda sitting: sitting.word(entry, words, self.sit.now()))

        at = clock_text(live.state.remarks[entry].at_ns)
        done = await self.sit.ask_until(f"{content.kind} at {at}", worded)
        if resume:
            if done:
                await self.sit.drawn()
            self.sit.ask_on()

    @asks
    async def known(self) -> None:
        """Say how the last mark, or the last outcome where that came later, is known."""
        now, live = self.sit.now(), self.live
        if live is None:
            return
        state = live.state
        marks = [(remark.at_ns, remark.entry, remark.kind) for remark in state.remarks.values()]
        ended = [(a.stopped_ns or 0, a.judged_by, a.outcome.words) for a in state.attempts if a.judged_by and a.outcome]
        if not marks and not ended:
            self.sit.tell("Nothing is marked yet that could be known somehow.", colour="$clay")
            return
        at_ns, entry, what = max((*marks, *ended), key=lambda each: each[0])
        at = await self.sit.ask_one_of(f"{what} at {clock_text(at_ns)} is", KINDS)
        if at is not None:
            told = j.EvidenceTold(entry, KINDS[at])
            self.sit.record(lambda sitting: sitting.log(told, now))
        await self.sit.drawn()
        self.sit.ask_on()

    @asks
    async def words(self) -> None:
        """Write the words that are still to come, the oldest first; a mark that was made last comes before them."""
        writer = self._writer()
        if writer is not None and (tick := self.last_mark(writer)) is not None:
            await self._word_mark(writer, tick)
            return
        while writer is not None and (waiting := writer.words_waiting()):
            remark = writer.state.remarks[waiting[0]]
            left = f", {len(waiting) - 1} more" if len(waiting) > 1 else ""
            worded = partial(self._word, writer, waiting[0])
            if not await self.sit.ask_until(f"{remark.kind} at {clock_text(remark.at_ns)}{left}", worded):
                self.sit.ask_on()
                return
            if waiting[0] in writer.words_waiting():
                return
            await self.sit.drawn()

    def last_mark(self, writer: LiveSitting) -> Tick | None:
        """The mark to be worded: the last one where nothing else is, or where it is a help without words."""
        state = writer.state
        latest = state.latest
        author = self.sit.session.opened.author
        observed = author in state.observers
        own = [t for t in (latest.ticks if latest is not None else ()) if t.observer == (author if observed else "")]
        last = own[-1] if own else None
        if last is None or last.kind not in WORDED_MARKS:
            return None
        unsaid = last.kind == "helped" and not state.words_of(last.entry)
        return last if unsaid or not writer.words_waiting() else None

    async def _word_mark(self, writer: LiveSitting, tick: Tick) -> None:
        """Words for a mark that can do without: a hint as it was given, the text that misled."""
        said = "what was said" if tick.kind == "helped" else (str(tick.what) or tick.kind.replace("_", " "))
        await self.sit.ask_until(
            f"{said}, at {clock_text(tick.at_ns)}",
            partial(self._word, writer, tick.entry),
            value=writer.state.words_of(tick.entry),
        )
        await self.sit.drawn()
        self.sit.ask_on()

    def _writer(self) -> LiveSitting | None:
        """The sitting in hand, or the one that is looked back at."""
        number = self.sit.session.looking_at
        if self.live is not None or number is None:
            return self.live
        return LiveSitting(self.sit.session.opened, self.sit.session.opened.study.seat(number))

    def _word(self, writer: LiveSitting, entry: str, words: str) -> bool:
        if not words.strip():
            return True
        done = self.sit.attempt(lambda: writer.word(entry, words, self.sit.now()))
        self.sit.draw()
        return done
