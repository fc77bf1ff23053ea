"""The frame around every place: top line, spine, bottom line."""

from itertools import islice
from typing import TYPE_CHECKING, Protocol

from textual import events
from textual.binding import Binding
from textual.content import Content
from textual.message import Message
from textual.reactive import reactive
from textual.widget import Widget

from fresh_chair.core.clock import clock_text
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.widgets.asking import WordLine
from fresh_chair.tui.widgets.signs import LANE_COLOUR

if TYPE_CHECKING:
    from fresh_chair.services.sitting.live import LiveSitting

PLACES = ("plan", "set", "sit", "sort", "weigh", "tell")
MOST_KEYS = 8
# What the number beside each place counts.
COUNTED = ("to run", "claims", "no words", "loose", "cells empty", "")


class TopLine(Widget):
    """The study, the sitting in hand, and the clock wherever one runs."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._drawn: Content | None = None

    def on_mount(self) -> None:
        """Follow the clock."""
        self.set_interval(0.25, self._follow)

    def _follow(self) -> None:
        # A hidden line that is painted has the screen in front painted whole; and most of the time no letter changes.
        if self._session.in_hand is not None and self.app.screen is self.screen and self._line() != self._drawn:
            self.refresh()

    def render(self) -> Content:
        """Study at the left, the sitting in hand at the right."""
        self._drawn = self._line()
        return self._drawn

    def _line(self) -> Content:
        session = self._session
        right = self._in_hand()
        reading = "" if session.opened.writable else "  beside another  " if session.opened.adds else "  reading only  "
        if session.opened.observes:
            reading = f"  {legible(session.opened.author)} watches  "
        elif session.sort is not None and session.sort.rater:
            reading = f"  {legible(session.sort.rater)} rates  "
        if session.opened.store.home.line:
            reading = f"{reading or '  '}{session.opened.store.home.line}  "
        room = max(self.size.width - right.cell_length - len(reading) - 3, 8)
        title = clipped(legible(session.opened.study.title), room)
        left = Content.assemble((f" {title}", "$chalk bold"), (reading, "$ink on $clay") if reading else "")
        gap = max(self.size.width - left.cell_length - right.cell_length - 1, 1)
        return Content.assemble(left, " " * gap, right, " ")

    def _in_hand(self) -> Content:
        live, dot = self._session.in_hand, self._session.signs.dot
        elsewhere = len(self._session.opened.held_elsewhere)
        if live is None and elsewhere:
            return Content.assemble((f"{elsewhere} at other stations", "$lamp"))
        if live is None:
            return Content.assemble(("nobody is sitting", "$thread"))
        seat = live.seat
        chair = self._session.opened.study.chair_by_letter[seat.chair]
        role = self._session.opened.study.person_by_code[seat.participant].role
        person = seat.participant if role == "participant" else f"{seat.participant} ({role})"
        who = f"{person} at {legible(chair.title)}"
        if self.size.width >= 100:
            who = f"sitting {seat.number} {dot} {who}"
        face = live.face(live.now())
        if face is None:
            return Content.assemble((who, "$lamp"), self._step(live))
        colour = LANE_COLOUR[face.lane] if face.lane else "$thread"
        lane = f" {face.lane}" if face.lane else " stopped"
        return Content.assemble(
            (f"{who} {dot} ", "$lamp"),
            (clock_text(face.hands_ns), f"bold {colour}"),
            (f" of {clock_text(face.limit_ns)}{lane}", colour),
        )

    def _step(self, live: "LiveSitting") -> Content:
        """The step of a walk that is in hand, with its clock."""
        walk = live.state.walk
        step = walk.step if walk is not None else None
        if step is None:
            return Content("")
        at = clock_text(step.hands_ns(live.state.time_at(live.now())))
        title = clipped(legible(step.title), 24)
        return Content.assemble((f" {self._session.signs.dot} {title} ", "$lamp"), (at, "bold $lamp"))


class Go(Message):
    """A request for another place, or, with `anew`, for the same one built up again."""

    def __init__(self, place: str, *, anew: bool = False) -> None:
        super().__init__()
        self.place = place
        self.anew = anew


class HelpRequested(Message):
    """A request for the help of the screen in front."""


class Spine(Widget):
    """The six places with their open work."""

    counts: reactive[tuple[str, ...]] = reactive(("",) * 6, layout=False)

    def __init__(self, here: str, session: Session) -> None:
        super().__init__()
        self._here = here
        self._session = session

    def render(self) -> Content:
        """One line a place."""
        lines = []
        for number, place in enumerate(PLACES):
            current = place == self._here
            mark = self._session.signs.here if current else " "
            word = f"{number + 1} {place.capitalize()}"
            count = self.counts[number]
            what = COUNTED[number]
            if count and len(word) + len(count) + len(what) + 4 <= self.size.width:
                count = f"{count} {what}"
            pad = " " * max(self.size.width - len(word) - len(count) - 2, 1)
            lines.append(
                Content.assemble(
                    (mark, "$lamp"),
                    (word, "bold $lamp" if current else "$chalk"),
                    pad,
                    (count, "$lamp" if current else "$thread"),
                )
            )
            lines.append(Content(""))
        return Content("\n").join([Content(""), *lines])

    def on_click(self, event: events.Click) -> None:
        """Go where was clicked."""
        row = (event.y - 1) // 2
        if event.y >= 1 and row < len(PLACES):
            self.post_message(Go(PLACES[row]))


@frozen
class _Hint:
    begin: int
    end: int
    action: str


class KeyOwner(Protocol):
    """A screen whose keys the bottom line shows."""

    def own_keys(self) -> list[Binding]:
        """Its keys, in the order they were declared."""

    def shows(self, binding: Binding) -> bool:
        """Whether a key that works is worth its room."""

    def works(self, binding: Binding) -> bool:
        """Whether a key does something at this very moment."""

    def key_of(self, binding: Binding) -> str:
        """A key as it is shown."""


class BottomLine(Widget):
    """The keys that work here, at most eight, in words of the work; each can be clicked."""

    def __init__(self, session: Session, owner: KeyOwner) -> None:
        super().__init__()
        self._signs = session.signs
        self._owner = owner
        self._hints: list[_Hint] = []
        self._drawn: Content | None = None

    def on_mount(self) -> None:
        """Redraw whenever the keys change."""
        self.screen.bindings_updated_signal.subscribe(self, lambda _: self._follow())

    def _follow(self) -> None:
        # Most marks change no key, and to compare costs less than to paint.
        if self._drawn is None or self._line() != self._drawn:
            self.refresh()

    def shown(self) -> list[Binding]:
        """The bindings to show, in the order they were declared."""
        owner = self._owner
        offered = (key for key in owner.own_keys() if key.show and key.key != "question_mark" and owner.shows(key))
        # No more are asked whether they work than there is room for: this is drawn at every mark.
        return list(islice((key for key in offered if owner.works(key)), MOST_KEYS - 1))

    def _answers(self) -> Content:
        """The keys while a line is open at the bottom."""
        letters = ((" Tab ", "bold $lamp on $board"), (" your letters as they are  ", "$chalk"))
        completes = self.screen.query_one(WordLine).completes
        return Content.assemble(
            " ",
            (f" {self._signs.enter} ", "bold $lamp on $board"),
            (" takes what is shown  " if completes else " keeps the words  ", "$chalk"),
            *(letters if completes else ()),
            (" Esc ", "bold $lamp on $board"),
            (" closes the line", "$chalk"),
        )

    def render(self) -> Content:
        """Key and word, side by side; the rest is left to the help."""
        self._drawn = self._line()
        return self._drawn

    def _line(self) -> Content:
        self._hints = []
        lines = self.screen.query(WordLine)
        if lines and lines.first().asking:
            return self._answers()
        parts: list[Content] = []
        at = 1
        more = Content.assemble((" ? ", "bold $lamp on $board"), (" all keys", "$chalk"))
        help_room = more.cell_length + 2
        for binding in self.shown():
            key = self._owner.key_of(binding)
            text = Content.assemble((f" {key} ", "bold $lamp on $board"), (f" {binding.description}", "$chalk"))
            # The last word is that everything else is in the help.
            if at + text.cell_length + 2 > self.size.width - help_room:
                break
            self._hints.append(_Hint(at, at + text.cell_length, binding.action))
            parts.append(text)
            at += text.cell_length + 2
        self._hints.append(_Hint(at, at + more.cell_length, "help"))
        return Content.assemble(" ", Content("  ").join([*parts, more]))

    async def on_click(self, event: events.Click) -> None:
        """Do the same as the clicked word's key."""
        for hint in self._hints:
            if hint.begin <= event.x < hint.end:
                await self.screen.run_action(hint.action)
                return
