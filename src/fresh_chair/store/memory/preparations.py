"""Preparations beside the plan of a study in memory, and erasing."""

import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import NotSaved
from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.plan.fixtures import FixtureCheck
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.plan.study import Study
from fresh_chair.store.gate import require_plain
from fresh_chair.store.memory.kept import Kept, Row
from fresh_chair.store.ports import WordLedger
from fresh_chair.store.scrubbing import (
    ANSWERS,
    reworded,
    scrubbed,
    without_own_names,
    without_traces,
    without_words,
)


class MemoryPreparations:
    """Preparations beside the plan in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept

    def hunches(self) -> list[Hunch]:
        """Every hunch, in the order they were written."""
        return sorted(self._kept.hunches.values(), key=lambda hunch: (hunch.written_wall_ns, hunch.id))

    def put_hunch(self, hunch: Hunch) -> None:
        """Keep a hunch, new or changed. Raises InputError, NotSaved where it is sealed."""
        require_plain(hunch, "The hunch")
        self._require_open(hunch.id)
        self._kept.hunches[hunch.id] = hunch

    def drop_hunch(self, hunch_id: str) -> None:
        """Take a hunch back. Raises NotSaved where it is sealed."""
        self._require_open(hunch_id)
        self._kept.hunches.pop(hunch_id, None)

    def _require_open(self, hunch_id: str) -> None:
        found = self._kept.hunches.get(hunch_id)
        if found is not None and found.sealed_wall_ns is not None:
            raise NotSaved("Hunches are sealed.", "Nothing was changed.")

    def seal(self, letters: list[str], moment: Moment) -> None:
        """Seal every open hunch at these chairs."""
        for hunch in self.hunches():
            if hunch.chair in letters and hunch.sealed_wall_ns is None:
                self._kept.hunches[hunch.id] = replace(hunch, sealed_wall_ns=moment.wall_ns)

    def fixture_checks(self) -> list[FixtureCheck]:
        """Every look at the bench, in their order."""
        return list(self._kept.looks)

    def add_fixture_checks(self, checks: list[FixtureCheck]) -> None:
        """Keep looks at the bench, all or none. Raises InputError."""
        for check in checks:
            require_plain(check, "The look at the bench")
        self._kept.looks += checks

    def erasures(self) -> list[Erasure]:
        """The traces of erased people, by date."""
        return sorted(self._kept.erasures, key=lambda erasure: erasure.wall_ns)

    def erase(
        self,
        old: Study,
        new: Study,
        erasure: Erasure,
        *,
        own_places: Mapping[int, frozenset[str]],
        windows: Sequence[tuple[str, int, int]],
    ) -> None:
        """Remove a person's words, and their marks too where the trace says so. Arguments as in the port."""
        kept = self._kept
        self.erase_again(own_places, windows)
        if not erasure.figures_kept:
            for number in own_places:
                kept.entries.pop(number, None)
                kept.beats.pop(number, None)
        kept.erasures.append(erasure)
        kept.study, kept.revision = new, kept.revision + 1

    def reword(self, ledger: WordLedger, number: int, *, sitting: int, text: str, words: str, trace: Erasure) -> None:
        """Put other words in the place of a text in one entry. Arguments as in the port."""
        kept = self._kept
        kept.erasures.append(trace)
        listed = {"entry": kept.entries.get(sitting, []), "sort_entry": kept.sorting, "evidence_entry": kept.evidence}
        for row in listed[ledger]:
            if row["number"] == number:
                row["body"] = reworded(row["body"], text, words)

    def erase_again(self, own_places: Mapping[int, frozenset[str]], windows: Sequence[tuple[str, int, int]]) -> None:
        """Take the words of a person out of the rows that are still there. Arguments as in the port."""
        kept = self._kept
        targets = frozenset(self._targets(own_places))
        for row in kept.evidence:
            row["body"] = without_words(row["body"], targets)
        for number, own in own_places.items():
            if number in kept.entries:
                kept.entries[number] = [{**row, "body": scrubbed(row["body"], own)} for row in kept.entries[number]]
        for letter, since, until in windows:
            for row in kept.chairs:
                if row["chair"] == letter and since <= row["wall_ns"] <= until:
                    self._scrub_chair(row)

    def _targets(self, numbers: Iterable[int]) -> Iterator[str]:
        """The targets of evidence records in some sittings."""
        for number in numbers:
            yield f"sitting:{number}"
            yield from (f"attempt:{number}/{attempt}" for attempt in range(1, 100))
            for row in self._kept.entries.get(number, []):
                yield from (f"mark:{row['id']}", f"step:{row['id']}")

    def _scrub_chair(self, row: Row) -> None:
        body = json.loads(row["body"])
        if body["kind"] == "baseline_taken":
            state = without_own_names(self._kept.states[body["state"]])
            self._kept.states[body["state"]] = state
            row["body"] = json.dumps({**body, "keys": state.count}, ensure_ascii=False)
        elif body["kind"] in ANSWERS:
            row["body"] = json.dumps(without_traces(body), ensure_ascii=False)
