"""Preparations beside the plan: hunches, the bench, and the traces of erased people."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict

from fresh_chair.core.clock import Moment
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.plan.study import Study
from fresh_chair.store.gate import require_plain
from fresh_chair.store.ports import WordLedger
from fresh_chair.store.tables.database import Database, listed
from fresh_chair.store.tables.scrubbed_rows import reword_row, scrub, targets_of


class Preparations:
    """Reads and writes hunches, looks at the bench, and erasures."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def hunches(self) -> list[Hunch]:
        """Every hunch, in the order they were written."""
        return self._hunches(list[str]())

    def _hunches(self, aside: list[str]) -> list[Hunch]:
        return listed(self._database, Hunch, _HUNCHES, "hunch", flags=("late",), aside=aside.append)

    def aside(self) -> list[str]:
        """A sentence for each row that cannot be used, and stands aside. Raises FileProblem."""
        said = list[str]()
        self._hunches(said)
        self._looks(said)
        return said

    def put_hunch(self, hunch: Hunch) -> None:
        """Write a hunch down. Raises NotSaved where the database refuses: it is sealed, or the disk is full."""
        require_plain(hunch, "The hunch")
        with self._database.changing() as rows:
            rows.put("hunch", [{**asdict(hunch), "chair": rows.chair_id(hunch.chair)}], key=("id",))

    def drop_hunch(self, hunch_id: str) -> None:
        """Take a hunch back. Raises NotSaved as `put_hunch`."""
        with self._database.changing() as rows:
            rows.drop("hunch", "id", [hunch_id])

    def seal(self, letters: list[str], moment: Moment) -> None:
        """Seal every open hunch at these chairs. Raises NotSaved where the database refuses."""
        with self._database.changing() as rows:
            for letter in letters:
                rows.seal_hunches(rows.chair_id(letter), moment.wall_ns)

    def fixture_checks(self) -> list[FixtureCheck]:
        """Every look at the bench, in their order."""
        return self._looks(list[str]())

    def _looks(self, aside: list[str]) -> list[FixtureCheck]:
        query = "SELECT wall_ns, name, presence, note FROM fixture_check WHERE study = ? ORDER BY number"
        return listed(self._database, FixtureCheck, query, "look at the bench", aside=aside.append)

    def add_fixture_checks(self, checks: list[FixtureCheck]) -> None:
        """Put looks at the bench on record. Raises NotSaved where the database refuses."""
        with self._database.changing() as rows:
            for check in checks:
                require_plain(check, "The look at the bench")
                rows.put("fixture_check", [{"number": rows.next_number("fixture_check"), **asdict(check)}])

    def erasures(self) -> list[Erasure]:
        """The traces of erased people, by date."""
        query = "SELECT participant, wall_ns, author, figures_kept FROM erasure WHERE study = ? ORDER BY wall_ns"
        return listed(self._database, Erasure, query, "erasure", flags=("figures_kept",))

    def erase(
        self,
        old: Study,
        new: Study,
        erasure: Erasure,
        *,
        own_places: Mapping[int, frozenset[str]],
        windows: Sequence[tuple[str, int, int]],
    ) -> None:
        """Remove a person's identifying data and words, and leave a trace; their marks too where they want it.

        Args:
            old: The plan as it is.
            new: The plan with what is left of them.
            erasure: The trace.
            own_places: For each of their sittings the places that are the chair's own, and so no words of theirs.
            windows: Chair, and from when to when, by the wall clock, their traces may have been on it.

        Raises:
            NotSaved: Where the database refuses; nothing is erased then.
        """
        from fresh_chair.store.tables.plan_rows import replace_plan

        with self._database.changing() as rows, self._database.erasing(rows):
            rows.put("erasure", [asdict(erasure)])
            targets = targets_of(rows, own_places)
            if not erasure.figures_kept:
                rows.drop_sittings([rows.sitting_id(number) for number in own_places], erasure.participant)
            scrub(rows, own_places if erasure.figures_kept else {}, windows, targets)
            replace_plan(rows, old, new)
            rows.change_head({}, revision=rows.one("SELECT revision FROM study WHERE id = ?"))
        self._database.erased()

    def reword(self, ledger: WordLedger, number: int, *, sitting: int, text: str, words: str, trace: Erasure) -> None:
        """Put other words in the place of a text in one entry, in its bytes. Arguments as in the port."""
        with self._database.changing() as rows, self._database.erasing(rows):
            rows.put("erasure", [asdict(trace)])
            reword_row(rows, ledger, number, rows.sitting_id(sitting) if sitting else "", text=text, words=words)
        self._database.erased()

    def erase_again(self, own_places: Mapping[int, frozenset[str]], windows: Sequence[tuple[str, int, int]]) -> None:
        """Take out traces an earlier version left of an erased person. Raises NotSaved; all is then as it was."""
        with self._database.changing() as rows, self._database.erasing(rows):
            scrub(rows, own_places, windows, targets_of(rows, own_places))


_HUNCHES = (
    "SELECT hunch.id, card, COALESCE(chair.letter, hunch.chair) AS chair, words, severity, written_wall_ns, "
    "sealed_wall_ns, late FROM hunch LEFT JOIN chair ON chair.study = hunch.study AND chair.id = hunch.chair "
    "WHERE hunch.study = ? ORDER BY written_wall_ns, hunch.id"
)
