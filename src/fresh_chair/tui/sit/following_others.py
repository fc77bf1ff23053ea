"""Other writers followed: their entries are taken in between two keys, and spooled marks are brought back."""

import contextlib
from collections.abc import Callable
from typing import TYPE_CHECKING

from textual import on, work
from textual.message import Message

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import count_of
from fresh_chair.tui.base.application.keys_in_turn import KeysInTurn
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.services.sitting.live import LiveSitting
    from fresh_chair.services.study.following import UnreadChanges

LOOK_SECONDS = 0.4
# How soon a sentence that no place could show yet is tried again.
_STANDS_SECONDS = 0.1
# Every so many looks a program without a sitting in hand looks for other programs' changes.
# A file that nobody wrote into is read once in so many looks.
_QUIET_LOOKS = 8
_LOOKS_APART = 4


class Logged(Message):
    """Entries of other writers in the sitting in hand, as far as they were looked for."""

    def __init__(self, live: "LiveSitting", fresh: "list[Entry]") -> None:
        super().__init__()
        self.live, self.fresh = live, fresh


class WentOn(Message):
    """Sittings in which another program has logged, as far as anybody has looked.

    Args:
        numbers: Those.
        unread: The changes, where they were read already: a server is not asked between two keys.
    """

    def __init__(self, numbers: list[int], unread: "UnreadChanges | None" = None) -> None:
        super().__init__()
        self.numbers, self.unread = numbers, unread


class Changed(Message):
    """Whether another program has changed the plan or a sitting since they were read here.

    Args:
        behind: Whether it has.
        unread: The changes, where they were read already: a server is not asked between two keys.
    """

    def __init__(self, behind: bool, unread: "UnreadChanges | None" = None) -> None:
        super().__init__()
        self.behind, self.unread = behind, unread


class FollowingOthers(KeysInTurn[None]):
    """Merges the entries of other writers, in every place."""

    session: Session
    # While the journals are read for the first time, most keys wait.
    reading_first = False
    _looking = False
    _looks = 0
    _apart = 0
    _news = -1
    # Size and age of the study's file and its log, as they were when it was read.
    _touched: tuple[int, ...] = ()
    _quiet_looks = 0
    # Whether changes could not be shown, because a question or a sitting was open: they are looked for once more.
    _passed_by = False
    _said_of_marks = ""

    def join_sitting(self, number: int) -> None:
        """Join a sitting that is going on, as a second observer."""
        raise NotImplementedError

    def tell_which(self, count: int) -> None:
        """Say that several sittings go on, of which an observer joins one."""
        self.say(f"{count} sittings go on: Enter on the board joins the one in hand.")

    @property
    def front(self) -> Place | None:
        """The place in front, once it can be spoken to; None before, after, and where something else is in front."""
        screen = self.screen if self.screen_stack else None
        return screen if isinstance(screen, Place) and screen.stands else None

    def say(self, words: str, *, colour: str = "$moss") -> None:
        """Say something in the place one is in, as soon as it stands."""
        self._in_front(lambda place: place.tell(words, colour=colour))

    def say_problem(self, problem: FreshChairError) -> None:
        """Say the problem in the place one is in, as soon as it stands."""
        self._in_front(lambda place: place.tell_problem(problem))

    def say_at_first(self, problem: FreshChairError) -> None:
        """Say how things are on opening, but never in the place of the answer to a key that was quicker."""
        self._in_front(lambda place: None if place.says_something else place.tell_problem(problem))

    def still_reading(self) -> str:
        """How far the journals are read, where they are not read yet."""
        # Help needs nothing of it, and has no line that could say why its keys wait.
        if not self.reading_first or not isinstance(self.screen, Place):
            return ""
        entries, percent = self.session.opened.replayed.still_reading
        how_far = f", {percent // 10 * 10} % of {count_of(entries, 'entry', 'entries')}" if entries else ""
        return f"the study is read first{how_far} ... (Esc: not)"

    def say_reading(self, words: str) -> None:
        """Say how far the journals are read, as a key waits for them."""
        place = self.front
        if place is not None and words:
            place.tell(words, colour="$lamp")
        elif place is not None:
            place.clear_notice()

    def say_untaken(self) -> None:
        """Say that keys pressed while the journals were read are not taken."""
        if isinstance(self.screen, Place):
            self.say("What was typed while the study was read was not taken.", colour="$thread")
        else:
            # Below a question that hides the place: once it is answered.
            self.set_timer(0.2, self.say_untaken)

    def _in_front(self, act: Callable[[Place], object]) -> None:
        place = self.front
        if place is not None:
            act(place)
        elif self.is_running and self.screen_stack and isinstance(self.screen, Place):
            self.set_timer(_STANDS_SECONDS, lambda: self._in_front(act))

    def look(self) -> None:
        """Look for the entries of other writers, and bring spooled ones back."""
        if self._looking:
            return
        live, opened = self.session.in_hand, self.session.opened
        if live is not None:
            self._bring_back(live.bring_back)
            if self._is_news() or opened.spool.behind(live.seat.number):
                self._looking = True
                self._read_on(live)
        elif opened.observes:
            self._bring_back(opened.bring_back)
            if self._is_news() or self._passed_by:
                self._looking = True
                self._look_for_sitting()
        else:
            self._bring_back(opened.bring_back)
            self._looks += 1
            if opened.adds and self._looks % _LOOKS_APART == 0 and (self._is_news() or self._passed_by):
                self._looking = True
                self._look_for_changes()

    def _is_news(self) -> bool:
        """Whether anything may be new: of a file once it was written, of a server once another station was heard."""
        store = self.session.opened.store
        link = store.link
        if link is None:
            seen, self._touched = self._touched, store.home.touched()
            self._quiet_looks = 0 if not seen or seen != self._touched else self._quiet_looks + 1
            # Now and then all the same: what could not be taken in is read once more.
            return self._quiet_looks % _QUIET_LOOKS == 0
        before, self._news = self._news, link.news()
        return self._news != before

    def _bring_back(self, bring_back: Callable[[], bool]) -> None:
        if self.session.opened.store.link is not None:
            bring_back()
            self._tell_of_marks()
            return
        spool = self.session.opened.spool
        waited, self._apart = self._apart, spool.waiting
        if not spool.waiting:
            return
        try:
            back = bring_back()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        if back:
            self._apart = 0
            self.say("The marks that lay in a second place are in the study file.")
        elif waited != spool.waiting:
            self.say(spool.words, colour="$clay")

    def _tell_of_marks(self) -> None:
        """Say quietly that marks are on their way to the server, and once more when that changes."""
        from fresh_chair.services.study.mark_outbox import again_words

        spool, place = self.session.opened.spool, self.front
        clashes = [f"as sitting {beside}, beside {number}" for number, beside in spool.clashes.items()]
        link = self.session.opened.store.link
        away = "" if link is None or link.connected else f"The server cannot be reached.{again_words(link)}"
        twice = f"Logged at two stations: this one is kept {', '.join(clashes)}." if clashes else ""
        words = spool.words or away or twice
        if words != self._said_of_marks and place is not None:
            self._said_of_marks = words
            if words:
                place.tell(words, colour="$thread" if spool.quiet and not clashes else "$clay")
            else:
                place.clear_notice()

    @work(thread=True, group="look", description="read on")
    def _read_on(self, live: "LiveSitting") -> None:
        fresh: list[Entry] = []
        # Whoever writes the next mark says what is wrong with the file.
        with contextlib.suppress(FreshChairError):
            if live.opened.store.home.there:
                fresh = live.unread()
        self.post_message(Logged(live, fresh))

    @on(Logged)
    def _take_in(self, message: Logged) -> None:
        self._looking = False
        try:
            anything = message.live.take_in(message.fresh)
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        place = self.front
        if anything and place is not None:
            place.read_on()

    @work(thread=True, group="look", description="look for sitting")
    def _look_for_sitting(self) -> None:
        found, unread, opened = list[int](), None, self.session.opened
        with contextlib.suppress(FreshChairError):
            if opened.store.link is None:
                found = opened.others.gone_on()
            else:
                unread = opened.unread()
                found = list(unread.journals)
        self.post_message(WentOn(found, unread))

    @work(thread=True, group="look", description="look for changes")
    def _look_for_changes(self) -> None:
        behind, unread = False, None
        with contextlib.suppress(FreshChairError):
            if self.session.opened.store.link is None:
                behind = self.session.opened.behind()
            else:
                from fresh_chair.services.evidence.server_files import carry_files

                if not self.session.opened.knows_chairs:
                    # The server was lost before they were read.
                    self.session.opened.warm_up()
                unread = self.session.opened.unread()
                carry_files(self.session.opened)
        self.post_message(Changed(behind or unread is not None, unread))

    @on(Changed)
    def _take_in_changes(self, message: Changed) -> None:
        """Show another program's changes, unless a question or a sitting is open."""
        self._looking = False
        screen = self.front
        if not message.behind:
            return
        if self.session.in_hand is not None or screen is None or screen.asking:
            self._passed_by = True
            return
        passed_by, self._passed_by = self._passed_by, False
        try:
            if message.unread is not None:
                if not self.session.opened.take_in(message.unread) and not passed_by:
                    return
            # Once more, from here: a mark that was just written looked like another program's from the thread.
            elif not self.session.opened.behind():
                return
            else:
                self.session.opened.read_on()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        screen.read_on()

    @on(WentOn)
    def _join_what_began(self, message: WentOn) -> None:
        self._looking = False
        opened = self.session.opened
        screen = self.front
        if not message.numbers and (message.unread is None or not message.unread.plan):
            return
        if self.session.in_hand is not None or screen is None or screen.asking:
            self._passed_by = True
            return
        self._passed_by = False
        try:
            if message.unread is not None:
                opened.take_in(message.unread)
            else:
                opened.reload()
        except FreshChairError as problem:
            self.say_problem(problem)
            return
        open_ones = [seat.number for seat in opened.cut_short()]
        if len(open_ones) == 1:
            self.join_sitting(open_ones[0])
        elif open_ones:
            screen.read_on()
            self.tell_which(len(open_ones))
        else:
            screen.read_on()
