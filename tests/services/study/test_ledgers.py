"""Each ledger: of two writers the second reads on and tries again, and an entry can be struck with a reason."""

import os
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.chair.ledger import NoiseLearnt, ReachChosen
from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.findings.entries.membership import FindingOpened
from fresh_chair.core.findings.ledger import SortEntry, replay_sorting, sort_id
from fresh_chair.core.findings.state.finding import Findings
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.chair.records import strike_entry
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.findings import sorting
from fresh_chair.services.findings.judging import judge_severity
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.text.timed_notes import take_notes
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.study.replayed import ReplayedLedger
from fresh_chair.store.memory.kept import Kept
from fresh_chair.store.memory.ledgers import MemorySorting
from fresh_chair.store.sqlite.study_file import StudyFile
from fresh_chair.store.sqlite.tables import FileTables
from fresh_chair.store.tables.store import TableStore

NOW = Moment(1, "boot", 1)


@pytest.fixture
def other(demo: OpenStudy) -> Iterator[OpenStudy]:
    """The same study in another program, with whatever that one has read by now."""
    file = StudyFile(demo.beside, os.open(demo.beside, os.O_RDWR))
    opened = OpenStudy(TableStore(FileTables(file)), clock=demo.clock, author="Ada")
    yield opened
    opened.close(clean=False)


def test_whoever_is_overtaken_in_sorting_reads_on_and_both_hold(demo: OpenStudy, other: OpenStudy) -> None:
    first, second = (snag.target for snag in sorted_findings_of(demo).loose[:2])
    sorting.open_finding(demo, "from here", [first])
    sorting.open_finding(other, "from there", [second])
    assert [finding.title for finding in other.findings.by_id.values()][-2:] == ["from here", "from there"]
    assert demo.sorting.read_on()
    assert demo.findings.findings_of == other.findings.findings_of
    assert [problem for check in check_file(demo.beside) for problem in check.problems] == []


def test_what_another_one_has_done_meanwhile_is_looked_at_before_a_change_is_kept(
    demo: OpenStudy, other: OpenStudy
) -> None:
    snag = sorted_findings_of(demo).loose[0].target
    finding = next(iter(demo.findings.by_id))
    sorting.join(demo, finding, [snag])
    with pytest.raises(Refused, match="in that finding already"):
        sorting.join(other, finding, [snag])


def test_whoever_is_overtaken_about_a_chair_reads_on_and_both_hold(demo: OpenStudy, other: OpenStudy) -> None:
    demo.note("A", ReachChosen("here"))
    other.note("A", NoiseLearnt(("settings:x",), "moves"))
    assert other.known_chairs.of("A").reach == "here"
    assert demo.known_chairs.read_on()
    assert "settings:x" in demo.known_chairs.of("A").noise


def test_reading_on_forgets_nothing_that_was_committed_while_it_read() -> None:
    kept = Kept()
    between: list[str] = ["own"]

    class Stored(MemorySorting):
        """Commits in the moment after others' entries were read."""

        def since(self, number: int) -> list[SortEntry]:
            found = super().since(number)
            if found and between:
                ledger.append(opened(between.pop()))
            return found

    def opened(name: str) -> Callable[[int], list[SortEntry]]:
        return lambda first: [SortEntry(sort_id(first), first, NOW, "moderator", FindingOpened(name, name))]

    ledger: ReplayedLedger[SortEntry, Findings] = ReplayedLedger(
        Stored(kept),
        lambda entries, aside: replay_sorting(entries, aside=aside),
        lambda findings: frozenset(findings.left_out),
    )
    assert not ledger.entries
    MemorySorting(kept).append(opened("theirs")(1))
    assert ledger.read_on()
    assert list(ledger.state.by_id) == ["theirs", "own"]


def test_an_entry_of_sorting_is_struck_with_a_reason_and_stays(demo: OpenStudy) -> None:
    snag = sorted_findings_of(demo).loose[0].target
    sorting.open_finding(demo, "too soon", [snag])
    joined = demo.sorting.entries[-1].number
    with pytest.raises(InputError, match="needs a reason"):
        sorting.strike(demo, joined, " ")
    with pytest.raises(Refused, match="no such finding"):
        sorting.strike(demo, joined - 1, "its snag still needs it")
    sorting.strike(demo, joined, "another trouble")
    sorting.strike(demo, joined - 1, "and the finding with it")
    assert snag not in demo.findings.findings_of
    assert [entry.content.kind for entry in demo.sorting.entries[-4:]] == [
        *("finding_opened", "evidence_joined", "struck", "struck")
    ]
    assert [problem for check in check_file(demo.beside) for problem in check.problems] == []


def test_an_entry_about_a_chair_is_struck_with_a_reason_and_stays(demo: OpenStudy) -> None:
    demo.note("A", NoiseLearnt(("settings:x",), "moves"))
    number = demo.known_chairs.entries()[-1].number
    with pytest.raises(InputError, match="no entry"):
        strike_entry(demo, "B", number, "of another chair")
    strike_entry(demo, "A", number, "it was touched after all")
    assert "settings:x" not in demo.known_chairs.of("A").noise
    with pytest.raises(Refused, match="strikes what is not there"):
        strike_entry(demo, "A", number, "twice")
    demo.reload()
    assert "settings:x" not in demo.known_chairs.of("A").noise
    assert len(demo.known_chairs.entries()) == number + 1


def test_beside_another_program_one_may_plan_sort_and_put_records_down_and_seat_nobody(demo: OpenStudy) -> None:
    beside = open_study(demo.beside, author="Ada")
    assert (beside.writable, beside.adds) == (False, True)
    snag = sorted_findings_of(beside).loose[0].target
    sorting.open_finding(beside, "from beside", [snag])
    judge_severity(beside, beside.findings.findings_of[snag][0], 2, "two of them gave up")
    beside.note("A", NoiseLearnt(("settings:x",), "moves"))
    beside.amend(replace(beside.study, title="another"))
    with pytest.raises(Refused, match="moderated in another"):
        LiveSitting(beside, beside.to_run()[0])
    beside.close()
    assert demo.behind()
    demo.read_on()
    assert demo.study.title == "another"
    assert not demo.behind()
    assert demo.findings.by_id[demo.findings.findings_of[snag][0]].severity == 2
    assert demo.sorting.entries[-1].author == "Ada"
    assert "settings:x" in demo.known_chairs.of("A").noise
    assert [problem for check in check_file(demo.beside) for problem in check.problems] == []


def test_ones_own_last_change_is_taken_back_whole_and_another_ones_is_not(demo: OpenStudy) -> None:
    before = dict(demo.findings.findings_of)
    snags = [snag.target for snag in sorted_findings_of(demo).loose[:2]]
    sorting.open_finding(demo, "too soon", snags)
    assert sorting.take_back(demo).words == "finding opened"
    assert demo.findings.findings_of == before
    assert [entry.content.kind for entry in demo.sorting.entries[-3:]] == ["struck"] * 3
    beside = open_study(demo.beside, author="Ina")
    with pytest.raises(Refused, match="nothing of yours"):
        sorting.take_back(beside)
    beside.close()


def test_a_change_of_a_plan_that_was_changed_elsewhere_is_refused_with_what_differs(demo: OpenStudy) -> None:
    beside = open_study(demo.beside, author="Ada")
    set_field(beside, "chair.B.kernel", "7.0")
    with pytest.raises(Refused, match=r"chair\.B\.kernel") as told:
        set_field(demo, "chair.B.kernel", "6.99")
    assert "Nothing of yours was changed" in told.value.hint
    assert demo.study.chair_by_letter["B"].kernel == "7.0"
    set_field(demo, "chair.B.kernel", "6.99")
    beside.read_on()
    assert beside.study.chair_by_letter["B"].kernel == "6.99"
    assert [change.author for change in beside.plans.changes()[-2:]] == ["Ada", "moderator"]
    beside.close()


def test_a_sitting_that_began_elsewhere_meanwhile_keeps_its_plan(demo: OpenStudy) -> None:
    beside = open_study(demo.beside, author="Ada")
    seat = beside.to_run()[0]
    live = LiveSitting(demo, demo.study.seat(seat.number))
    live.begin(demo.clock.now())
    with pytest.raises(Refused, match=f"sitting {seat.number} began"):
        beside.amend(replace(beside.study, seats=tuple(each for each in beside.study.seats if each != seat)))
    assert seat in beside.study.seats
    assert beside.begun == demo.begun
    beside.close()


def test_whoever_comes_second_may_seat_people_once_the_first_program_is_gone(demo: OpenStudy) -> None:
    beside = open_study(demo.beside, author="Ada")
    seat = beside.to_run()[0]
    demo.close()
    LiveSitting(beside, seat).begin(beside.clock.now())
    assert beside.writable
    assert seat.number in beside.begun
    beside.close()


def test_notes_are_taken_into_a_study_that_is_open_elsewhere(demo: OpenStudy, tmp_path: Path) -> None:
    number = next(iter(demo.begun))
    notes = tmp_path / "notes.vtt"
    notes.write_text("WEBVTT\n\n00:00:02.000 --> 00:00:03.000\nsnag the menu hid\n", encoding="utf-8")
    beside = open_study(demo.beside, author="Ada")
    assert take_notes(beside, number, notes, offset_seconds=0).taken == 1
    beside.close()
    before = len(demo.entries[number])
    demo.read_on()
    assert len(demo.entries[number]) == before + 1
    assert [r.words for r in demo.sittings[number].remarks.values()].count("the menu hid") == 1


def test_a_snapshot_stays_as_it_was_while_the_study_goes_on(demo: OpenStudy) -> None:
    live = LiveSitting(demo, demo.to_run()[0])
    live.begin(demo.clock.now())
    live.log(j.AttemptStarted(live.seat.cards[0]), demo.clock.now())
    snapshot = demo.snapshot()
    live.log(j.SnagSeen("later"), demo.clock.now())
    demo.amend(replace(demo.study, title="another"))
    number = live.seat.number
    assert snapshot.study.title != "another"
    assert len(snapshot.entries[number]) == len(demo.entries[number]) - 1
    assert snapshot.sittings[number].attempts[0].snags == 0
    assert demo.sittings[number].attempts[0].snags == 1


def test_the_mappings_of_an_open_study_cannot_be_changed_from_outside(demo: OpenStudy) -> None:
    number = next(iter(demo.begun))
    for mapping in (demo.entries, demo.sittings):
        with pytest.raises(TypeError):
            mapping[number] = None  # type: ignore[index]


def test_a_sitting_in_hand_is_read_on_by_its_own_writer_alone(demo: OpenStudy) -> None:
    live = LiveSitting(demo, demo.to_run()[0])
    live.begin(demo.clock.now())
    observing = open_study(demo.beside, observe=True, author="Mo")
    other = LiveSitting(observing, observing.study.seat(live.seat.number))
    other.join(demo.clock.now())
    before = len(live.entries)
    demo.read_on()
    assert len(live.entries) == before
    assert live.read_on()
    assert [line.text for line in live.lines(1)] == ["Mo watches too"]
    observing.close()
