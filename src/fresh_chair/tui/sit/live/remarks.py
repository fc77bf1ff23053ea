"""Remarks: the moment is that of the key, the words follow in a line at the bottom."""

from collections.abc import Callable

from fresh_chair.core.clock import clock_text
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.sit.live.part import SitPart


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

    def _remark(self, content: j.Wordable) -> None:
        now = self.sit.now()
        live = self.live
        if live is None:
            return
        resume = live.state.phase in (Phase.JUDGING, Phase.EASE, Phase.USABILITY)
        try:
            entry = live.log(content, now)
        except FreshChairError as problem:
            self.sit.tell_problem(problem)
            return
        self.sit.clear_notice()
        self.sit.draw()
        self._ask_for_words(entry.id, content.kind, then=self.sit.ask_on if resume else None)

    def _ask_for_words(self, entry: str, kind: str, then: Callable[[], None] | None = None) -> None:
        live = self.live
        if live is None:
            return
        remark = live.state.remarks[entry]

        def worded(words: str) -> bool:
            if words.strip() and not self.sit.record(lambda sitting: sitting.word(entry, words, self.sit.now())):
                return False
            if then is not None:
                self.sit.ask_soon(then)
            return True

        self.sit.ask_words(f"{kind} at {clock_text(remark.at_ns)}", worded, cancelled=then)

    def words(self) -> None:
        """Write the oldest words that are still to come."""
        live = self.live
        if live is None:
            number = self.sit.session.looking_at
            if number is None:
                return
            live = LiveSitting(self.sit.session.opened, self.sit.session.opened.study.seat(number))
        waiting = live.words_waiting()
        if not waiting:
            return
        entry = waiting[0]
        remark = live.state.remarks[entry]
        writer = live

        def worded(words: str) -> bool:
            if not words.strip():
                return True
            done = self.sit.attempt(lambda: writer.word(entry, words, self.sit.now()))
            self.sit.draw()
            if done and writer.words_waiting():
                self.sit.ask_soon(self.words)
            return done

        left = f", {len(waiting) - 1} more" if len(waiting) > 1 else ""
        self.sit.ask_words(f"{remark.kind} at {clock_text(remark.at_ns)}{left}", worded, cancelled=self.sit.ask_on)
