"""The application: one open study, six places, and the sitting that must not be lost."""

import os
import signal
import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, ClassVar

from textual import events, on, work
from textual.binding import Binding
from textual.command import Provider
from textual.driver import Driver
from textual.message import Message
from textual.screen import Screen
from textual.scrollbar import ScrollBar, ScrollBarRender

from fresh_chair.core.errors import FileProblem, FreshChairError, Refused
from fresh_chair.core.text import count_of
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.clock import SystemClock
from fresh_chair.tui.base.application.keys_in_turn import KeyClock
from fresh_chair.tui.base.application.signals import answer_from_loop
from fresh_chair.tui.base.application.terminal import TerminalDriver
from fresh_chair.tui.base.application.themes import DAYLIGHT_THEME, DUSK, DUSK_THEME
from fresh_chair.tui.base.frame import Go, HelpRequested
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.rest import REST_SECONDS, Rest
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheets import OpenSheet, sheet_class
from fresh_chair.tui.plan.screen import Plan
from fresh_chair.tui.sit.sitting_in_hand import SittingKeeping
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import FULL, PLAIN

if TYPE_CHECKING:
    from fresh_chair.services.report.writing import WritingJob
    from fresh_chair.services.sitting.live import LiveSitting

_BESIDE = "Another Fresh Chair moderates this study. Here you can plan, sort, rate and put records down meanwhile."
_STOP_SECONDS = 3.0
_LEAVE_SECONDS = 0.8


class Loaded(Message):
    """The journals were read."""


def place_class(name: str) -> type[Place]:
    """The screen of a place, imported when first needed."""
    match name:
        case "plan":
            return Plan
        case "set":
            from fresh_chair.tui.set.screen import Set

            return Set
        case "walk":
            from fresh_chair.tui.sit.walk.screen import Walking

            return Walking
        case "sit":
            from fresh_chair.tui.sit.screen import Sit

            return Sit
        case "sort":
            from fresh_chair.tui.sort.screen import Sort

            return Sort
        case "weigh":
            from fresh_chair.tui.weigh.screen import Weigh

            return Weigh
        case _:
            from fresh_chair.tui.tell.screen import Tell

            return Tell


class PlainScrollBar(ScrollBarRender):
    """A scroll bar of coloured spaces, for terminals without block glyphs."""

    VERTICAL_BARS: ClassVar[list[str]] = [" "] * 8
    HORIZONTAL_BARS: ClassVar[list[str]] = [" "] * 8


def _plain_driver() -> type[Driver]:
    """The driver that writes ASCII to a terminal."""
    from fresh_chair.tui.base.plain import PlainDriver

    return PlainDriver


def _everything() -> type[Provider]:
    """The provider of everything that can be found by typing, loaded at the first use."""
    from fresh_chair.tui.base.finder import Everything

    return Everything


class FreshChair(SittingKeeping):
    """The full-screen application on one open study.

    Args:
        opened: The study; the application closes nothing, its caller does.
        plain: Draw with ASCII only.
        light: Start in daylight.
    """

    TITLE = "Fresh Chair"
    # With the first screen's own: a screen that brings styles later has all of them read once more.
    CSS_PATH = ["app.tcss", "plan/screen.tcss"]
    COMMANDS = {_everything}
    COMMAND_PALETTE_BINDING = "ctrl+p"
    BINDINGS = [Binding("ctrl+q", "quit", "quit", id="app.quit", show=False, tooltip="Leave", priority=True)]

    def __init__(self, opened: OpenStudy, *, plain: bool = False, light: bool = False) -> None:
        super().__init__(driver_class=_plain_driver() if plain else TerminalDriver)
        self.session = Session(opened, PLAIN if plain else FULL)
        # Before the first style is read; a theme that is set later reads them all again.
        self.register_theme(DUSK_THEME)
        self.register_theme(DAYLIGHT_THEME)
        self.theme = "daylight" if light else "dusk"
        self.set_class(plain, "plain")
        # What is logged carries the moment at which its key arrived, however long others kept it waiting.
        if isinstance(opened.clock, SystemClock):
            opened.clock = KeyClock(opened.clock, self)
        self.told_to_leave = False
        self.problem: FreshChairError | None = None
        self._done: list[bool] = []
        self._rest = Rest()

    def get_theme_variable_defaults(self) -> dict[str, str]:
        """Names the styles use, before a theme is set."""
        return {**DUSK, **{name: value for name, value in DUSK_THEME.variables.items() if name not in DUSK}}

    def get_default_screen(self) -> Screen[None]:
        """Plan: a screen that is pushed while the application is mounted is drawn twice before it is seen."""
        return Plan(self.session)

    def on_mount(self) -> None:
        """Look after the sittings, or read them first: after the first paint."""
        loaded = self.session.opened.loaded
        self.reading_first = not loaded
        if loaded:
            self.keep_sittings()
        self.call_after_refresh(self._warm_up, loaded)
        if self.session.in_hand is not None:
            self.call_after_refresh(self.post_message, Go("sit"))
        elif loaded:
            self._go_to_rate()
        take_own_keys(self)
        if not self.session.opened.writable and not self.session.opened.observes:
            opened = self.session.opened
            reading = Refused("This study is open for reading only.", opened.why_reading)
            self.call_after_refresh(self.say_at_first, Refused(_BESIDE) if opened.adds else reading)
        # The system ends the program as the key does: all that was shown is on the disk already.
        if threading.current_thread() is threading.main_thread():
            answer_from_loop(signal.SIGTERM, self._told_to_leave)

    def _go_to_rate(self) -> None:
        """A rater has come to rate, and nothing else."""
        if self.session.in_hand is None and self.session.sort is not None and self.session.sort.rater:
            self.call_after_refresh(self.post_message, Go("sort"))

    def _told_to_leave(self) -> None:
        self.told_to_leave = True
        self.exit(return_code=143)
        # Nothing waits for a chair that does not answer, or for a report that is being drawn.
        late = threading.Timer(_LEAVE_SECONDS, os._exit, (143,))
        late.daemon = True
        late.start()

    def on_unmount(self) -> None:
        """Ask chairs no more; the answers so far are on record."""
        job = self.session.writing
        if job is not None:
            # Told to end by the system: nothing of a document is left half.
            job.stop()
            job.wait(0.1 if self.told_to_leave else _STOP_SECONDS)
        if self.session.following is not None:
            self.session.following.stop()
        reader = self.session.reader
        if reader is not None:
            reader.stop()
            reader.wait(0.1 if self.told_to_leave else _STOP_SECONDS)

    def on_key(self, event: events.Key) -> None:
        """Pass on a key that no widget took: an answer to a question so new that it had not the keys yet.

        The bindings are looked at after this.
        """
        self._rest.keyed()
        if not isinstance(self.screen, Place):
            return
        if self.screen.takes_as_answer(event):
            event.prevent_default()
            return
        # Once the bindings were looked at it is known whether this key did anything.
        done = self._done = []
        self.call_later(self._say_nothing_happens, self.screen, event, done)

    async def run_action(self, *arguments: Any, **named: Any) -> bool:
        """Run an action, and remember for the key in hand that there was one."""
        ran = await super().run_action(*arguments, **named)
        if ran:
            self._done.append(ran)
        return ran

    def _say_nothing_happens(self, place: Place, event: events.Key, done: list[bool]) -> None:
        if not done and self.screen is place:
            place.say_nothing_happens(event)

    def action_command_palette(self) -> None:
        """Find anything by typing; not while something is asked, or the keyboard is in the participant's hands."""
        if isinstance(self.screen, Place) and not self.screen.asking:
            super().action_command_palette()

    async def action_quit(self) -> None:
        """Leave; not while the keyboard is in the participant's hands."""
        if getattr(self.screen, "handed_over", False):
            return
        job = self.session.writing
        if job is not None and job.running and isinstance(self.screen, Place):
            self._ask_about_writing(job)
            return
        await super().action_quit()

    @asks
    async def _ask_about_writing(self, job: "WritingJob") -> None:
        """Ask whether a document that is being written is finished first, or given up."""
        if not isinstance(self.screen, Place):
            return
        choices = [Choice("w", "finish it, then leave", "$moss"), Choice("l", "leave without it", "$clay")]
        key = await self.screen.ask_choice("A document is being written (Esc: stay):", choices)
        if key == "l":
            job.stop()
        if key is not None:
            self._leave_when_written(job)

    def _leave_when_written(self, job: "WritingJob") -> None:
        if job.running:
            self.set_timer(0.05, lambda: self._leave_when_written(job))
        elif job.bug is not None:
            raise job.bug
        elif job.problem is not None:
            # Not finished after all: whoever wanted it stays and is told why.
            self.session.writing = None
            self.say_problem(job.problem)
        else:
            self.exit()

    @on(Go)
    def _go(self, message: Go) -> None:
        screen = self.screen
        if not isinstance(screen, Place) or screen.asking:
            return
        self._follow_the_writer()
        kind = place_class("walk" if message.place == "sit" and self.session.walks else message.place)
        if type(screen) is not kind or message.anew or screen.older:
            show_screen(self, kind(self.session))

    @on(HelpRequested)
    def _show_help(self) -> None:
        from fresh_chair.tui.base.help import Help

        if isinstance(self.screen, Place):
            self.push_screen(Help(self.screen))

    @on(OpenSheet)
    def _open_sheet(self, message: OpenSheet) -> None:
        if isinstance(self.screen, Place) and not self.screen.asking:
            make: Callable[..., Screen[None]] = sheet_class(message.sheet_name)
            show_screen(self, make(self.session, *([message.argument] if message.argument is not None else [])))

    def _follow_the_writer(self) -> None:
        opened = self.session.opened
        # A server is asked beside the keys, not at one.
        if opened.store.link is not None:
            return
        # What an observer has in hand is followed entry by entry.
        if self.session.in_hand is not None and not opened.writable:
            return
        try:
            if opened.adds:
                opened.read_on()
            else:
                opened.reload()
        except FreshChairError as problem:
            self.say_problem(problem)

    @work(thread=True, group="warm", description="warm up")
    def _warm_up(self, loaded: bool) -> None:
        opened = self.session.opened
        if not loaded:
            try:
                opened.load()
            except FreshChairError as problem:
                self.problem = problem
                self.call_later(self.exit)
                return
            # Posted, not waited for: the program may be leaving.
            self.post_message(Loaded())
        try:
            opened.warm_up()
            if opened.store.link is not None:
                from fresh_chair.services.evidence.server_files import carry_files

                carry_files(opened)
            aside = opened.store.aside()
            if aside:
                more = f" and {count_of(len(aside) - 1, 'more thing', 'more things')}" if aside[1:] else ""
                told = FileProblem(f"Not everything can be used: {aside[0]}{more}.", "check tells all of it.")
                self.call_from_thread(self.say_at_first, told)
        except FreshChairError as problem:
            self.call_from_thread(self.say_problem, problem)
        self.call_later(count_again, self)
        self._rest.settle()
        self.call_later(self.set_interval, REST_SECONDS / 2, self._rest.collect)

    @on(Loaded)
    def _show_loaded(self) -> None:
        """Show the journals, and look after the sittings."""
        self.reading_first = False
        # The program may be leaving already.
        if self.screen_stack:
            if self.front is not None:
                self.front.loaded()
            self.keep_sittings()
            self._go_to_rate()


def show_screen(app: FreshChair, screen: Screen[None]) -> None:
    """Show a screen in place of the one in front; the first one, which cannot be replaced, stays below."""
    if len(app.screen_stack) == 1:
        app.push_screen(screen)
    else:
        app.switch_screen(screen)


def take_own_keys(app: FreshChair) -> None:
    """Let keys of the reviewer's own hold, where there is a file of them."""
    from fresh_chair.services.system.keys import keys_file, own_keys

    if not keys_file().is_file():
        return
    from fresh_chair.tui.sit.live.keys import KEYS as SIT_KEYS
    from fresh_chair.tui.sit.live.keys import keys_by_name
    from fresh_chair.tui.sit.walk.keys import KEYS as WALK_KEYS

    known = {"sit": keys_by_name(SIT_KEYS, "sit"), "walk": keys_by_name(WALK_KEYS, "walk")}
    try:
        app.session.keys = own_keys(known)
    except FreshChairError as problem:
        app.call_after_refresh(app.say_at_first, problem)
        return
    app.set_keymap(app.session.keys)


def count_again(app: FreshChair) -> None:
    """Show the counts of open work once more, when more of the study is known."""
    if app.front is not None:
        app.front.follow()


def run(opened: OpenStudy, *, plain: bool, light: bool, live: "LiveSitting | None" = None, rater: str = "") -> int:
    """Run the application until the user leaves; returns the exit code.

    Args:
        opened: The open study.
        plain: Draw with ASCII only.
        light: Start in daylight.
        live: A sitting that was begun already, to be shown first.
        rater: Who rates findings, unseen by others; Sort is shown first then.

    Raises:
        As `OpenStudy.load`.
    """
    if plain:
        ScrollBar.renderer = PlainScrollBar
    app = FreshChair(opened, plain=plain, light=light)
    if live is not None:
        app.session.live, app.session.looking_at = live, live.seat.number
    if rater:
        from fresh_chair.tui.base.sort_in_hand import SortInHand

        app.session.sort = SortInHand(rater=rater, pile="findings")
    app.watch_threads()
    app.run()
    if app.problem is not None:
        raise app.problem
    if app.told_to_leave:
        print("Fresh Chair was told to end. Everything that was shown is saved.")
    elif app.return_code:
        print("\n".join(app.failure_lines()))
    return app.return_code or 0
