"""One open study: its plan, its sittings, its findings."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from fresh_chair.core.clock import Clock, Moment
from fresh_chair.core.errors import InputError, Overtaken, Refused
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.safe import safe
from fresh_chair.core.sitting.authors import MODERATOR, is_observer_name
from fresh_chair.core.text import harmless, legible
from fresh_chair.services.study.computed import Computed
from fresh_chair.services.study.following import UnreadChanges, unread_changes
from fresh_chair.services.study.mark_spool import MarkSpool
from fresh_chair.services.study.others_entries import OthersEntries
from fresh_chair.services.study.replayed import ReplayedLedger
from fresh_chair.services.study.replayed_journals import ReplayedJournals
from fresh_chair.services.study.snapshot import StudyReading, StudySnapshot
from fresh_chair.services.study.tallies import Tallies
from fresh_chair.services.system.clock import SystemClock
from fresh_chair.store.address import Address, name_of_address, read_address
from fresh_chair.store.addresses.stores import create_store, open_store
from fresh_chair.store.recent import RecentStudies

if TYPE_CHECKING:
    from fresh_chair.core.chair.ledger import ChairContent
    from fresh_chair.core.chair.state import State
    from fresh_chair.core.evidence.ledger import EvidenceEntry, EvidenceState
    from fresh_chair.core.findings.ledger import SortEntry
    from fresh_chair.core.findings.state.finding import Findings
    from fresh_chair.core.plan.chair_states import ChairState
    from fresh_chair.core.sitting.journal import Entry
    from fresh_chair.core.sitting.state.sitting import Sitting
    from fresh_chair.services.study.known_chairs import KnownChairs
    from fresh_chair.services.study.mark_outbox import MarkOutbox
    from fresh_chair.store.ports import StudyStore


def new_id() -> str:
    """An id that no other entry has."""
    return secrets.token_hex(8)


def _replay_sorting(entries: Sequence[SortEntry], aside: frozenset[str] | None) -> Findings:
    from fresh_chair.core.findings.ledger import replay_sorting

    return replay_sorting(entries, aside=aside)


def _replay_evidence(entries: Sequence[EvidenceEntry], aside: frozenset[str] | None) -> EvidenceState:
    from fresh_chair.core.evidence.ledger import replay_evidence

    return replay_evidence(entries, aside=aside)


class OpenStudy(StudyReading):
    """An open study with everything replayed, and the commands that change it.

    Args:
        store: The study, opened where it is kept.
        clock: Says what moment it is.
        author: Who presses the keys.
        later: Read the journals when they are first asked for: the board is drawn before them.
    """

    def __init__(
        self, store: StudyStore, *, clock: Clock | None = None, author: str = MODERATOR, later: bool = False
    ) -> None:
        self.clock = clock or SystemClock()
        self.author = author
        self.journals = store.journals
        self.sorting = ReplayedLedger(store.sorting, _replay_sorting, lambda findings: frozenset(findings.left_out))
        self.evidence = ReplayedLedger(store.evidence, _replay_evidence, lambda state: frozenset(state.left_out))
        self.plans = store.plans
        self.preparations = store.preparations
        self.store = store
        self._known_chairs: KnownChairs | None = None
        self.computed = Computed()
        self.tallies = Tallies()
        self.sees_people = store.home.sees_people
        self.replayed = ReplayedJournals(store.home, store.journals, lambda: self.study, author, link=store.link)
        self.others = OthersEntries(self.replayed, store.journals)
        self.study = self.plans.read()
        self.read_preparations()
        # Now, so that what cannot be read is said where files are opened.
        self.store.require_readable()
        if not later:
            try:
                self.load()
            except BaseException:
                # Who holds the files of ended programs keeps them from the next opening.
                self.replayed.close()
                raise

    @property
    def loaded(self) -> bool:
        """False while the journals are still to be read."""
        return self.replayed.loaded

    def load(self) -> None:
        """Read the journals and the findings, unless they are here already. Raises FileProblem."""
        _ = self.replayed.entries, self.findings

    @property
    def spool(self) -> MarkSpool | MarkOutbox:
        """The second place of marks."""
        return self.replayed.spool

    @property
    def entries(self) -> Mapping[int, Sequence[Entry]]:
        """Every sitting's entries, by its number."""
        return self.replayed.entries

    @property
    def sittings(self) -> Mapping[int, Sitting]:
        """The state of every sitting that has begun, by its number."""
        return self.replayed.sittings

    @property
    def known_chairs(self) -> KnownChairs:
        """The ledgers of the chairs, read when they are first asked for: the board comes before them."""
        if self._known_chairs is None:
            from fresh_chair.services.study.known_chairs import KnownChairs

            self._known_chairs = KnownChairs(self.store.chairs)
        return self._known_chairs

    def snapshot(self) -> StudySnapshot:
        """The study as it stands now, to be read by other threads."""
        return StudySnapshot(
            study=self.study,
            clock=self.clock,
            plans=self.plans,
            sorting=self.sorting,
            evidence=self.evidence,
            computed=self.computed,
            hunches=tuple(self.hunches),
            fixture_checks=tuple(self.fixture_checks),
            journals={number: tuple(entries) for number, entries in self.entries.items()},
            settled=self.replayed.settled,
            chairs=self.known_chairs,
            sees_people=self.sees_people,
        )

    @property
    def address(self) -> Address:
        """The study file, or its address on a server."""
        return read_address(self.store.home.address.path)

    @property
    def beside(self) -> Path:
        """The path that attached files lie beside."""
        return self.store.home.beside

    @property
    def proposed(self) -> Path:
        """The path beside which documents are proposed to go: the study file, or its name in the present folder."""
        if isinstance(self.address, Path):
            return self.beside
        return Path.cwd() / f"{name_of_address(self.address)}.fresh"

    @property
    def knows_chairs(self) -> bool:
        """False until the ledgers of the chairs were first read."""
        return self._known_chairs is not None and self._known_chairs.ledger.is_read

    @property
    def observes(self) -> bool:
        """True where this program adds a second observer's marks, and nothing else."""
        return self.store.home.observes

    @property
    def writable(self) -> bool:
        """True where this program holds the study's lock, and so moderates."""
        return self.store.home.writable

    @property
    def adds(self) -> bool:
        """True where this program may plan, sort, rate and put records down, also beside another one."""
        return self.store.home.writable or self.store.home.shares

    def cut_short(self) -> list[Seat]:
        """As for every study, but for sittings that other stations hold: only an observer joins those."""
        elsewhere = {} if self.observes else self.held_elsewhere
        return [seat for seat in super().cut_short() if seat.number not in elsewhere]

    @property
    def held_elsewhere(self) -> Mapping[int, str]:
        """The station of each sitting that goes on at another one, by the sitting's number, as last heard."""
        link = self.store.link
        if link is None:
            return {}
        return {each.number: each.station for each in link.known if each.seated and each.station != link.station}

    def reload(self) -> None:
        """Read everything again, as a reader does to follow a writer. Raises FileProblem."""
        self.study = self.plans.read()
        self.replayed.forget()
        self.sorting.forget()
        self.evidence.forget()
        self.read_preparations()
        if self._known_chairs is not None:
            self._known_chairs.forget()
        self.store.require_readable()
        self.load()

    def bring_back(self) -> bool:
        """Put marks that lie in a second place into the study file where it takes them again; True where it did.

        Raises:
            FileProblem, NotSaved: Where the file cannot be read or written.
        """
        try:
            return self.spool.bring_back()
        except Overtaken:
            self.reload()
            return self.spool.bring_back()

    def read_preparations(self) -> None:
        """Read hunches and looks at the bench as they are in the store now."""
        self.hunches = tuple(self.preparations.hunches())
        self.fixture_checks = tuple(self.preparations.fixture_checks())

    def warm_up(self) -> None:
        """Load everything that the first paint did without, so that the first mark waits for nothing.

        Raises:
            NotSaved: Where the file can no longer be written.
        """
        self.load()
        _ = self.known_chairs.all
        if self.adds or self.observes:
            self.journals.ready()

    def close(self, *, clean: bool = True) -> None:
        """Let go of the file; not cleanly after a failure."""
        self.replayed.close()
        self.store.home.close(clean=clean)

    def behind(self) -> bool:
        """True where another program has changed the plan or a sitting since it was read here. Raises FileProblem."""
        return self.plans.overtaken() or bool(self.others.gone_on())

    def read_on(self) -> None:
        """Take in other programs' changes of the plan, of sittings, of findings and of chairs. Raises FileProblem."""
        self.take_in(self.unread())

    def unread(self) -> UnreadChanges:
        """Other programs' changes, read for `take_in`; a thread may do it. Raises FileProblem.

        Findings, records and chairs count at once: their ledgers are never changed in place.
        """
        if self.store.link is not None:
            # A sitting that is seen to go on is known to be held elsewhere.
            self.store.link.reservations()
        return unread_changes(self.plans, self.preparations, self.others, self._ledgers())

    def take_in(self, unread: UnreadChanges) -> bool:
        """Let other programs' changes count; True where there were any. Raises FileProblem."""
        if unread.plan:
            self.study = self.plans.read()
        prepared = (unread.hunches, unread.fixture_checks) != (self.hunches, self.fixture_checks)
        self.hunches, self.fixture_checks = unread.hunches, unread.fixture_checks
        journals = self.others.take_in(unread.journals)
        return unread.plan or unread.ledgers or prepared or journals

    def _ledgers(self) -> list[ReplayedLedger[Any, Any]]:
        chairs = [self.known_chairs.ledger] if self.knows_chairs else []
        return [self.sorting, self.evidence, *chairs]

    def require_adding(self) -> None:
        """Do nothing where this program may change the plan, and add to the ledgers.

        Raises:
            Refused: Where it may only read.
        """
        if not self.adds:
            if self.store.home.away:
                raise Refused(
                    f"This study was moved to {legible(self.store.home.away)}.",
                    "Go on there, or bring it back: fresh-chair move FROM TO",
                )
            raise Refused("This study is open for reading only.", self.why_reading)

    @property
    def why_reading(self) -> str:
        """Why nothing is added by this program, in a sentence."""
        if self.observes:
            return "An observer adds marks to the sitting in hand."
        return "Your login on the server only reads." if self.store.link is not None else "The file may not be written."

    def require_moderating(self) -> None:
        """Do nothing where this program may run sittings, which one program at a time may.

        Raises:
            Refused: Where another one may, or the study may only be read.
        """
        self.require_adding()
        if self.writable:
            return
        if not self.store.home.take_over():
            raise Refused(
                "Sittings of this study are moderated in another Fresh Chair.",
                "Here you can plan, sort, rate and put records down meanwhile.",
            )
        # The other program is gone, and may have left marks elsewhere.
        self.replayed.forget(spool=True)
        self.reload()

    def amend(self, new: Study, *, script: str | None = None, within: bool = False) -> None:
        """Change the plan, and put the differences on record with their date.

        Args:
            new: The whole plan as it is to be.
            script: The script's text, where the cards changed.
            within: The change is made within a sitting: the state of a chair before it stays, even where no sitting
                began in it.

        Raises:
            Refused: Where it would change what was run already, the plan was changed elsewhere since it was read, or
                the study may only be read.
            NotSaved: Where the disk refuses; nothing is changed then.
        """
        from fresh_chair.core.plan.changes import differences, require_allowed

        self.require_adding()
        new = safe(new)
        require_allowed(self.study, new, self.begun)
        changes = differences(self.study, new)
        if not changes and script is None and new == self.study:
            return
        moment = self.clock.now()
        try:
            self.plans.amend(
                self.study,
                new,
                changes,
                moment=moment,
                author=self.author,
                sittings=len(self.begun),
                script=None if script is None else harmless(script),
                states=self._states_of(new, moment, within=within),
            )
        except Overtaken as problem:
            raise self._overtaken() from problem
        from fresh_chair.core.chair.ledger import ChairClosed

        gone = set(self.study.chair_by_letter) - set(new.chair_by_letter)
        self.study = new
        for letter in sorted(gone & self.known_chairs.known):
            # A chair that comes later under the same letter is another one.
            self.note(letter, ChairClosed())

    def _overtaken(self) -> Refused:
        """Another program's changes of the plan, taken in, as the reason why this one's was not made."""
        from fresh_chair.core.plan.changes import differences

        before, begun = self.study, self.begun
        self.read_on()
        said = [each.path for each in differences(before, self.study)]
        said += [f"sitting {number} began" for number in sorted(self.begun - begun)]
        what = ", ".join(said[:4]) + (f" and {len(said) - 4} more" if len(said) > 4 else "")
        return Refused(
            f"Another program has changed the plan meanwhile: {what or 'as it is now'}.",
            "Nothing of yours was changed. The plan is shown as it is now; say your change again.",
        )

    def _states_of(self, new: Study, moment: Moment, *, within: bool) -> list[ChairState]:
        """The states of chairs that a changed plan brings."""
        from fresh_chair.core.plan.chair_states import changed_states

        states = self.plans.chair_states()
        held = {letter: {state.number for state in listed} if within else set() for letter, listed in states.items()}
        for number, state in self.plans.states_of_sittings().items():
            held.setdefault(self.study.seat(number).chair, set()).add(state)
        for number, sitting in self.sittings.items():
            turns = sitting.walk.turns if sitting.walk is not None else ()
            held.setdefault(self.study.seat(number).chair, set()).update(turn.state for turn in turns)
        return changed_states(new, states, held, wall_ns=moment.wall_ns)

    def note(self, letter: str, *contents: ChairContent, states: Mapping[int, State] | None = None) -> None:
        """Put entries on record about a chair; the states they refer to are kept with them.

        Raises:
            Refused: Where the study may only be read.
            NotSaved: Where the disk refuses; nothing is kept then.
        """
        self.require_adding()
        self.known_chairs.put(letter, safe(contents), moment=self.clock.now(), author=self.author, states=states or {})


def observer_name(text: str) -> str:
    """The name under which a second observer logs, as it was typed.

    Raises:
        InputError: Where it is none, or the moderator's.
    """
    name = text.strip()
    if not is_observer_name(name):
        raise InputError(
            "An observer has a name of at most 40 letters, and not the moderator's.", "Say: --observer NAME"
        )
    return name


def open_study(
    address: Address,
    *,
    write: bool = True,
    recent: RecentStudies | None = None,
    author: str = MODERATOR,
    observe: bool = False,
    later: bool = False,
) -> OpenStudy:
    """The study at an address, opened; remembered among the recent ones where a list is given.

    Args:
        address: The study file, or a study on a server.
        write: False to read only.
        recent: The studies that were open lately.
        author: Who presses the keys.
        observe: For a second observer: read, and add marks to the sitting that somebody else moderates.
        later: Read the journals when they are first asked for.

    Raises:
        FileProblem, JournalError: Where it cannot be used; nothing was changed.
    """
    store = open_store(address, write=write, observe=observe)
    try:
        opened = OpenStudy(store, author=author, later=later)
    except BaseException:
        store.home.close(clean=False)
        raise
    if recent is not None:
        recent.remember(address, opened.study.title)
    return opened


def create_study(
    address: Address, study: Study, fill: Callable[[StudyStore], None] | None = None, *, script: str | None = None
) -> None:
    """Make a study with a plan in it, whole or not at all.

    Args:
        address: Where; nothing may be there.
        study: The plan.
        fill: Writes more, such as journals.
        script: The script's text, where the cards were read from one.

    Raises:
        FileProblem, NotSaved: Where it cannot be made.
    """

    def write(store: StudyStore) -> None:
        store.plans.write(safe(study), SystemClock().now(), script=script, author=MODERATOR)
        if fill is not None:
            fill(store)

    create_store(address, write)
