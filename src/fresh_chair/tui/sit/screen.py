"""Sit: the card, the clock, the marks. One key each, the moment is that of the key."""

from typing import ClassVar

from textual import events, on
from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.timebox import Timebox
from fresh_chair.services.sitting.view import SittingView
from fresh_chair.tui.base.parts import Parts
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.chair_witness import ChairWitness
from fresh_chair.tui.sit.live.course import Course
from fresh_chair.tui.sit.live.endings import Endings
from fresh_chair.tui.sit.live.keys import KEYS, may_log
from fresh_chair.tui.sit.live.marks import Marks
from fresh_chair.tui.sit.live.observing import Observing
from fresh_chair.tui.sit.live.player import Player
from fresh_chair.tui.sit.live.remarks import Remarks
from fresh_chair.tui.sit.live.stage import Stage


class Sit(SitBase):
    """A sitting, live or looked back at; holds the parts whose acts its keys name."""

    place = "sit"
    BINDINGS: ClassVar[list[BindingType]] = [*KEYS]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._stage = Stage(self)
        self._witness = ChairWitness(self)
        self._endings = Endings(self, self._witness)
        self._course = Course(self, self._endings)
        self._marks = Marks(self)
        self._player = Player(self)
        self._remarks = Remarks(self)
        self._parts = Parts(
            {
                "endings": self._endings,
                "course": self._course,
                "marks": self._marks,
                "remarks": self._remarks,
                "player": self._player,
                "observing": Observing(self),
            }
        )

    def action_do(self, act: str, *arguments: object) -> None:
        """Let a part do an act, named as `part.act`."""
        self._parts.do(act, *arguments)

    def action_seat_next(self) -> None:
        """Seat the next person on the board."""
        seat = self._stage.next_seat
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
        """A key that means nothing now does nothing, and is not shown."""
        if self.is_mounted:
            if action == "seat_next" and self._stage.next_seat is None:
                return False
            if action == "look_back":
                number = self.session.looking_at
                if self.live is not None or number is None or number not in self.session.opened.entries:
                    return False
            if action == "do" and not self._may_do(str(parameters[0]), *parameters[1:]):
                return False
        return super().check_action(action, parameters)

    def _may_do(self, act: str, *arguments: object) -> bool:
        verb, live = act.partition(".")[2], self.live
        if live is None:
            return verb == "words" and self.session.looking_at is not None and self._can_word()
        if verb in ("start", "meet") and (verb == "meet") is not self.before:
            return False
        if verb == "words" and not live.words_waiting() and self._remarks.last_mark(live) is None:
            return False
        may = may_log(verb, live.state.phase, observed=live.opened.observes)
        return may and self._parts.may(act, *arguments)

    def _can_word(self) -> bool:
        view = self.view()
        return view is not None and view.words_waiting > 0 and self.session.opened.writable

    @property
    def before(self) -> bool:
        """True while the words before the first card are to be read."""
        return self._stage.before

    def shows(self, binding: Binding) -> bool:
        """The other places are offered where no sitting needs the room."""
        return self.live is None or binding.id not in ("sit.board", "sit.sort")

    def stage(self, view: SittingView | None) -> Content:
        """The card, or the question in its stead."""
        return self._stage.content(view)

    def stage_key(self) -> object:
        """Things the stage shows besides the view; it is drawn anew where they differ."""
        return self.before, self.following

    def tellable(self) -> str:
        """Whether a wait or a help may be told more of now; empty for neither."""
        return self._marks.tellable()

    def strip_words(self, live: LiveSitting) -> tuple[str, Timebox | None, str]:
        """Attempts left running, the promised time, and other watchers or the time code of a recording."""
        self._player.led()
        return self._course.left_in_words(), self._stage.promised(live), self._player.beside()

    def follow_chair(self) -> None:
        """Put down the answer of the chair, and ask it before a card."""
        self._witness.follow()
        self._witness.ask("before")

    def ask_on(self) -> None:
        """Ask the question the sitting waits for; those before a card are asked by its key."""
        self._endings.ask_on()

    @on(events.Paste)
    def _pasted(self, event: events.Paste) -> None:
        """A time code that is pasted is where the player stands."""
        if self._player.pasted(event.text):
            event.stop()
