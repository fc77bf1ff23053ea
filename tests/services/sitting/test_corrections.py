"""Corrections and notes: live or days after, with a reason, and nothing is overwritten."""

from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.corrections import EntryLine
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.text.notes import sitting_cues, sitting_lines, take_lines
from fresh_chair.services.sitting.text.timed_notes import cues_in, take_notes
from fresh_chair.services.study.open_study import OpenStudy

NUMBER = 9


@pytest.fixture
def live(demo: OpenStudy) -> LiveSitting:
    """A sitting of the demo that was run days ago."""
    return LiveSitting(demo, demo.study.seat(NUMBER))


def line(opened: OpenStudy, kind: str) -> EntryLine:
    return next(line for line in correcting.entry_lines(opened, NUMBER) if line.entry.content.kind == kind)


def test_an_entry_is_struck_days_after_and_stays_with_who_when_and_why(demo: OpenStudy, live: LiveSitting) -> None:
    before, snag = len(demo.entries[NUMBER]), line(demo, "snag")
    with pytest.raises(InputError, match="needs a reason"):
        correcting.strike(live, snag.entry, "  ")
    correcting.strike(live, snag.entry, "that was me")
    assert len(demo.entries[NUMBER]) == before + 1
    assert snag.entry.id not in demo.sittings[NUMBER].remarks
    again = line(demo, "snag")
    assert again.struck
    assert again.corrected[-1].endswith("moderator): that was me")
    demo.reload()
    assert snag.entry.id not in demo.sittings[NUMBER].remarks
    assert check_file(demo.beside)[2].problems == ()


def test_what_would_leave_a_journal_without_sense_is_refused_and_nothing_changed(
    demo: OpenStudy, live: LiveSitting
) -> None:
    before = list(demo.entries[NUMBER])
    with pytest.raises(Refused, match="would make no sense"):
        correcting.strike(live, line(demo, "attempt_started").entry, "never happened")
    assert demo.entries[NUMBER] == before


def test_a_mark_is_moved_both_ways_and_a_clock_is_not(demo: OpenStudy, live: LiveSitting) -> None:
    snag = line(demo, "snag").entry
    at = demo.sittings[NUMBER].remarks[snag.id].at_ns
    correcting.move(live, snag, "-10 pressed late")
    correcting.move(live, snag, "+4 not that late")
    assert demo.sittings[NUMBER].remarks[snag.id].at_ns == at - 6 * SECOND
    said = line(demo, "snag").corrected
    assert any("moved 10 s earlier" in each and each.endswith("pressed late") for each in said)
    assert any("moved 4 s later" in each for each in said)
    with pytest.raises(Refused, match="Only a mark can be moved"):
        correcting.move(live, line(demo, "wait_began").entry, "-3 x")
    for text in ("ten", "-0 x", "-10"):
        with pytest.raises(InputError):
            correcting.move(live, snag, text)


def test_words_are_changed_and_the_first_ones_stay(demo: OpenStudy, live: LiveSitting) -> None:
    snag = line(demo, "snag").entry
    first = demo.sittings[NUMBER].remarks[snag.id].words
    correcting.reword(live, snag, "another menu")
    assert demo.sittings[NUMBER].remarks[snag.id].words == "another menu"
    assert any(first in each for each in line(demo, "snag").corrected)
    with pytest.raises(Refused, match="no words to change"):
        correcting.reword(live, line(demo, "wait_began").entry, "x")


def test_a_mark_added_late_counts_in_the_attempt_that_ran_then(demo: OpenStudy, live: LiveSitting) -> None:
    attempt = demo.sittings[NUMBER].attempts[1]
    inside = (attempt.started_ns + attempt.lane_ns(next(iter(attempt.spans)).lane) // 2) / SECOND
    snags, wrong = attempt.snags, attempt.wrong_places
    correcting.add_late(live, "snag", f"{inside:.3f}", "missed it", "I was writing")
    correcting.add_late(live, "wrong_place", f"{inside:.3f}", "", "I was writing")
    attempt = demo.sittings[NUMBER].attempts[1]
    assert (attempt.snags, attempt.wrong_places) == (snags + 1, wrong + 1)
    assert check_file(demo.beside)[2].problems == ()
    for mark, at, words, reason in (
        ("snag", "0:01", "x", " "),
        ("snag", "0:01", " ", "x"),
        ("snag", "90:00:00", "x", "x"),
        ("helped", "0:00", "", "x"),
        ("dream", "0:01", "x", "x"),
        ("snag", "soon", "x", "x"),
    ):
        with pytest.raises((InputError, Refused)):
            correcting.add_late(live, mark, at, words, reason)


def test_an_attempt_is_judged_otherwise_and_counts_as_that(demo: OpenStudy, live: LiveSitting) -> None:
    counted = len([fact for fact in demo.facts() if fact.sitting == NUMBER and fact.outcome.counts])
    correcting.judge_again(live, 1, Outcome.VOID, "the fixture was unplugged")
    assert demo.sittings[NUMBER].attempts[0].outcome is Outcome.VOID
    assert len([fact for fact in demo.facts() if fact.sitting == NUMBER and fact.outcome.counts]) == counted - 1
    with pytest.raises(Refused, match="no such attempt"):
        correcting.judge_again(live, 99, Outcome.VOID, "x")


def test_a_correction_days_after_does_not_make_a_chair_look_sat_at(demo: OpenStudy, live: LiveSitting) -> None:
    from fresh_chair.services.chair.freshness import stale

    chair = demo.study.seat(NUMBER).chair
    ends = [e.moment for e in demo.entries[NUMBER] if e.content.kind == "sitting_ended"]
    read = replace(ends[0], wall_ns=max(e[-1].moment.wall_ns for e in demo.entries.values()) + SECOND)
    correcting.strike(live, line(demo, "snag").entry, "that was me")
    assert stale(demo, chair, read, read) == ""


def test_a_sitting_goes_out_as_text_and_comes_back_the_same(demo: OpenStudy, tmp_path: Path) -> None:
    for number in [number for number in demo.entries if demo.study.seat(number).chair == "A"][:4]:
        file = tmp_path / f"{number}.txt"
        file.write_text(sitting_lines(demo, number))
        target = next(s for s in demo.study.seats if s.number not in demo.entries)
        seat = replace(target, cards=demo.study.seat(number).cards)
        demo.study = replace(demo.study, seats=tuple(seat if s.number == seat.number else s for s in demo.study.seats))
        take_lines(demo, seat.number, file, began="2026-11-20T10:00")
        one, other = demo.sittings[number], demo.sittings[seat.number]
        for a, b in zip(one.attempts, other.attempts, strict=True):
            assert (a.spans, a.outcome, a.ease, a.helped, a.snags, a.said_done) == (
                b.spans, b.outcome, b.ease, b.helped, b.snags, b.said_done,
            )  # fmt: skip
        assert sitting_lines(demo, seat.number).splitlines()[2:] == file.read_text().splitlines()[2:]
        with pytest.raises(Refused, match="was logged already"):
            take_lines(demo, seat.number, file)


def test_a_text_that_tells_what_cannot_have_been_is_refused_whole(demo: OpenStudy, tmp_path: Path) -> None:
    number = demo.to_run()[0].number
    file = tmp_path / "notes.txt"
    for text, said in (
        ("0:01 stop\n", "cannot follow"),
        ("0:01 start no-such-card\n", "The card in hand is"),
        ("0:01 words #7 x\n", "none before it"),
        ("", "says nothing"),
    ):
        file.write_text(text)
        with pytest.raises(InputError, match=said):
            take_lines(demo, number, file)
    assert number not in demo.entries


def test_marks_go_out_as_cues_that_nothing_can_break(demo: OpenStudy, live: LiveSitting) -> None:
    correcting.reword(live, line(demo, "snag").entry, "a --> b <i>& c")
    cues = sitting_cues(demo, NUMBER, offset_seconds=60)
    assert cues.startswith("WEBVTT\n\n")
    assert "a → b &lt;i>&amp; c" in cues
    read = cues_in(cues)
    first = demo.sittings[NUMBER].attempts[0]
    assert read[0][0] == pytest.approx(first.started_ns / SECOND + 60, abs=0.001)
    assert len(read) > len(demo.sittings[NUMBER].attempts)


def test_notes_come_in_from_subtitles_as_marks_added_late(demo: OpenStudy, tmp_path: Path) -> None:
    file = tmp_path / "notes.srt"
    file.write_text(
        "1\n00:01:02,500 --> 00:01:04,000\nsnag wrong menu\n\n2\n00:02:00,000 --> 00:02:01,000\n<b>looks</b> tired\n"
    )
    assert take_notes(demo, NUMBER, file, offset_seconds=30).taken == 2
    late = [e.content for e in demo.entries[NUMBER] if isinstance(e.content, j.AddedLate)]
    assert [(c.mark, c.at_seconds, c.words) for c in late] == [
        ("snag", 32.5, "wrong menu"),
        ("note", 90.0, "looks tired"),
    ]
    file.write_text("WEBVTT\n\n00:05.000 --> 00:06.000\ntoo early\n")
    with pytest.raises(InputError, match="before the sitting began"):
        take_notes(demo, NUMBER, file, offset_seconds=30)
    file.write_text("no cues here")
    with pytest.raises(InputError, match="holds no note"):
        take_notes(demo, NUMBER, file)
