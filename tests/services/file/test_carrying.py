"""What was found at a chair comes along with it, each with the study it comes from; what only pilots met says so."""

from pathlib import Path

import pytest

from fresh_chair.core.chair.records import KINDS
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.chair.records import put_fields, records_of
from fresh_chair.services.file import carrying
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.findings import sorting
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.plan import people
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.text.timed_notes import take_notes
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.tell.tables import snags_csv
from tests.builders import FakeClock


def sat_with_snag(opened: OpenStudy, code: str, words: str = "!3 two menus") -> str:
    seat = next(seat for seat in opened.study.seats if seat.participant == code)
    live = LiveSitting(opened, seat)
    now = opened.clock.now
    live.begin(now())
    live.log(j.AttemptStarted(seat.cards[0]), now())
    snag = live.log(j.SnagSeen(), now())
    live.word(snag.id, words, now())
    live.log(j.DelightSeen("it was quick"), now())
    live.log(j.AttemptStopped(), now())
    live.log(j.OutcomeJudged(Outcome.UNAIDED), now())
    live.break_off("enough", now())
    return snag.id


def test_a_severity_typed_at_once_reaches_sort_and_the_open_data(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    snag = sat_with_snag(opened, "P01")
    number = opened.study.seats[0].number
    live = LiveSitting(opened, opened.study.seat(number))
    clock.pass_seconds(30)
    correcting.add_late(live, "snag", "0:00", "!2 a late one", "seen on the tape")
    notes = tmp_path / "n.srt"
    notes.write_text("1\n00:00:00,000 --> 00:00:01,000\nsnag !4 from the notes\n")
    take_notes(opened, number, notes)
    sorted_snags = sorted_findings_of(opened)
    rated = {snag.words: snag.severity for snag in sorted_snags.loose}
    assert rated == {"two menus": 3, "a late one": 2, "from the notes": 4}
    sorting.open_finding(opened, "menus", [snag.target for snag in sorted_snags.loose])
    (finding,) = sorted_findings_of(opened).findings
    assert finding.typed == (4, 3, 2)
    rows = snags_csv(opened.study, sorted_findings_of(opened)).splitlines()
    assert rows[0].split(",")[8] == "severity_typed"
    assert sorted(row.split(",")[8] for row in rows[1:]) == ["2", "3", "4"]
    assert snag in {each.entry for each in finding.observations}


def test_pilots_and_experts_are_in_no_share_of_a_finding_and_named_beside_it(opened: OpenStudy) -> None:
    people.add_person(opened, "T1", role="pilot")
    people.add_person(opened, "E1", role="expert")
    snags = [sat_with_snag(opened, code) for code in ("T1", "E1")]
    sorting.open_finding(opened, "menus", [f"mark:{snag}" for snag in snags])
    here = {s.chair: s for s in sorted_findings_of(opened).findings[0].spread if s.others}
    assert {code for spread in here.values() for code in spread.others} == {"E1", "T1"}
    for spread in here.values():
        assert (spread.people, spread.share.x, spread.share.n) == ((), 0, 0)
        assert spread.words == f"met only by {', '.join(spread.others)}, never counted"
    sorting.join(opened, sorted_findings_of(opened).findings[0].id, [f"mark:{sat_with_snag(opened, 'P01')}"])
    counted = [s for s in sorted_findings_of(opened).findings[0].spread if s.people]
    assert [(s.share.x, s.share.n) for s in counted] == [(1, 1)]


def test_a_chair_brings_records_readings_claims_delights_and_findings_along(opened: OpenStudy, tmp_path: Path) -> None:
    from fresh_chair.services.study.open_study import create_study
    from tests.builders import small_study

    people.add_person(opened, "T1", role="pilot")
    snag = sat_with_snag(opened, "T1")
    letter = opened.study.seat(next(s.number for s in opened.study.seats if s.participant == "T1")).chair
    sorting.open_finding(opened, "only the pilot met it", [f"mark:{snag}"])
    fields = {
        "claim": {"promised": "dark at once", "answer": "not so"},
        "reading": {"what": "idle memory", "value": "800 MB"},
        "install": {"step": "question", "words": "which disk?"},
        "page": {"page": "privacy"},
        "consent": {"item": "location", "switch": "on"},
        "warning": {"words": "be careful"},
        "look": {"program": "the painting program"},
    }
    for kind, values in fields.items():
        put_fields(opened, letter, kind, values)
    when = records_of(opened, letter, "reading")[0].when
    source = opened.beside
    opened.close()
    other = tmp_path / "other.fresh"
    create_study(other, small_study(people=1, chairs=1))
    there = open_study(other)
    chair, carried = carrying.carry_over(there, source, letter)
    assert (carried.findings, carried.records) == (2, len(KINDS))
    for kind in KINDS:
        (held,) = records_of(there, chair.letter, kind)
        assert held.source == "A small study"
        assert held.when == when or kind != "reading"
    sorts = {finding.sort: finding for finding in there.study.carried}
    assert sorts["delight"].title == "it was quick"
    assert sorts["finding"].words == "met by a pilot or the expert only, in A small study"
    assert sorted_findings_of(there).carried == there.study.carried
    there.close()
    # On to a third study: what was carried goes on, with where it first came from.
    again = tmp_path / "again.fresh"
    create_study(again, small_study(people=1, chairs=1))
    third = open_study(again)
    chair, carried = carrying.carry_over(third, other, chair.letter)
    assert (carried.findings, carried.records) == (2, len(KINDS))
    assert {held.source for kind in KINDS for held in records_of(third, chair.letter, kind)} == {"A small study"}
    third.close()
    for path in (other, again):
        assert not [problem for check in check_file(path) for problem in check.problems]


@pytest.mark.parametrize("kind", ["reading", "install", "page", "consent", "warning", "look"])
def test_the_sheet_that_is_printed_has_every_record(opened: OpenStudy, kind: str) -> None:
    from tests.cli.forked import run as fresh_chair

    values = {
        "reading": {"what": "a thing to find", "value": "1 s"},
        "install": {"step": "note", "words": "a thing to find"},
        "page": {"page": "a thing to find"},
        "consent": {"item": "a thing to find"},
        "warning": {"words": "a thing to find"},
        "look": {"program": "a thing to find"},
    }
    put_fields(opened, "A", kind, values[kind])
    path = opened.beside
    opened.close()
    assert "a thing to find" in fresh_chair("probe", "show", path, "A").stdout
    assert "a thing to find" in fresh_chair("probe", "show", path, "A", "--json").stdout
