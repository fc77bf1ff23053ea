"""Preparations beside the plan: hunches, the bench, and the traces of erased people."""

from collections.abc import Mapping, Sequence

from fresh_chair.core.clock import Moment
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.plan.study import Study
from fresh_chair.store.sqlite.study_file import StudyFile, copy_before
from fresh_chair.store.sqlite.troubles import writing


class Preparations:
    """Reads and writes hunches, looks at the bench, and erasures."""

    def __init__(self, file: StudyFile) -> None:
        self._file = file

    def hunches(self) -> list[Hunch]:
        """Every hunch, in the order they were written."""
        return self._file.listed(Hunch, "SELECT * FROM hunch ORDER BY written_wall_ns, id", "hunch", flags=("late",))

    def put_hunch(self, hunch: Hunch) -> None:
        """Write a hunch down. Raises NotSaved where the file refuses: it is sealed, or the disk is full."""
        from fresh_chair.store.sqlite.rows import put_hunch

        with writing(self._file.name), self._file.engine.begin() as connection:
            put_hunch(connection, hunch)

    def drop_hunch(self, hunch_id: str) -> None:
        """Take a hunch back. Raises NotSaved as `put_hunch`."""
        from fresh_chair.store.sqlite.rows import drop_hunch

        with writing(self._file.name), self._file.engine.begin() as connection:
            drop_hunch(connection, hunch_id)

    def seal(self, letters: list[str], moment: Moment) -> None:
        """Seal every open hunch at these chairs. Raises NotSaved where the disk refuses."""
        from fresh_chair.store.sqlite.rows import seal_hunches

        with writing(self._file.name), self._file.engine.begin() as connection:
            seal_hunches(connection, letters, moment.wall_ns)

    def fixture_checks(self) -> list[FixtureCheck]:
        """Every look at the bench, in their order."""
        query = "SELECT wall_ns, name, presence, note FROM fixture_check ORDER BY number"
        return self._file.listed(FixtureCheck, query, "look at the bench")

    def add_fixture_checks(self, checks: list[FixtureCheck]) -> None:
        """Put looks at the bench on record. Raises NotSaved where the disk refuses."""
        from fresh_chair.store.sqlite.rows import add_fixture_check

        with writing(self._file.name), self._file.engine.begin() as connection:
            for check in checks:
                add_fixture_check(connection, check)

    def erasures(self) -> list[Erasure]:
        """Who was erased when."""
        query = "SELECT * FROM erasure ORDER BY wall_ns"
        return self._file.listed(Erasure, query, "erasure", flags=("figures_kept",))

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
            NotSaved: Where the disk refuses; nothing is erased then.
        """
        from fresh_chair.store.sqlite.chair_ledgers import without_own_names
        from fresh_chair.store.sqlite.rows import erase_person

        with writing(self._file.name), self._file.engine.begin() as connection:
            connection.exec_driver_sql("PRAGMA secure_delete = ON")
            erase_person(
                connection, old, new, erasure, own_places=own_places, windows=windows, repack=without_own_names
            )
        copy_before(self._file.path).unlink(missing_ok=True)

    def erase_again(self, own_places: Mapping[int, frozenset[str]], windows: Sequence[tuple[str, int, int]]) -> None:
        """Take out traces an earlier version left of an erased person. Raises NotSaved; all is then as it was."""
        from fresh_chair.store.sqlite.chair_ledgers import without_own_names
        from fresh_chair.store.sqlite.erasing import mark_unpacked, scrub_chair, scrub_entries, without_triggers

        with writing(self._file.name), self._file.engine.begin() as connection:
            scrub_entries(connection, own_places)
            with without_triggers(connection, "chair_entry", "chair_state"):
                for letter, since, until in windows:
                    scrub_chair(connection, letter, since, until, without_own_names)
            mark_unpacked(connection)
