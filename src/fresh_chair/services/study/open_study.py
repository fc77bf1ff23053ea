"""One open study: its plan, its sittings, its findings."""

import secrets
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from fresh_chair.core.clock import Clock
from fresh_chair.core.errors import InputError, Overtaken, Refused
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.findings.ledger import Findings, SortEntry, replay_sorting
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.safe import safe
from fresh_chair.core.sitting.journal import MODERATOR, Entry, is_observer_name
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.sitting import Phase, Sitting
from fresh_chair.core.text import harmless
from fresh_chair.services.study.computed import Computed
from fresh_chair.services.study.mark_spool import MarkSpool, TakenBack, take_back
from fresh_chair.services.study.replayed import ReplayedLedger
from fresh_chair.services.system.clock import SystemClock
from fresh_chair.store.ports import StudyStore
from fresh_chair.store.recent import RecentStudies
from fresh_chair.store.sqlite.plans import Plans
from fresh_chair.store.sqlite.store import SqliteStore
from fresh_chair.store.sqlite.study_file import StudyFile, create_file, open_file

if TYPE_CHECKING:
    from fresh_chair.core.chair.ledger import ChairContent
    from fresh_chair.core.chair.state import State
    from fresh_chair.core.figures.facts import AttemptFact
    from fresh_chair.core.plan.chair_states import ChairState
    from fresh_chair.services.study.known_chairs import KnownChairs
    from fresh_chair.store.spool import Leftover


def new_id() -> str:
    """An id that no other entry has."""
    return secrets.token_hex(8)


@dataclass(frozen=True, slots=True)
class Tally:
    """The counts of one sitting, as far as it had come then.

    Attributes:
        snags: Ids of its snags.
        tried: Cards with an attempt that counts.
    """

    sitting: Sitting
    entries: int
    snags: frozenset[str]
    tried: frozenset[str]


class OpenStudy:
    """An open study with everything replayed.

    Args:
        file: The open study file.
        clock: Says what moment it is.
        author: Who presses the keys.
    """

    def __init__(self, file: StudyFile, *, clock: Clock | None = None, author: str = MODERATOR) -> None:
        self.file = file
        self.clock = clock or SystemClock()
        self.author = author
        store: StudyStore = SqliteStore(file)
        self.journals = store.journals
        self.sorting: ReplayedLedger[SortEntry, Findings] = ReplayedLedger(
            store.sorting,
            lambda entries, aside: replay_sorting(entries, aside=aside),
            lambda findings: frozenset(findings.left_out),
        )
        self.plans = store.plans
        self.preparations = store.preparations
        self._store = store
        self._known_chairs: KnownChairs | None = None
        self.computed = Computed()
        self.tallies: dict[int, Tally] = {}
        self.merged = 0
        self.left_apart: list[Leftover] = []
        self.spool: MarkSpool
        self.study: Study
        self.entries: dict[int, list[Entry]]
        self.sittings: dict[int, Sitting]
        self.hunches: list[Hunch]
        self.fixture_checks: list[FixtureCheck]
        self.reload()

    @property
    def known_chairs(self) -> "KnownChairs":
        """The ledgers of the chairs, read when they are first asked for: the board comes before them."""
        if self._known_chairs is None:
            from fresh_chair.services.study.known_chairs import KnownChairs

            self._known_chairs = KnownChairs(self._store.chairs)
        return self._known_chairs

    @property
    def knows_chairs(self) -> bool:
        """False until the ledgers of the chairs were first asked for."""
        return self._known_chairs is not None

    @property
    def findings(self) -> Findings:
        """The findings, as sorted so far."""
        return self.sorting.state

    @property
    def observes(self) -> bool:
        """True where this program adds a second observer's marks, and nothing else."""
        return self.file.observes

    @property
    def writable(self) -> bool:
        """False where another program writes this study, or the file may only be read."""
        return self.file.writable

    @property
    def adds(self) -> bool:
        """True where this program may sort, rate and put records down, be the plan another one's meanwhile."""
        return self.file.writable or self.file.shares

    def reload(self) -> None:
        """Read everything again, as a reader does to follow a writer."""
        self.study = self.plans.read()
        self.entries = self.journals.all()
        self._take_back()
        self.sittings = {}
        for number in self.entries:
            self.replay_sitting(number)
        self.sorting.forget()
        self.hunches = self.preparations.hunches()
        self.fixture_checks = self.preparations.fixture_checks()
        if self._known_chairs is not None:
            self._known_chairs.forget()
        # Now, so that what cannot be read is said where files are opened.
        self._store.require_readable()
        _ = self.findings

    def _take_back(self) -> None:
        """Take in marks that lie elsewhere: one's own, and those of a program that died."""
        if hasattr(self, "spool"):
            for number, waiting in self.spool.by_sitting.items():
                listed = self.entries.setdefault(number, [])
                listed += [replace(entry, number=len(listed) + step) for step, entry in enumerate(waiting, start=1)]
                self.spool.renumber(number, listed[len(listed) - len(waiting) :])
            return
        taken = TakenBack()
        if self.writable or self.observes:
            of = self.author if self.observes else ""
            taken = take_back(self.study, self.file, self.journals, self.entries, of=of)
        self.merged, self.left_apart = taken.merged, taken.apart
        self.spool = MarkSpool(self.file, self.journals, self.study.id, taken)

    def bring_back(self) -> bool:
        """Put marks that lie in a second place into the study file where it takes them again; True where it did.

        Raises:
            FileProblem, NotSaved: Where the file cannot be read or written.
        """
        if not self.spool.waiting:
            return False
        try:
            return self.spool.bring_back()
        except Overtaken:
            self.reload()
            return self.spool.bring_back()

    def replay_sitting(self, number: int) -> Sitting:
        """One sitting's state from its entries as they are here now."""
        cards = self.study.seat(number).cards
        self.sittings[number] = replay(number, cards, self.entries[number], lenient=True)
        return self.sittings[number]

    def warm_up(self) -> None:
        """Load everything that the first paint did without, so that the first mark waits for nothing.

        Raises:
            NotSaved: Where the file can no longer be written.
        """
        _ = self.known_chairs.all
        if self.adds or self.observes:
            self.journals.ready()

    def close(self, *, clean: bool = True) -> None:
        """Let go of the file; not cleanly after a failure."""
        self.spool.close()
        self.file.close(clean=clean)

    def require_adding(self) -> None:
        """Do nothing where this program may add to the ledgers of findings and chairs.

        Raises:
            Refused: Where it may only read.
        """
        if not self.adds:
            self.require_writable()

    def read_on(self) -> None:
        """Take in other programs' entries about findings and chairs. Raises FileProblem."""
        self.sorting.read_on()
        if self.knows_chairs:
            self.known_chairs.read_on()

    def require_writable(self) -> None:
        """Do nothing where this program may write all of the study.

        Raises:
            Refused: Where another one does, or it may only be read.
        """
        if self.adds and not self.writable:
            raise Refused(
                "This study is planned and moderated in another Fresh Chair.",
                "Here you can sort, rate and put records down meanwhile.",
            )
        if not self.writable:
            raise Refused(
                "This study is open for reading only.",
                "Another Fresh Chair is writing it, or the file may not be written.",
            )

    def phase(self, number: int) -> Phase:
        """How far a planned sitting has come."""
        sitting = self.sittings.get(number)
        return Phase.EMPTY if sitting is None else sitting.phase

    def cut_short(self) -> list[Seat]:
        """Sittings that have begun and have no end, but for those that are logged from a recording: that one waits."""
        return [seat for seat in self.study.seats if self.phase(seat.number).open and not self.recorded(seat.number)]

    def gone_on(self) -> list[int]:
        """Sittings in which another program has logged since they were read here. Raises as `reload`."""
        known = {number: len(entries) for number, entries in self.entries.items()}
        return [number for number, length in self.journals.lengths().items() if length != known.get(number, 0)]

    def recorded(self, number: int) -> bool:
        """Whether a sitting is logged from a recording."""
        sitting = self.sittings.get(number)
        return sitting is not None and sitting.recording is not None

    def to_run(self) -> list[Seat]:
        """Planned sittings that have not begun."""
        return [seat for seat in self.study.seats if self.phase(seat.number) is Phase.EMPTY]

    def facts(self) -> "list[AttemptFact]":
        """Every attempt that was judged."""
        from fresh_chair.core.figures.facts import facts_of

        return self.computed.value("facts", self.study, self.sittings, lambda: facts_of(self.study, self.sittings))

    @property
    def begun(self) -> set[int]:
        """Numbers of the sittings that have begun."""
        return {number for number, entries in self.entries.items() if entries}

    @property
    def began_wall_ns(self) -> dict[int, int]:
        """When each sitting that has begun did, nanoseconds since 1970 UTC, by its number."""
        return {n: sitting.began.wall_ns for n, sitting in self.sittings.items() if sitting.began is not None}

    def chair_states(self) -> "dict[int, ChairState]":
        """The state its chair was in for every sitting that has begun, by the sitting's number."""
        from fresh_chair.core.plan.chair_states import states_of_sittings

        return states_of_sittings(self.study, self.plans.changes(), self.began_wall_ns)

    @property
    def machines_sat_at(self) -> set[str]:
        """Ids of machines that a sitting stood on, be the chair on another one by now."""
        return {state.machine.id for state in self.chair_states().values()}

    def amend(self, new: Study, *, script: str | None = None) -> None:
        """Change the plan, and put the differences on record with their date.

        Args:
            new: The whole plan as it is to be.
            script: The script's text, where the cards changed.

        Raises:
            Refused: Where it would change what was run already, or the study may only be read.
            NotSaved: Where the disk refuses; nothing is changed then.
        """
        from fresh_chair.core.plan.changes import differences, require_allowed

        self.require_writable()
        new = safe(new)
        require_allowed(self.study, new, self.begun)
        changes = differences(self.study, new)
        if not changes and script is None and new == self.study:
            return
        self.plans.amend(
            self.study,
            new,
            changes,
            moment=self.clock.now(),
            author=self.author,
            sittings=len(self.begun),
            script=None if script is None else harmless(script),
        )
        from fresh_chair.core.chair.ledger import ChairClosed

        gone = set(self.study.chair_by_letter) - set(new.chair_by_letter)
        self.study = new
        for letter in sorted(gone & self.known_chairs.known):
            # A chair that comes later under the same letter is another one.
            self.note(letter, ChairClosed())

    def note(self, letter: str, *contents: "ChairContent", states: "Mapping[int, State] | None" = None) -> None:
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
    path: Path,
    *,
    write: bool = True,
    recent: RecentStudies | None = None,
    author: str = MODERATOR,
    observe: bool = False,
) -> OpenStudy:
    """The study at a path, opened; remembered among the recent ones where a list is given.

    Args:
        path: The study file.
        write: False to read only.
        recent: The studies that were open lately.
        author: Who presses the keys.
        observe: For a second observer: read, and add marks to the sitting that somebody else moderates.

    Raises:
        FileProblem, JournalError: Where it cannot be used; nothing was changed.
    """
    file = open_file(path, write=write, observe=observe)
    try:
        opened = OpenStudy(file, author=author)
    except BaseException:
        file.close(clean=False)
        raise
    if recent is not None:
        recent.remember(path, opened.study.title)
    return opened


def create_study(
    path: Path, study: Study, fill: Callable[[StudyFile], None] | None = None, *, script: str | None = None
) -> None:
    """Make a study file with a plan in it, whole or not at all.

    Args:
        path: Where; nothing may be there.
        study: The plan.
        fill: Writes more, such as journals.
        script: The script's text, where the cards were read from one.

    Raises:
        FileProblem, NotSaved: Where it cannot be made.
    """

    def write(file: StudyFile) -> None:
        Plans(file).write(safe(study), SystemClock().now(), script=script, author=MODERATOR)
        if fill is not None:
            fill(file)

    create_file(path, write)
