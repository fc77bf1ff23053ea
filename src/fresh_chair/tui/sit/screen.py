"""Sit: the card, the clock, the marks. One key each, the moment is that of the key."""

from collections.abc import Callable
from typing import ClassVar

from textual.binding import Binding, BindingType

from fresh_chair.core.clock import clock_text
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.sit.course import COURSE_KEYS, LEFT_KEYS
from fresh_chair.tui.sit.recording import RECORDING_KEYS, Recording

# What a key of one sign is called where keys are bound.
_SIGNS = {"comma": ",", "full_stop": ".", "minus": "-", "slash": "/"}


class Sit(Recording):
    """A sitting, live or looked back at."""

    place = "sit"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "seat_next", "seats who is next", id="sit.seat", tooltip="Seat whoever is next on the board"),
        Binding("enter", "meet", "the first card", id="sit.meet", tooltip="The words before the first card were said"),
        Binding("enter", "start", "start the clock", id="sit.start", tooltip="The card was read; the clock starts"),
        Binding("enter", "judge", "how it ended", id="sit.judge", tooltip="Say how the attempt ended"),
        Binding("enter", "rate", "ease", id="sit.rate", tooltip="Ask how easy it was"),
        Binding("enter", "answer", "next statement", id="sit.answer", tooltip="Ask the usability scale"),
        Binding("enter", "close_sitting", "ends the sitting", id="sit.close", tooltip="The participant gets up"),
        Binding("enter", "stop", "ends", id="sit.stop", tooltip="The clock stops; how it ended is asked next"),
        *LEFT_KEYS,
        *RECORDING_KEYS,
        *(
            Binding(key, f"tell_wait('{how}')", how, id=f"sit.wait_{name}", tooltip=f"This wait: {how}")
            for key, how, name in (
                ("v", "shown progress", "shown"),
                ("c", "silent", "silent"),
                ("b", "believed frozen", "frozen"),
            )
        ),
        *(
            Binding(key, f"tell_help('{level}')", words, id=f"sit.help_{name}", tooltip=f"This help: {level}")
            for key, level, words, name in (
                ("c", "repeated the card", "card again", "repeated"),
                ("g", "encouraged", "gave courage", "encouraged"),
                ("v", "hinted", "voiced a hint", "hinted"),
                ("b", "showed", "by showing", "showed"),
            )
        ),
        Binding("w", "wait", "waiting", id="sit.wait", tooltip="The machine is busy, from here or no longer"),
        Binding("s", "snag", "snag", id="sit.snag", tooltip="A trouble, now; words follow"),
        Binding("a", "aside", "aside", id="sit.aside", tooltip="Talk or telephone, from here or no longer"),
        Binding("h", "helped", "helped", id="sit.helped", tooltip="You helped"),
        Binding("p", "wrong_place", "wrong place", id="sit.wrong_place", tooltip="Looked where the thing is not"),
        Binding("d", "delight", "delight", id="sit.delight", tooltip="Something that pleased, now; words follow"),
        Binding("f", "said_done", "says done", id="sit.said_done", tooltip="The participant says it is finished"),
        Binding("t", "mark('tries again')", "tries again", id="sit.tries", tooltip="Tries the same again"),
        Binding("r", "mark('no reaction')", "no reaction", id="sit.reaction", tooltip="The machine does not react"),
        Binding("z", "mark('hesitates')", "hesitates", id="sit.hesitates", tooltip="Stops and looks"),
        Binding("m", "mark('misled')", "misled", id="sit.misled", tooltip="A message names the wrong cause"),
        Binding("o", "visit", "at a place", id="sit.place", tooltip="Where the person is; typed, with completion"),
        Binding("l", "step", "next step", id="sit.step", tooltip="One step further on the expected route"),
        Binding("q", "quote", "quote", id="sit.quote", tooltip="In the participant's own words"),
        Binding("y", "warning", "warning", id="sit.warning", tooltip="The machine warns"),
        Binding("k", "question", "question", id="sit.question", tooltip="Something to come back to"),
        Binding("x", "pass_card", "pass over", id="sit.pass", tooltip="Leave this card out, with why"),
        Binding("n", "note", "note", id="sit.note", tooltip="Anything else worth keeping, now; words follow"),
        Binding("u", "undo", "take back", id="sit.undo", tooltip="Strike the last entry, as a correction"),
        Binding("e", "words", "words", id="sit.words", tooltip="Write the words that are still to come"),
        Binding("up", "look(3)", "back", id="sit.back", show=False, tooltip="Look further back in the journal"),
        Binding("down", "look(-3)", "forward", id="sit.forward", show=False, tooltip="Look forward in the journal"),
        *COURSE_KEYS,
        Binding("j", "journal", "journal", id="sit.journal", tooltip="Every entry: strike, move, reword, add late"),
        Binding("l", "look_back", "over time", id="sit.look_back", tooltip="A sitting that is over as a drawing"),
        Binding("1", "go('plan')", "the board", id="sit.board", tooltip="Go to Plan"),
        Binding("4", "go('sort')", "sort its snags", id="sit.sort", tooltip="Go to Sort"),
    ]

    @classmethod
    def keys_by_name(cls) -> dict[str, str]:
        """The key that each mark comes with, by its name; Enter, the arrows and the places' digits stay as they are."""
        bindings = [binding for binding in cls.BINDINGS if isinstance(binding, Binding) and binding.id]
        keys = {str(binding.id).removeprefix("sit."): _SIGNS.get(binding.key, binding.key) for binding in bindings}
        return {name: key for name, key in keys.items() if (len(key) == 1 or key == "backspace") and not key.isdigit()}

    def action_seat_next(self) -> None:
        """Seat the next person on the board."""
        seat = self.next_seat
        if seat is not None:
            from fresh_chair.tui.plan.screen import SeatRequested

            self.post_message(SeatRequested(seat.number))

    def action_journal(self) -> None:
        """Open the journal, to correct it."""
        number = self.live.seat.number if self.live is not None else self.session.looking_at
        if number is not None and number in self.session.opened.entries:
            self.open_sheet("journal", number)

    def action_look_back(self) -> None:
        """Open the drawing of the sitting that is looked back at."""
        if self.session.looking_at is not None:
            self.open_sheet("look_back", self.session.looking_at)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A sitting in progress has other uses for that key."""
        if action == "look_back" and self.is_mounted:
            number = self.session.looking_at
            if self.live is not None or number is None or number not in self.session.opened.entries:
                return False
        return super().check_action(action, parameters)

    # While the clock runs

    def action_wait(self) -> None:
        """The machine is busy, or no longer."""
        now = self.now()
        self.record(lambda sitting: sitting.toggle_wait(now))

    def action_aside(self) -> None:
        """An interruption, or its end."""
        now = self.now()
        self.record(lambda sitting: sitting.toggle_aside(now))

    def action_helped(self) -> None:
        """You helped."""
        now = self.now()
        self.record(lambda sitting: sitting.log(j.Helped(), now))

    def action_wrong_place(self) -> None:
        """Looked where the thing is not."""
        now = self.now()
        self.record(lambda sitting: sitting.log(j.WrongPlace(), now))

    def action_said_done(self) -> None:
        """Says it is done."""
        now = self.now()
        self.record(lambda sitting: sitting.log(j.SaidDone(), now))

    def action_snag(self) -> None:
        """A trouble, now."""
        self._remark(j.SnagSeen())

    def action_delight(self) -> None:
        """Something that pleased, now."""
        self._remark(j.DelightSeen())

    def action_note(self) -> None:
        """Anything else, now."""
        self._remark(j.NoteTaken())

    def action_quote(self) -> None:
        """Take down the participant's words, now."""
        self._remark(j.QuoteTaken())

    def action_warning(self) -> None:
        """The machine warns, now."""
        self._remark(j.WarningSeen())

    def action_question(self) -> None:
        """Something to come back to, now."""
        self._remark(j.QuestionLeft())

    def _remark(self, content: j.Wordable) -> None:
        now = self.now()
        live = self.live
        if live is None:
            return
        resume = live.state.phase in (Phase.JUDGING, Phase.EASE, Phase.USABILITY)
        try:
            entry = live.log(content, now)
        except FreshChairError as problem:
            self.tell_problem(problem)
            return
        self.clear_notice()
        self.draw()
        self._ask_for_words(entry.id, content.kind, then=self.ask_on if resume else None)

    def _ask_for_words(self, entry: str, kind: str, then: Callable[[], None] | None = None) -> None:
        live = self.live
        if live is None:
            return
        remark = live.state.remarks[entry]

        def worded(words: str) -> bool:
            if words.strip() and not self.record(lambda sitting: sitting.word(entry, words, self.now())):
                return False
            if then is not None:
                self.ask_soon(then)
            return True

        self.ask_words(f"{kind} at {clock_text(remark.at_ns)}", worded, cancelled=then)

    def action_words(self) -> None:
        """Write the oldest words that are still to come."""
        live = self.live
        if live is None:
            number = self.session.looking_at
            if number is None:
                return
            live = LiveSitting(self.session.opened, self.session.opened.study.seat(number))
        waiting = live.words_waiting()
        if not waiting:
            return
        entry = waiting[0]
        remark = live.state.remarks[entry]
        writer = live

        def worded(words: str) -> bool:
            if not words.strip():
                return True
            done = self.attempt(lambda: writer.word(entry, words, self.now()))
            self.draw()
            if done and writer.words_waiting():
                self.ask_soon(self.action_words)
            return done

        left = f", {len(waiting) - 1} more" if len(waiting) > 1 else ""
        self.ask_words(f"{remark.kind} at {clock_text(remark.at_ns)}{left}", worded, cancelled=self.ask_on)
