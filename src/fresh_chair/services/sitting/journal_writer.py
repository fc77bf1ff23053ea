"""One sitting's journal as it is written: committed before anything changes, beside others who write it too."""

from collections.abc import Sequence

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import JournalError, Overtaken, Refused
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.safe import safe
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.contradictions import impossible
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.replay import EntryTimes, replay
from fresh_chair.core.sitting.rules import OBSERVABLE, permit
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.services.sitting.seating import let_go_of_seat
from fresh_chair.services.sitting.view import JournalLine, journal_lines
from fresh_chair.services.study.open_study import OpenStudy, new_id

_LEAVES = (j.SittingEnded, j.SittingBrokenOff, j.SittingUnbegun)


class JournalWriter:
    """Writes one sitting's journal.

    Args:
        opened: The open study, which must be writable, or watched by a second observer.
        seat: Which planned sitting.
    """

    def __init__(self, opened: OpenStudy, seat: Seat) -> None:
        if not opened.observes:
            opened.require_moderating()
        self.opened = opened
        self.seat = seat
        self._clock = EntryTimes()
        self._times: list[int] = []
        self._struck: set[str] = set()
        opened.replayed.begin(seat)

    @property
    def entries(self) -> Sequence[Entry]:
        """The sitting's journal."""
        return self.opened.entries[self.seat.number]

    @property
    def state(self) -> Sitting:
        """The sitting as its journal says."""
        return self.opened.sittings[self.seat.number]

    @property
    def attempt(self) -> Attempt | None:
        """The attempt in hand, or the one that was last."""
        return self.state.latest

    def now(self) -> Moment:
        """The present moment, to be taken first thing at a key press."""
        return self.opened.clock.now()

    def log(self, content: Content, moment: Moment) -> Entry:
        """Commit one entry, then advance the state by it.

        Raises:
            Refused: Where it cannot follow now; nothing is logged.
            NotSaved: Where no disk takes it; nothing is logged and the state is as before.
        """
        while True:
            self._permit(content)
            entry = self._entry(content, moment, 1)
            try:
                self._keep([entry])
            except Overtaken:
                self.read_on()
                continue
            self.opened.replayed.advance(self.seat.number, entry)
            return entry

    def _permit(self, content: Content) -> None:
        permit(self.state, content, observed=self._observed)
        self._require_possible(content)
        about = getattr(content, "entry", None)
        if self._observed and about is not None:
            target = next((entry for entry in self.entries if entry.id == about), None)
            if target is not None and target.author != self.opened.author:
                raise Refused("That mark is somebody else's.", "An observer corrects their own.")

    def _require_possible(self, content: Content) -> None:
        problem = impossible(self.opened.study, self.state, content)
        if problem:
            raise Refused(problem, "Nothing was logged.")

    def _keep(self, entries: list[Entry]) -> None:
        after = self.entries[-1].id if self.entries else ""
        self.opened.spool.keep(self.seat.number, entries, after=after, shown=self.entries)
        if any(isinstance(entry.content, _LEAVES) for entry in entries):
            let_go_of_seat(self.opened, self.seat.number)

    @property
    def _observed(self) -> bool:
        return self.opened.observes or self.opened.author in self.state.observers

    def read_on(self) -> bool:
        """Take in the entries of other writers; True where there were any.

        Raises:
            FileProblem, JournalError: Where it cannot be read.
        """
        return self.take_in(self.unread())

    def unread(self) -> list[Entry]:
        """Entries of other writers that are not read here yet; changes nothing. Raises as `read_on`."""
        return self.opened.others.unread_in_hand(self.seat.number)

    def take_in(self, fresh: list[Entry]) -> bool:
        """Take in entries that others have logged, as far as they follow; True where there was anything new."""
        # Once: a thread may say meanwhile that all is to be read anew.
        known = self.opened.others.known_in_hand(self.seat.number)
        fresh = [entry for entry in fresh if entry.number > known]
        if not fresh or fresh[0].number > known + 1:
            return False
        if known < len(self.entries) or any(isinstance(entry.content, j.Struck) for entry in fresh):
            changed = self.opened.others.merge_in_hand(self.seat.number, fresh, known=known)
            if changed:
                self._clock, self._times, self._struck = EntryTimes(), [], set()
            return changed
        for entry in fresh:
            self.opened.replayed.advance(self.seat.number, entry)
        return True

    def bring_back(self) -> bool:
        """Put marks that had to go elsewhere into the study file, where it takes them again. Raises as `read_on`."""
        try:
            return self.opened.spool.bring_back()
        except Overtaken:
            self.read_on()
            return self.opened.spool.bring_back()

    def join(self, moment: Moment) -> None:
        """Watch beside the moderator, under another name.

        Raises:
            Refused: Where that name is the moderator's.
            NotSaved: Where the disk refuses.
        """
        own = [entry for entry in self.entries if entry.author == self.opened.author]
        if self.opened.author in self.state.observers:
            # Another machine's clock, or the same one started anew, is laid on the line once more.
            if own and own[-1].moment.boot == moment.boot:
                return
        elif any(entry.author == self.opened.author for entry in self.entries):
            raise Refused(f"{self.opened.author} moderates this sitting.", "Say another name: --observer NAME")
        link = self.opened.store.link
        ahead_ns = 0 if link is None else link.ahead_ns(self.seat.number)
        self.log(j.ObserverJoined(ahead_ns), moment)

    def _last_of_own(self) -> str | None:
        if not self._observed:
            return self.state.undoable[-1] if self.state.undoable else None
        struck = {entry.content.entry for entry in self.entries if isinstance(entry.content, j.Struck)}
        return next(
            (
                entry.id
                for entry in reversed(self.entries)
                if entry.author == self.opened.author
                and entry.id not in struck
                and entry.content.kind in OBSERVABLE
                and not isinstance(entry.content, j.ObserverJoined | j.Struck)
            ),
            None,
        )

    def correct(self, content: Content, moment: Moment) -> None:
        """Put in a correction, and replay the whole with it.

        Raises:
            Refused: Where the journal would make no sense with it; nothing is logged then.
            NotSaved: Where the disk refuses.
        """
        try:
            self._commit([content], moment)
        except JournalError as problem:
            reason = problem.title.split(": ", 1)[-1]
            raise Refused("The journal would make no sense with that.", reason) from problem

    def words_waiting(self) -> list[str]:
        """One's own snags, delights and notes that have no words yet, oldest first."""
        waiting, state = self.state.wordless, self.state
        if not waiting:
            return []
        mine = {self.opened.author} if self._observed else None
        return [
            remark.entry
            for remark in state.remarks.values()
            if remark.entry in waiting
            and (remark.author in mine if mine is not None else remark.author not in state.observers)
        ]

    def lines(self, most: int) -> list[JournalLine]:
        """The newest entries of the journal."""
        self._catch_up()
        return journal_lines(self.opened.study, self.state, self.entries, self._times, self._struck, most=most)

    def _commit(self, contents: list[Content], moment: Moment) -> None:
        """Commit several entries or a correction, all or none, and replay the whole."""
        while True:
            for content in contents:
                if self._observed:
                    self._permit(content)
                self._require_possible(content)
            fresh = [self._entry(content, moment, index) for index, content in enumerate(contents, start=1)]
            aside = frozenset(self.state.left_out)
            state = replay(self.seat.number, self.seat.cards, [*self.entries, *fresh], aside=aside)
            try:
                self._keep(fresh)
            except Overtaken:
                self.read_on()
                continue
            self.opened.replayed.take(self.seat.number, [*self.entries, *fresh], state)
            return

    def _entry(self, content: Content, moment: Moment, step: int) -> Entry:
        return Entry(new_id(), len(self.entries) + step, moment, self.opened.author, safe(content))

    def _catch_up(self) -> None:
        """Time the new entries in the journal, of every author: words may come in from Sort as well."""
        for entry in self.entries[len(self._times) :]:
            self._times.append(self._clock.take(entry))
            if isinstance(entry.content, j.Struck):
                self._struck.add(entry.content.entry)
