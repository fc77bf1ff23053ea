"""Reading a chair from its sheet: the enquiry, its progress, its end, and the way."""

from collections.abc import Sequence

from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.errors import HostKeyChanged, HostKeyUnknown
from fresh_chair.core.text import legible
from fresh_chair.services.chair.enquiries import (
    BASELINE,
    BASELINE_AND_LOOK,
    CLAIMS,
    DEFAULTS,
    FRESH,
    IDENTITY,
    NOISE,
    READINGS,
)
from fresh_chair.services.chair.reader import ChairReader
from fresh_chair.tui.base.drawing import DrawnPlace
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks


class ReadingChair(DrawnPlace):
    """The part of Set that reads a chair; the sheet itself is drawn by its subclass."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._seen: tuple[object, ...] = ()
        # What follows the reading that runs: a chair, and what is asked of it.
        self._next: tuple[str, tuple[str, ...]] | None = None

    @property
    def letter(self) -> str:
        """The chair in hand; empty where the study has none."""
        letters = list(self.session.opened.study.chair_by_letter)
        wanted = self.session.cell[1]
        return wanted if wanted in letters else letters[0] if letters else ""

    def show_freshness(self) -> None:
        """Bring the new comparison into sight."""
        raise NotImplementedError

    def action_ask(self, enquiry: str) -> None:
        """Run one enquiry."""
        self._start([enquiry])

    def action_read(self) -> None:
        """Read all but its state."""
        enquiries = [IDENTITY, DEFAULTS]
        ledger = self.session.opened.known_chairs.of(self.letter)
        if any(getattr(held.record, "check", "") for held in ledger.held("claim")):
            enquiries.append(CLAIMS)
        self._start([*enquiries, READINGS])

    @asks
    async def action_baseline(self) -> None:
        """Take a baseline, or learn noise from a second one."""
        if self.session.opened.known_chairs.of(self.letter).baseline is None:
            if await self.ask_sure("is it as it was at first boot?", "yes, take its baseline"):
                self._start(BASELINE_AND_LOOK)
            return
        choices = [
            Choice("n", "nobody touched it since: learn what moves by itself"),
            Choice("b", "it is as at first boot: a new baseline", "$clay"),
        ]
        key = await self.ask_choice("there is a baseline;", choices)
        if key is not None:
            self._start((NOISE,) if key == "n" else BASELINE_AND_LOOK)

    def _start(self, enquiries: Sequence[str]) -> None:
        session = self.session
        if not self.letter:
            return
        if session.reader is not None and session.reader.running:
            self._next = self.letter, tuple(enquiries)
            self.tell(f"Chair {session.reader.letter} is being read; this follows it. s stops both.")
            return
        if not session.opened.known_chairs.of(self.letter).reach:
            self._reach_and_start(enquiries)
            return
        if session.opened.known_chairs.of(self.letter).reach == "courier":
            self.tell("This chair is reached by courier only: y sends one, and reads what it brings.", colour="$clay")
            return
        self._begin(self.letter, enquiries)

    def _begin(self, letter: str, enquiries: Sequence[str]) -> None:
        reader = ChairReader(self.session.opened, letter, enquiries)
        if self.attempt(reader.start):
            self.session.reader, self._seen = reader, ()
            self.draw_reading()

    def action_stop(self) -> None:
        """Stop reading, and the reading that was to follow."""
        self._next = None
        if self.session.reader is not None:
            self.session.reader.stop()

    def follow_reader(self) -> None:
        """Draw again whenever the reading has come further; say how it ended, once."""
        reader = self.session.reader
        if reader is None or self.asking:
            return
        seen = (id(reader), reader.running, len(reader.brought), reader.said())
        if seen == self._seen:
            return
        further = self._seen[:3] != seen[:3]
        ended = not reader.running and (not self._seen or self._seen[1] is not False)
        self._seen = seen
        if reader.bug is not None:
            bug, self.session.reader = reader.bug, None
            raise bug
        if further:
            self.draw()
        else:
            self.draw_reading()
        if ended:
            self._tell_end(reader)
            # A reading that waited for this one begins, unless this one failed.
            waits, self._next = self._next, None
            if waits is not None and reader.problem is None and waits[0] in self.session.opened.study.chair_by_letter:
                self._begin(*waits)

    def draw_reading(self) -> None:
        """Say how far the reading is."""
        reader = self.session.reader
        line = self.query_one("#reading", Static)
        line.display = reader is not None and reader.running
        if reader is not None and reader.running:
            words = f"reading chair {reader.letter}, {legible(reader.said())}"
            line.update(Content.assemble((words, "$lamp"), ("   s stops", "$thread")))

    def _tell_end(self, reader: ChairReader) -> None:
        unknown = reader.unknown_host
        if unknown is not None:
            self.session.reader = None
            self._ask_host(reader, unknown)
            return
        if reader.problem is not None:
            self.tell_problem(reader.problem)
            return
        if reader.brought:
            last = reader.brought[-1]
            missing = sum(len(each.unread) for each in reader.brought)
            words = f"Chair {reader.letter} was read."
            if last.enquiry in (FRESH, BASELINE, NOISE):
                words = " ".join(each.said[0] for each in reader.brought if each.enquiry in (FRESH, BASELINE, NOISE))
                # Once what was just drawn has its height.
                self.call_after_refresh(self.show_freshness)
            words += f" {missing} could not be read; the sheet says why." if missing else ""
            fine = last.data.get("freshness") != "not fresh"
            self.tell(legible(words), colour="$moss" if fine else "$clay")

    @asks
    async def _ask_host(self, reader: ChairReader, unknown: HostKeyUnknown) -> None:
        from fresh_chair.services.chair.asking import trust_host

        changed = isinstance(unknown, HostKeyChanged)
        lead = "its host key CHANGED to" if changed else "its host key is"
        self.tell_problem(unknown)
        sure = await self.ask_sure(f"{lead} {unknown.fingerprint}", "the chair itself shows the same: confirm it")
        if sure and self.attempt(lambda: trust_host(unknown)):
            self._start(reader.enquiries)

    @asks
    async def action_reach(self) -> None:
        """Choose how the chair in hand is reached."""
        if self.letter and await self._ask_reach():
            self.draw()

    async def _ask_reach(self) -> bool:
        """Ask how the chair in hand is reached; True where it can be now."""
        from fresh_chair.services.chair.asking import choose_reach

        opened, letter = self.session.opened, self.letter

        def chosen(way: str) -> bool:
            done = self.attempt(lambda: choose_reach(opened, letter, way))
            if done:
                self.draw()
            return done

        prompt = f"how is {letter} reached? here, courier, or ssh user@host:port"
        done = await self.ask_until(prompt, chosen, value=opened.known_chairs.of(letter).reach or "ssh ")
        if not done or not opened.known_chairs.of(letter).reach:
            return False
        await self.drawn()
        return True

    @asks
    async def _reach_and_start(self, enquiries: Sequence[str]) -> None:
        if await self._ask_reach():
            self._start(enquiries)

    @asks
    async def action_courier(self) -> None:
        """Send a courier, or read a returned one's file."""
        if not self.letter:
            return
        choices = [Choice("s", "send: write the script"), Choice("r", "read what it brought")]
        key = await self.ask_choice("a courier:", choices)
        if key == "s":
            await self.ask_until("which folder (a stick)?", self._send, value="~/")
        elif key == "r":
            await self.ask_until("the file it brought:", self._bring, value="~/")

    def _send(self, folder: str) -> bool:
        """Write the courier's script into a folder."""
        from fresh_chair.services.chair.asking import courier_for
        from fresh_chair.services.system.files import typed_path

        opened, letter = self.session.opened, self.letter
        state = FRESH if opened.known_chairs.of(letter).baseline is not None else BASELINE
        wanted = [IDENTITY, DEFAULTS, READINGS, state]
        written = []
        done = self.attempt(lambda: written.append(courier_for(opened, letter, wanted, typed_path(folder))))
        if done:
            name = legible(written[0].path.name)
            self.tell(f"{name} is written. Run it on chair {letter}: sh {name}; bring back the file it leaves.")
        return done

    def _bring(self, path: str) -> bool:
        """Read the file that a courier brought."""
        from fresh_chair.services.chair.asking import brought_by_courier
        from fresh_chair.services.system.files import typed_path

        done = self.attempt(lambda: brought_by_courier(self.session.opened, typed_path(path)))
        if done:
            self.draw()
            self.tell("What the courier brought is on record.")
        return done
