"""Law 8 for Set: asking chairs from the command line, with JSON."""

import json
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.cli.forked import run as fresh_chair


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """This machine as a chair, with a home folder of its own."""
    folder = tmp_path / "home"
    folder.mkdir()
    monkeypatch.setenv("HOME", str(folder))
    return folder


@pytest.fixture
def stand_in(tmp_path: Path, unused_port: int) -> Iterator[tuple["subprocess.Popen[str]", str, str]]:
    """The demo's chair B, served by the program itself; with its way and its host key's fingerprint."""
    process = subprocess.Popen(
        [sys.executable, "-m", "fresh_chair", "demo", "--chair", "--port", str(unused_port)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )
    assert process.stdout is not None
    assert process.stdin is not None
    fingerprint = process.stdout.readline().split()[-1].rstrip(".")
    way = process.stdout.readline().split("by: ")[1].strip()
    process.stdout.readline()
    yield process, way, fingerprint
    process.send_signal(signal.SIGTERM)
    process.wait(30)
    process.stdin.close()
    process.stdout.close()


@pytest.fixture
def unused_port() -> int:
    import socket

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        return int(taken.getsockname()[1])


def test_this_machine_says_who_it_is_without_a_study() -> None:
    found = json.loads(fresh_chair("probe", "here", "--json").stdout)
    names = {fact["name"] for fact in found["facts"]}
    assert names >= {"distribution", "kernel", "memory"}
    assert all(fact["source"] for fact in found["facts"])
    assert "kernel" in fresh_chair("probe", "here").stdout


def test_a_chair_is_asked_proved_and_told_in_json(small_path: Path, home: Path) -> None:
    assert fresh_chair("drift", small_path, "A").stderr.startswith("fresh-chair: Chair A has no baseline yet.")
    assert "reached by: here" in fresh_chair("probe", "reach", small_path, "A", "here").stdout
    asked = json.loads(fresh_chair("probe", "ask", small_path, "A", "identity", "baseline", "--json").stdout)
    assert asked["chair"] == "A"
    assert asked["baseline"]["keys"] > 10
    assert json.loads(fresh_chair("drift", small_path, "A", "--json").stdout)["fresh"]["freshness"] == "fresh"
    (home / "left.txt").write_text("x")
    told = json.loads(fresh_chair("drift", small_path, "A", "--json").stdout)["fresh"]
    assert told["freshness"] == "not fresh"
    assert told["groups"][0]["differences"] == [
        {"section": "home", "name": "left.txt", "before": None, "now": "1 bytes"}
    ]
    assert "one file or folder was left behind: left.txt" in fresh_chair("drift", small_path, "A").stdout


def test_what_is_on_record_is_shown_without_asking_and_noise_is_named_with_a_reason(demo_path: Path) -> None:
    shown = json.loads(fresh_chair("probe", "show", demo_path, "B", "--json").stdout)
    assert {fact["name"] for fact in shown["facts"]} >= {"distribution", "kernel"}
    assert shown["freshness"] == "not checked"
    assert (
        "promised          Seedlings 1.3: newer through an update"
        in fresh_chair("probe", "show", demo_path, "B").stdout
    )
    name = "settings:gsettings org.lanternwood.look theme"
    assert fresh_chair("probe", "noise", demo_path, "B", "--leave-out", name).returncode == 1
    assert fresh_chair("probe", "noise", demo_path, "B", "--leave-out", "dream", "--reason", "x").returncode == 1
    left = fresh_chair("probe", "noise", demo_path, "B", "--leave-out", name, "--reason", "follows the sun", "--json")
    assert json.loads(left.stdout)[name] == "follows the sun"
    assert name not in fresh_chair("probe", "noise", demo_path, "B", "--count-again", name).stdout
    assert fresh_chair("probe", "noise", demo_path, "B", "--count-again", name).returncode == 1


def test_a_script_from_elsewhere_shows_every_command_it_would_run(demo_path: Path, tmp_path: Path) -> None:
    file = tmp_path / "script.toml"
    file.write_text(fresh_chair("script", "show", demo_path).stdout)
    checked = fresh_chair("script", "check", file)
    assert "command, not run before it is approved: cat /run/fathom/quiet @ peace-and-quiet.checks" in checked.stdout
    found = json.loads(fresh_chair("script", "check", file, "--json").stdout)
    assert found["commands"] == [{"card": "peace-and-quiet", "command": "cat /run/fathom/quiet"}]


def test_a_courier_goes_and_comes_back(small_path: Path, home: Path, tmp_path: Path) -> None:
    said = fresh_chair("probe", "courier", small_path, "A", "identity", "baseline", "--to", tmp_path / "stick")
    assert "bring back the file" in said.stdout
    subprocess.run(["sh", tmp_path / "stick" / "ask-chair-A.sh"], check=True, capture_output=True, timeout=120)
    file = next((tmp_path / "stick").glob("*.answers"))
    brought = json.loads(fresh_chair("probe", "bring", small_path, file, "--json").stdout)
    assert set(brought) == {"chair", "identity", "baseline"}
    refused = fresh_chair("probe", "bring", small_path, small_path)
    assert (refused.returncode, "not what a courier brings" in refused.stderr) == (1, True)


def test_the_stand_in_is_reached_over_ssh_once_its_key_is_confirmed_and_drifts_when_told_to(
    demo_path: Path, stand_in: tuple["subprocess.Popen[str]", str, str]
) -> None:
    process, way, fingerprint = stand_in
    assert process.stdin is not None
    assert process.stdout is not None
    refused = fresh_chair("drift", demo_path, "B", "--via", way)
    assert refused.returncode == 1
    assert f"--host-key {fingerprint}" in refused.stderr
    assert fresh_chair("drift", demo_path, "B", "--via", way, "--host-key", "SHA256:other").returncode == 1
    first = fresh_chair("drift", demo_path, "B", "--via", way, "--host-key", fingerprint, "--json")
    assert json.loads(first.stdout)["fresh"]["freshness"] == "fresh"
    # Confirmed once, and never asked again.
    before = json.loads(fresh_chair("checks", "run", demo_path, "B", "--before", "--via", way, "--json").stdout)
    assert before["before"]["cards"]["dark-screen"]["chair_says"] == "contradicted"
    process.stdin.write("\n")
    process.stdin.flush()
    assert "Sat and left" in process.stdout.readline()
    after = json.loads(fresh_chair("checks", "run", demo_path, "B", "dark-screen", "--via", way, "--json").stdout)
    assert after["after"]["cards"]["dark-screen"]["chair_says"] == "confirmed"
    assert list(after["after"]["cards"]) == ["dark-screen"]
    assert "Chair B is not fresh" in fresh_chair("drift", demo_path, "B", "--via", way).stdout
    process.stdin.write("b\n")
    process.stdin.flush()
    assert "Put back" in process.stdout.readline()
    assert "Chair B is fresh" in fresh_chair("drift", demo_path, "B", "--via", way).stdout


def test_a_chair_is_fresh_right_after_its_baseline_though_a_clock_moves_in_it(
    small_path: Path, stand_in: tuple["subprocess.Popen[str]", str, str]
) -> None:
    _, way, fingerprint = stand_in
    told = fresh_chair("probe", "ask", small_path, "B", "baseline", "--via", way, "--host-key", fingerprint)
    assert "The baseline holds" in told.stdout
    assert "One name moves by itself, and is left out." in told.stdout
    assert "Chair B is fresh" in fresh_chair("drift", small_path, "B", "--via", way).stdout


def test_commands_of_a_script_are_shown_and_approved_word_for_word(demo_path: Path) -> None:
    shown = json.loads(fresh_chair("checks", "commands", demo_path, "--json").stdout)
    assert [each["approved"] for each in shown] == [False]
    command = shown[0]["command"]
    assert command == "cat /run/fathom/quiet"
    assert fresh_chair("checks", "approve", demo_path, "rm -rf /").returncode == 1
    assert fresh_chair("checks", "approve", demo_path).returncode == 1
    assert fresh_chair("checks", "approve", demo_path, command).stdout == "1 approved.\n"
    assert fresh_chair("checks", "commands", demo_path).stdout.startswith("approved")


def test_records_are_put_down_listed_changed_and_struck(small_path: Path) -> None:
    added = fresh_chair("records", "add", small_path, "A", "claim", "promised=dark at once", "answer=not so")
    name = added.stdout.strip()
    fresh_chair("records", "set", small_path, "A", "claim", name, "note=two programs stay bright")
    fresh_chair("records", "add", small_path, "A", "reading", "what=start", "value=40 to 55 s", "power=battery")
    fresh_chair("records", "add", small_path, "A", "install", "step=question", "words=which disk", "chosen=all of it")
    claims = json.loads(fresh_chair("records", "list", small_path, "A", "claim", "--json").stdout)
    assert [(c["promised"], c["answer"], c["note"]) for c in claims] == [
        ("dark at once", "not so", "two programs stay bright")
    ]
    readings = json.loads(fresh_chair("records", "list", small_path, "A", "reading", "--json").stdout)
    assert [(r["low"], r["high"], r["unit"], r["power"]) for r in readings] == [(40.0, 55.0, "s", "battery")]
    assert "chosen: all of it" in fresh_chair("records", "list", small_path, "A", "install").stdout
    assert fresh_chair("records", "strike", small_path, "A", "claim", name, "of another edition").returncode == 0
    assert fresh_chair("records", "list", small_path, "A", "claim").stdout == ""
    wrongs: list[list[str | Path]] = [["add", small_path, "A", "claim", "promised"], ["list", small_path, "A", "dream"]]
    for wrong in wrongs:
        assert fresh_chair("records", *wrong).returncode == 1


def test_a_port_that_is_taken_and_a_chair_that_is_none_are_one_sentence(
    stand_in: tuple["subprocess.Popen[str]", str, str],
) -> None:
    port = stand_in[1].rsplit(":", 1)[1]
    taken = fresh_chair("demo", "--chair", "--port", port)
    assert (taken.returncode, "cannot listen at port" in taken.stderr) == (1, True)
    none = fresh_chair("demo", "--chair", "--letter", "Q")
    assert (none.returncode, "The demo has no chair Q." in none.stderr) == (1, True)


def test_entries_of_every_ledger_are_listed_and_struck(demo_path: Path) -> None:
    listed = json.loads(fresh_chair("finding", "log", demo_path, "--json").stdout)
    last = listed[-1]["number"]
    assert fresh_chair("finding", "strike", demo_path, last, "--reason", "judged too soon").returncode == 0
    again = json.loads(fresh_chair("finding", "log", demo_path, "--json").stdout)
    assert [row["struck"] for row in again if row["number"] == last] == [True]
    assert "struck" in fresh_chair("finding", "log", demo_path).stdout
    about = json.loads(fresh_chair("probe", "log", demo_path, "A", "--json").stdout)
    ran = fresh_chair("probe", "log", demo_path, "A", "--strike", about[-1]["number"], "--reason", "another chair")
    assert ran.returncode == 0, ran.stderr
    assert json.loads(fresh_chair("probe", "log", demo_path, "A", "--json").stdout)[-1]["kind"] == "struck"
    assert fresh_chair("check", demo_path).returncode == 0
