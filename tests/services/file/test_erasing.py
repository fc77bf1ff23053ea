"""Erased is true of every byte that we write, and what is not done yet is said."""

import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

from fresh_chair.core.chair import ledger as b
from fresh_chair.core.chair.state import State
from fresh_chair.core.errors import NotSaved
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.file import erasing
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.spool import Spool
from fresh_chair.store.sqlite import erasing as stored
from tests.builders import FakeClock, file_of
from tests.damage import damaged

PLANTED = "planted-words-of-a-person"


def full_sitting(opened: OpenStudy, clock: FakeClock) -> LiveSitting:
    """A sitting in which planted words stand wherever words or names can."""
    seat = next(seat for seat in opened.study.seats if seat.participant == "P01")
    live = LiveSitting(opened, seat)
    live.begin(clock.now())
    live.log(j.RecordingOpened(f"/home/{PLANTED}/film.webm"), clock.now())
    live.log(j.AttemptStarted(seat.cards[0]), clock.now())
    live.log(j.SnagSeen(PLANTED), clock.now())
    live.log(j.SpotVisited(PLANTED), clock.now())
    live.log(j.QuoteTaken(PLANTED), clock.now())
    clock.pass_seconds(9)
    live.log(j.AttemptStopped(), clock.now())
    live.log(j.OutcomeJudged(Outcome.VOID, PLANTED), clock.now())
    evidence = f"home: {PLANTED}.txt"
    live.log(j.ChairWitnessed(1, seat.cards[0], "after", "confirmed", evidence), clock.now())
    live.log(j.SittingBrokenOff(PLANTED), clock.now())
    clock.pass_seconds(60)
    left = b.FreshnessRead("here", "not fresh", (PLANTED,), (b.Differing(f"home:{PLANTED}", None, "x"),), 1, 0, 9)
    answers = b.ChecksAsked("here", "after", (b.Answered("user", PLANTED),))
    opened.note(seat.chair, left, answers, b.NoiseLearnt((f"home:{PLANTED}", "settings:x"), "moves"))
    number = opened.known_chairs.next_state()
    taken = b.BaselineTaken("here", number, 2)
    state = State({"home": {PLANTED: "f"}, "settings": {"x": "1"}})
    clock.pass_seconds(60)
    opened.note(seat.chair, taken, states={number: state})
    return live


def everything(*folders: Path) -> bytes:
    return b"".join(path.read_bytes() for folder in folders for path in folder.rglob("*") if path.is_file())


@pytest.mark.parametrize("keep", [True, False])
def test_nothing_planted_is_left_in_any_byte_that_we_wrote(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path, keep: bool
) -> None:
    live = full_sitting(opened, clock)
    # A rescued copy, and marks of a program that died, lie beside it.
    copy = tmp_path / "state" / "fresh-chair" / "rescued" / "small-copy.fresh"
    copy.parent.mkdir(parents=True)
    file_of(opened).copy_to(copy)
    spare = Spool(opened.study.id, opened.store.home.address)
    mark = j.Entry("lost", 99, clock.now(), "moderator", j.SnagSeen(PLANTED))
    spare.keep(live.seat.number, "unknown", [mark])
    spare.close()
    assert PLANTED.encode() in everything(tmp_path)
    erasing.erase_person(opened, "P01", keep_figures=keep)
    opened.close()
    assert PLANTED.encode() not in everything(tmp_path)
    assert not [problem for check in check_file(opened.beside) for problem in check.problems]
    again = open_study(opened.beside)
    ledger = again.known_chairs.of(live.seat.chair)
    assert ledger.baseline is not None
    assert again.known_chairs.state(ledger.baseline[1].state).sections == {"home": {}, "settings": {"x": "1"}}
    assert list(ledger.noise) == ["settings:x"]
    again.close()


def test_places_on_the_chair_s_own_list_stay(opened: OpenStudy, clock: FakeClock) -> None:
    from fresh_chair.services.plan.editing import set_field

    seat = next(seat for seat in opened.study.seats if seat.participant == "P01")
    set_field(opened, f"chair.{seat.chair}.labels", "The settings; The shelf")
    live = LiveSitting(opened, seat)
    live.begin(clock.now())
    live.log(j.AttemptStarted(seat.cards[0]), clock.now())
    live.log(j.SpotVisited("The shelf"), clock.now())
    live.log(j.SpotVisited("their own folder"), clock.now())
    live.break_off("why", clock.now())
    erasing.erase_person(opened, "P01", keep_figures=True)
    places = [e.content.place for e in opened.entries[seat.number] if isinstance(e.content, j.SpotVisited)]
    assert places == ["The shelf", "erased"]


def test_while_another_program_reads_the_file_what_is_not_done_is_said_and_done_at_the_next_opening(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    full_sitting(opened, clock)
    monkeypatch.setattr(stored, "_WAIT_SECONDS", 0.2)
    path = opened.beside
    program = "import sqlite3, sys; c = sqlite3.connect(sys.argv[1]); c.execute('BEGIN'); "
    program += "c.execute('SELECT count(*) FROM entry').fetchone(); print('reads', flush=True); sys.stdin.read()"
    reader = subprocess.Popen(
        [sys.executable, "-c", program, str(path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert reader.stdout is not None
    assert reader.stdout.readline() == "reads\n"
    with pytest.raises(NotSaved, match="another program reads it"):
        erasing.erase_person(opened, "P01", keep_figures=False)
    assert opened.study.person_by_code["P01"].erased
    assert any("bytes of somebody" in problem for check in check_file(path) for problem in check.problems)
    reader.communicate("")
    opened.close()
    again = open_study(path)
    assert erasing.finish_erasing(again)
    assert not erasing.finish_erasing(again)
    again.close()
    assert PLANTED.encode() not in everything(tmp_path)
    assert not [problem for check in check_file(path) for problem in check.problems]


def test_what_an_earlier_version_left_of_the_erased_is_found_and_taken_out_at_the_next_opening(
    opened: OpenStudy, clock: FakeClock, tmp_path: Path
) -> None:
    live = full_sitting(opened, clock)
    erasing.erase_person(opened, "P01", keep_figures=True)
    path = opened.beside
    opened.close()
    body = j.CODEC.body_of(j.RecordingOpened(f"/home/{PLANTED}/film.webm"))
    damaged(path, "UPDATE entry SET body = ? WHERE kind = 'recording_opened'", values=(body,))
    with sqlite3.connect(path) as rows:
        rows.execute("PRAGMA user_version = 0")
    rows.close()
    problems = " ".join(problem for check in check_file(path) for problem in check.problems)
    assert f"Sitting {live.seat.number}, entry 3: words of somebody who was erased" in problems
    again = open_study(path)
    assert erasing.finish_erasing(again)
    again.close()
    assert PLANTED.encode() not in everything(tmp_path)
    assert not [problem for check in check_file(path) for problem in check.problems]


def test_marks_of_others_in_a_second_place_stay_where_they_lie(opened: OpenStudy, clock: FakeClock) -> None:
    full_sitting(opened, clock)
    other = next(seat for seat in opened.study.seats if seat.participant == "P02")
    mine = next(seat for seat in opened.study.seats if seat.participant == "P01")
    spare = Spool(opened.study.id, opened.store.home.address)
    spare.keep(other.number, "unknown", [j.Entry("theirs", 9, clock.now(), "moderator", j.SnagSeen("kept"))])
    spare.keep(mine.number, "unknown", [j.Entry("gone", 9, clock.now(), "moderator", j.SnagSeen(PLANTED))])
    file = spare.file
    spare.close()
    erasing.erase_person(opened, "P01", keep_figures=True)
    assert file is not None
    assert b"kept" in file.read_bytes()
    assert PLANTED.encode() not in file.read_bytes()
