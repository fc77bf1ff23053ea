"""Set, as a reviewer uses it: enquiries to a chair, what is put on record, and what a sitting says of its chair."""

import os
import time
from dataclasses import replace
from pathlib import Path

import pytest

from fresh_chair.core.chair.answers import Answer
from fresh_chair.core.chair.ledger import NoiseTakenBack
from fresh_chair.core.chair.records import Claim, ConsentItem, Reading
from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import FileProblem, InputError, NotSaved, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.demo.machines import MadeUpMachine
from fresh_chair.services.chair import approvals, records
from fresh_chair.services.chair import enquiries as enquiries
from fresh_chair.services.chair.asking import brought_by_courier, choose_reach, courier_for, run_enquiry
from fresh_chair.services.chair.kept_answers import keep
from fresh_chair.services.chair.reader import ChairReader
from fresh_chair.services.chair.sheet import chair_sheet
from fresh_chair.services.plan.chairs import remove_chair
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from tests.builders import FakeClock, file_of


def answers_of(machine: MadeUpMachine, opened: OpenStudy, letter: str, enquiry: str) -> dict[str, Answer]:
    found = {}
    for question in enquiries.questions_of(opened, letter, enquiry):
        text, code = machine.answer(question.name)
        found[question.name] = Answer(question.name, text, "is not there" if code == 127 else "" if code == 0 else "no")
    return found


def sent(opened: OpenStudy, machine: MadeUpMachine, enquiry: str, letter: str = "B") -> enquiries.Brought:
    return keep(opened, letter, enquiry, "test", answers_of(machine, opened, letter, enquiry))


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """This machine as a chair, with a home folder of its own."""
    folder = tmp_path / "home"
    folder.mkdir()
    monkeypatch.setenv("HOME", str(folder))
    for name in ("XDG_CONFIG_HOME", "XDG_CACHE_HOME", "DBUS_SESSION_BUS_ADDRESS"):
        monkeypatch.delenv(name, raising=False)
    return folder


def test_this_machine_is_proved_fresh_and_not_fresh_end_to_end(opened: OpenStudy, home: Path) -> None:
    choose_reach(opened, "A", "here")
    with pytest.raises(Refused, match="has no baseline yet"):
        run_enquiry(opened, "A", "fresh")
    assert run_enquiry(opened, "A", "baseline").data["keys"] > 50
    assert run_enquiry(opened, "A", "fresh").data["freshness"] == "fresh"
    (home / "left.txt").write_text("x")
    brought = run_enquiry(opened, "A", "fresh")
    assert brought.data["freshness"] == "not fresh"
    assert brought.said[:2] == ["Chair A is not fresh.", "one file or folder was left behind: left.txt."]
    assert chair_sheet(opened, "A", opened.clock.now()).freshness == "not fresh"
    # What was read is in the file, for whoever opens it next.
    reread = open_study(opened.beside, write=False)
    proof = reread.known_chairs.of("A").proof
    reread.close()
    assert proof is not None
    assert [each.name for each in proof[1].differing] == ["home:left.txt"]


def test_a_courier_brings_what_the_chair_itself_would_have_said(opened: OpenStudy, home: Path, tmp_path: Path) -> None:
    import subprocess

    written = courier_for(opened, "A", ["identity", "baseline"], tmp_path / "stick")
    subprocess.run(["sh", str(written.path)], check=True, capture_output=True, timeout=120)
    file = next((tmp_path / "stick").glob("*.answers"))
    letter, brought = brought_by_courier(opened, file)
    assert letter == "A"
    assert [each.enquiry for each in brought] == ["identity", "baseline"]
    assert opened.known_chairs.of("A").baseline is not None
    (home / "left.txt").write_text("x")
    written = courier_for(opened, "A", ["fresh"], tmp_path / "again")
    subprocess.run(["sh", str(written.path)], check=True, capture_output=True, timeout=120)
    _, brought = brought_by_courier(opened, next((tmp_path / "again").glob("*.answers")))
    assert brought[0].data["freshness"] == "not fresh"


def test_another_study_s_courier_is_not_taken(opened: OpenStudy, demo: OpenStudy, home: Path, tmp_path: Path) -> None:
    import subprocess

    written = courier_for(demo, "A", ["identity"], tmp_path)
    subprocess.run(["sh", str(written.path)], check=True, capture_output=True, timeout=120)
    with pytest.raises(InputError, match="sent out by another study"):
        brought_by_courier(opened, next(tmp_path.glob("*.answers")))
    assert opened.known_chairs.known == set()


def test_the_demo_s_chair_is_read_and_its_drift_leads_to_the_cards_that_cause_it(demo: OpenStudy) -> None:
    machine = MadeUpMachine("B")
    assert sent(demo, machine, "fresh").data["freshness"] == "fresh"
    machine.sit_down()
    brought = sent(demo, machine, "fresh")
    assert [group["words"] for group in brought.data["groups"]] == [
        "the theme was changed",
        "one network is remembered: Harbour-Guest",
        "one file or folder was left behind: Pictures/for-niece.png",
    ]
    by_card = {each["card"]: each for each in brought.data["put_back"]}
    # Their checks are about just what differs; the third thing belongs to no card.
    assert by_card["dark-screen"]["sure"]
    assert by_card["get-online"]["sure"]
    assert by_card["dark-screen"]["steps"] == ["Bring the bright look back.", "Close all windows."]
    assert brought.data["hidden"] == ["settings:gsettings org.lanternwood.clock last-seen"]
    demo.note("B", NoiseTakenBack(("settings:gsettings org.lanternwood.clock last-seen",), "look at it"))
    assert "the clock was changed" in [g["words"] for g in sent(demo, machine, "fresh").data["groups"]]


def test_noise_is_learnt_by_name_and_too_much_of_it_is_refused(demo: OpenStudy) -> None:
    machine = MadeUpMachine("C")
    assert sent(demo, machine, "noise", "C").data["names"] == []
    machine.sit_down()
    assert len(sent(demo, machine, "noise", "C").data["names"]) > 1
    busy = {f"f{n}": "1" for n in range(500)}
    machine._state["home"] = busy
    with pytest.raises(Refused, match="more than a chair at rest moves"):
        sent(demo, machine, "noise", "C")


def test_a_check_is_confirmed_contradicted_or_was_so_before(demo: OpenStudy) -> None:
    machine = MadeUpMachine("B")
    before = sent(demo, machine, "before")
    assert before.data["cards"]["dark-screen"]["chair_says"] == "contradicted"
    assert "Dark screen: not so yet" in before.said
    assert "Has it all its fixes?: is so already, before anyone tried" in before.said
    machine.sit_down()
    after = sent(demo, machine, "after")
    assert after.data["cards"]["dark-screen"]["chair_says"] == "confirmed"
    assert after.data["cards"]["get-online"]["chair_says"] == "confirmed"
    assert after.data["cards"]["all-fixes"]["chair_says"] == "was so before"
    assert after.data["cards"]["painting-program"]["chair_says"] == "contradicted"


def test_where_nobody_asked_before_the_baseline_says_how_it_was(demo: OpenStudy) -> None:
    machine = MadeUpMachine("B")
    assert sent(demo, machine, "after").data["cards"]["dark-screen"]["chair_says"] == "contradicted"
    machine.sit_down()
    assert sent(demo, machine, "after").data["cards"]["dark-screen"]["chair_says"] == "confirmed"


def test_what_was_so_before_one_attempt_says_nothing_about_the_next(demo: OpenStudy) -> None:
    machine = MadeUpMachine("B")
    machine.sit_down()
    sent(demo, machine, "before")
    assert sent(demo, machine, "after").data["cards"]["dark-screen"]["chair_says"] == "was so before"
    machine.put_back()
    assert sent(demo, machine, "fresh").data["freshness"] == "fresh"
    machine.sit_down()
    assert sent(demo, machine, "after").data["cards"]["dark-screen"]["chair_says"] == "confirmed"


def test_a_command_is_shown_first_and_not_run_before_it_is_approved_for_this_study(
    opened: OpenStudy, home: Path
) -> None:
    card = opened.study.cards[0].id
    set_field(opened, f"card.{card}.checks", f"command 'touch {home}/ran\\; echo yes' is yes")
    choose_reach(opened, "A", "here")
    assert [command for _, command in approvals.commands_in(opened)] == [f"touch {home}/ran; echo yes"]
    with pytest.raises(Refused, match="Nothing there has a check"):
        run_enquiry(opened, "A", "after")
    assert not (home / "ran").exists()
    approvals.approve(opened.study, [f"touch {home}/ran; echo yes"])
    assert run_enquiry(opened, "A", "after").data["cards"][card]["chair_says"] == "confirmed"
    assert (home / "ran").exists()
    # Not for another study, and not for another command.
    other = replace(opened.study, id="another")
    assert not approvals.is_approved(f"touch {home}/ran; echo yes", approvals.approved(other))
    set_field(opened, f"card.{card}.checks", "command 'echo no' is no")
    with pytest.raises(Refused):
        run_enquiry(opened, "A", "after")


def test_a_claim_with_a_check_is_answered_by_the_chair(demo: OpenStudy) -> None:
    sent(demo, MadeUpMachine("B"), "claims")
    found = {
        h.record.promised: h.record for h in demo.known_chairs.of("B").held("claim") if isinstance(h.record, Claim)
    }
    assert found["Quill 8.1"].answer == "as promised"
    assert found["Quill 8.1"].note.startswith("read: package quill: 8.1")
    assert found["Half the memory of the release before"].answer == "not looked at"


def test_readings_and_defaults_are_put_down_with_where_they_were_read(demo: OpenStudy) -> None:
    machine = MadeUpMachine("C", boot_minutes=31)
    count = len(demo.known_chairs.of("C").held("reading"))
    sent(demo, machine, "readings", "C")
    new = [h.record for h in demo.known_chairs.of("C").held("reading")][count:]
    assert {r.what for r in new if isinstance(r, Reading)} >= {"idle memory", "start-up time", "updates waiting"}
    assert {r.minutes_up for r in new if isinstance(r, Reading)} == {31.0}
    sent(demo, machine, "defaults", "C")
    held = {
        h.record.item: h.record for h in demo.known_chairs.of("C").held("consent") if isinstance(h.record, ConsentItem)
    }
    assert held["firewall"].switch == "on"
    # What a person saw stays beside what was read.
    assert held["data sharing"].asked == "asked"


def test_a_sitting_records_how_its_chair_was_found(demo: OpenStudy) -> None:
    machine = MadeUpMachine("A")
    clock = FakeClock()
    last = max(entries[-1].moment.wall_ns for entries in demo.entries.values())
    clock.wall_ns = last + 3600 * SECOND
    demo.clock = clock
    number = demo.to_run()[0].number
    seat = demo.study.seat(number)
    assert seat.chair == "A"
    machine.sit_down()
    sent(demo, machine, "fresh", "A")
    clock.pass_seconds(60)
    LiveSitting(demo, seat).begin(demo.clock.now())
    found = [entry.content for entry in demo.entries[number] if isinstance(entry.content, j.ChairFound)]
    assert [each.freshness for each in found] == ["not fresh"]
    assert "the theme was changed" in found[0].told
    # Somebody sits there now: what was proved before says nothing any more.
    clock.pass_seconds(60)
    sheet = chair_sheet(demo, "A", demo.clock.now())
    assert (sheet.freshness, sheet.why) == ("not checked", "somebody has sat there since it was compared")


def test_a_proof_does_not_hold_for_ever(demo: OpenStudy) -> None:
    clock = FakeClock()
    clock.wall_ns = max(entries[-1].moment.wall_ns for entries in demo.entries.values()) + SECOND
    demo.clock = clock
    sent(demo, MadeUpMachine("B"), "fresh")
    assert chair_sheet(demo, "B", clock.now()).freshness == "fresh"
    clock.pass_seconds(13 * 3600)
    sheet = chair_sheet(demo, "B", clock.now())
    assert (sheet.freshness, sheet.why) == ("not checked", "it was compared 13 hours before")


def test_records_are_changed_field_by_field_and_struck_with_a_reason(opened: OpenStudy) -> None:
    claim = records.put_record(opened, "A", "claim", promised="ten hours")
    records.change_record(opened, "A", "claim", claim.id, "answer", "not so")
    with pytest.raises(InputError, match="is one of"):
        records.change_record(opened, "A", "claim", claim.id, "answer", "nonsense")
    with pytest.raises(InputError, match="is nothing that can be asked"):
        records.change_record(opened, "A", "claim", claim.id, "check", "colour is blue")
    with pytest.raises(InputError, match="needs a reason"):
        records.strike_record(opened, "A", "claim", claim.id, " ")
    records.strike_record(opened, "A", "claim", claim.id, "said of another edition")
    assert records.records_of(opened, "A", "claim") == []
    # Everything that was said stays in the file.
    assert [entry.content.kind for entry in opened.known_chairs.entries()] == [
        "record_put",
        "record_put",
        "record_struck",
    ]


def test_a_reading_becomes_a_range_or_a_feeling_line_by_line(opened: OpenStudy) -> None:
    reading = records.put_reading(opened, "A", "start", "5 s")
    records.change_record(opened, "A", "reading", reading.id, "precision", "range")
    records.change_record(opened, "A", "reading", reading.id, "high", "7")
    felt = records.change_record(opened, "A", "reading", reading.id, "precision", "felt")
    assert isinstance(felt, Reading)
    assert (felt.low, felt.high) == (None, None)
    with pytest.raises(InputError, match="is no reading"):
        records.put_reading(opened, "A", "start", "quick")


def test_a_chair_that_is_taken_out_takes_its_book_along_and_a_letter_that_was_read_stays(opened: OpenStudy) -> None:
    letter = list(opened.study.chair_by_letter)[-1]
    records.put_record(opened, letter, "claim", promised="x")
    with pytest.raises(Refused, match="its letter stays"):
        set_field(opened, f"chair.{letter}.letter", "Z")
    remove_chair(opened, letter)
    assert letter not in opened.known_chairs.known
    assert opened.known_chairs.of(letter).held("claim") == []


@pytest.mark.parametrize(
    "way", ["telnet x", "ssh", "ssh a b", "ssh x:99999", "ssh -oProxyCommand=x", "ssh x;rm", "ssh x\nrm"]
)
def test_what_is_no_way_to_a_chair_is_said(opened: OpenStudy, way: str) -> None:
    with pytest.raises(InputError, match="no way to a chair"):
        choose_reach(opened, "A", way)


def test_reading_beside_the_screen_can_be_stopped_and_half_a_state_is_not_kept(opened: OpenStudy, home: Path) -> None:
    choose_reach(opened, "A", "here")
    reader = ChairReader(opened, "A", ["baseline"])
    reader.start()
    reader.stop()
    assert reader.wait(60)
    assert isinstance(reader.problem, Refused)
    assert opened.known_chairs.of("A").baseline is None
    whole = ChairReader(opened, "A", ["baseline", "fresh"])
    whole.start()
    assert whole.wait(120)
    assert whole.problem is None
    assert [each.enquiry for each in whole.brought] == ["baseline", "fresh"]


def test_a_full_disk_keeps_nothing_of_an_enquiry_and_says_so(demo: OpenStudy, monkeypatch: pytest.MonkeyPatch) -> None:
    baselines = len(demo.known_chairs.of("B").baselines)
    answers = answers_of(MadeUpMachine("B"), demo, "B", "baseline")
    writer = file_of(demo).writer()
    # The connection that writes is told that the file may not grow.
    writer.execute(f"PRAGMA max_page_count = {writer.execute('PRAGMA page_count').fetchone()[0]}")

    def until_it_is_full() -> None:
        for _ in range(400):
            keep(demo, "B", "baseline", "test", answers)

    with pytest.raises(NotSaved):
        until_it_is_full()
    held = len(demo.known_chairs.of("B").baselines)
    demo.known_chairs.forget()
    assert len(demo.known_chairs.of("B").baselines) == held >= baselines


def test_a_damaged_state_is_one_sentence(demo: OpenStudy) -> None:
    import sqlite3

    from fresh_chair.core.errors import JournalError

    with sqlite3.connect(demo.beside) as rows:
        rows.execute("DROP TRIGGER baseline_state_no_update")
        rows.execute("UPDATE baseline_state SET body = x'789c00'")
    with pytest.raises(JournalError, match=r"State . of a chair"):
        sent(demo, MadeUpMachine("B"), "fresh")


def test_what_is_known_of_chairs_is_only_ever_appended(demo: OpenStudy) -> None:
    import sqlite3

    for table in ("chair_entry", "chair_state"):
        for change in (f"DELETE FROM {table}", f"UPDATE {table} SET number = number + 1000"):
            with (
                sqlite3.connect(demo.beside) as rows,
                pytest.raises(sqlite3.IntegrityError, match="only ever appended"),
            ):
                rows.execute(change)


def test_an_approval_that_cannot_be_kept_is_none(
    opened: OpenStudy, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "file").write_text("")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "file"))
    with pytest.raises(FileProblem, match="cannot be kept"):
        approvals.approve(opened.study, ["echo"])
    assert approvals.approved(opened.study) == set()


def test_a_demo_sitting_that_says_not_fresh_says_what_its_machine_says() -> None:
    from fresh_chair.demo.journals import LEFT_AS_IT_WAS, LEFT_BEHIND, demo_study
    from fresh_chair.services.chair.demo_answers import demo_chair_entries

    study = demo_study()
    seat = study.seat(LEFT_AS_IT_WAS)
    assert os.environ["LANG"] == "C.UTF-8"
    found = j.ChairFound("not fresh", LEFT_BEHIND, int(time.time()) * SECOND)
    moment = demo_chair_entries({}, study)[0][0].moment
    entries, _ = demo_chair_entries({seat.number: [j.Entry("e", 1, moment, "m", found)]}, study)
    read = [e.content for e in entries if e.chair == seat.chair and e.content.kind == "freshness_read"]
    assert [each.told for each in read] == [LEFT_BEHIND]
