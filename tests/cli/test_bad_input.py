"""Whatever is handed over at the command line: one sentence, nothing lost, no report of a bug, bounded memory."""

import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from fresh_chair.services.study.open_study import open_study
from tests.cli.forked import run as fresh_chair
from tests.damage import damaged

MEMORY = 600_000_000


def bounded(*arguments: str | Path, stdin: bytes = b"") -> "subprocess.CompletedProcess[str]":
    """Run with little memory and little time: what is read without end is noticed."""
    return fresh_chair(*arguments, stdin=stdin, memory=MEMORY, seconds=60)


def said(*arguments: str | Path) -> str:
    """What is said of something that cannot be; it is a sentence and no bug."""
    ran = fresh_chair(*arguments)
    assert ran.returncode == 1, ran.stderr or ran.stdout
    assert "did not foresee" not in ran.stderr
    return ran.stderr


@pytest.mark.parametrize("offset", ["-5", "250000", "nan", "1e300", "inf"])
def test_an_offset_that_is_none_leaves_the_study_as_it_was(demo_path: Path, tmp_path: Path, offset: str) -> None:
    file = tmp_path / "notes.txt"
    file.write_text("0:00 sat down\n")
    assert "Nothing was" in said(
        "sitting", "take", demo_path, "23", file, "--recording", "x.webm", f"--offset={offset}"
    )
    cues = tmp_path / "notes.srt"
    cues.write_text("1\n00:00:02,500 --> 00:00:04,000\nwrong menu\n")
    assert "Nothing was" in said("sitting", "notes", demo_path, "1", cues, f"--offset={offset}")
    assert fresh_chair("check", demo_path).returncode == 0


@pytest.mark.parametrize("line", ["9999999:00:00 note x", "999999:00:00 note x", "0:00 entry " + "[" * 200_000])
def test_a_line_that_no_sitting_can_hold_is_named(demo_path: Path, tmp_path: Path, line: str) -> None:
    file = tmp_path / "notes.txt"
    file.write_text(f"0:00 sat down\n{line}\n")
    assert "@ line 2" in said("sitting", "take", demo_path, "23", file)


@pytest.mark.parametrize(
    "body", ['{"kind":[]}', '{"kind":"outcome_judged","outcome":[]}', '{"kind":"snag","words":1e999}']
)
def test_an_entry_of_another_type_is_named(demo_path: Path, tmp_path: Path, body: str) -> None:
    file = tmp_path / "notes.txt"
    file.write_text(f"0:00 sat down\n0:01 entry {body}\n")
    assert "@ line 2" in said("sitting", "take", demo_path, "23", file)


@pytest.mark.parametrize("began", ["9999-12-31T23:59", "0001-01-01T00:00", "yesterday"])
def test_a_date_on_which_nobody_sat_is_refused(demo_path: Path, tmp_path: Path, began: str) -> None:
    file = tmp_path / "notes.txt"
    file.write_text("0:00 sat down\n")
    assert "no day and time" in said("sitting", "take", demo_path, "23", file, "--began", began)


def test_a_seed_larger_than_the_file_holds_is_refused(demo_path: Path) -> None:
    assert "seed" in said("plan", "set", demo_path, "study.seed", "9" * 23)
    assert "seed" in said("plan", "order", demo_path, "--seed", "9" * 23)


@pytest.mark.parametrize(
    "change",
    [
        "UPDATE chair SET body = 5 WHERE letter = 'A'",
        "UPDATE seat SET cards = 5 WHERE number = 20",
        "UPDATE study SET sheet = 5",
        "UPDATE study SET sheet = x'ff'",
        "UPDATE alembic_version SET version_num = CAST(x'fffe' AS TEXT)",
        "UPDATE hunch SET severity = 'much' WHERE rowid = 1",
        "UPDATE study SET title = CAST(x'fffe' AS TEXT)",
    ],
)
def test_a_plan_of_another_type_is_said_to_be_none(demo_path: Path, change: str) -> None:
    damaged(demo_path, change)
    for command in (("check",), ("plan", "show"), ("figures",)):
        ran = fresh_chair(*command, demo_path)
        assert "did not foresee" not in ran.stderr
        assert ran.returncode in (0, 1)


def test_a_value_larger_than_any_study_holds_is_not_read(small_path: Path) -> None:
    damaged(small_path, "UPDATE study SET title = CAST(zeroblob(300000000) AS TEXT)")
    ran = bounded("check", small_path)
    assert ran.returncode == 1
    assert "did not foresee" not in ran.stderr


def test_a_packed_state_is_unpacked_only_as_far_as_one_can_be(demo_path: Path) -> None:
    import zlib

    packed = zlib.compress(b'{"state":1,"sections":{"home":{' + b" " * 290_000_000 + b'}},"unread":{}}', 9)
    damaged(demo_path, "UPDATE baseline_state SET body = ? WHERE number = 1", values=(packed,))
    ran = bounded("check", demo_path)
    assert "is not whole, or too large" in ran.stdout
    assert "did not foresee" not in ran.stderr


def readers(study: Path, file: Path | str) -> list[tuple[str | Path, ...]]:
    """Every command that reads a file it is given."""
    return [
        ("script", "check", file),
        ("script", "put", study, file),
        ("sitting", "take", study, "23", file),
        ("sitting", "notes", study, "1", file),
        ("probe", "bring", study, file),
        ("people", "import", study, file),
        ("new", study.with_name("new.fresh"), "--outline", file),
        ("check", file),
        ("open", file),
    ]


@pytest.mark.parametrize("number", range(9))
def test_a_device_without_end_is_not_read(demo_path: Path, number: int) -> None:
    ran = bounded(*readers(demo_path, "/dev/zero")[number])
    assert ran.returncode in (1, 2)
    assert "did not foresee" not in ran.stderr


@pytest.mark.parametrize("number", range(9))
def test_a_pipe_that_nobody_writes_into_is_not_waited_for(demo_path: Path, tmp_path: Path, number: int) -> None:
    os.mkfifo(tmp_path / "pipe")
    ran = bounded(*readers(demo_path, tmp_path / "pipe")[number])
    assert ran.returncode in (1, 2)
    assert "did not foresee" not in ran.stderr


def test_one_s_own_cards_may_hold_links_to_anything(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    cards = tmp_path / "cards"
    cards.mkdir()
    os.mkfifo(cards / "pipe.toml")
    (cards / "zero.toml").symlink_to("/dev/zero")
    monkeypatch.setenv("FRESH_CHAIR_CARDS", str(cards))
    ran = bounded("library", "list")
    assert ran.returncode == 0
    assert ran.stderr.count("is no file but something else") == 2


def test_standard_input_is_read_up_to_the_limit(demo_path: Path) -> None:
    ran = bounded("sitting", "take", demo_path, "23", "-", stdin=b"0:00 sat down\n0:05 note hello\n")
    assert ran.stdout == "2 entries.\n"
    opened = open_study(demo_path, write=False)
    assert len(opened.entries[23]) == 2
    opened.close()
    ran = bounded("script", "check", "-", stdin=b"x" * 5_000_000)
    assert "too large" in ran.stderr


def test_output_that_nobody_can_take_is_said(demo_path: Path) -> None:
    for command in (("figures", "--json"), ("check",), ("--help",)):
        with Path("/dev/full").open("wb") as full:
            ran = subprocess.run(
                [
                    sys.executable,
                    "-m",
                    "fresh_chair",
                    command[0],
                    *([] if command == ("--help",) else [str(demo_path)]),
                ],
                stdout=full,
                stderr=subprocess.PIPE,
                check=False,
            )
        assert ran.returncode == 74
        assert ran.stderr.startswith(b"fresh-chair: The output could not be written: No space left")


def test_reading_leaves_nothing_beside_a_study(demo_path: Path) -> None:
    for command in (("check",), ("figures",), ("plan", "show")):
        assert fresh_chair(*command, demo_path).returncode == 0
    assert [path.name for path in demo_path.parent.iterdir() if path.name.startswith("demo.fresh")] == ["demo.fresh"]


def test_an_empty_file_left_beside_a_study_that_is_gone_keeps_nobody_from_a_new_one(tmp_path: Path) -> None:
    for ending in ("-wal", "-shm"):
        (tmp_path / f"s.fresh{ending}").touch()
    assert fresh_chair("new", tmp_path / "s.fresh").returncode == 0


@pytest.mark.parametrize("command", [["new", "{}"], ["demo", "--no-open", "--to", "{}"], ["check", "{}"]])
def test_a_name_that_is_too_long_is_one_sentence(command: list[str], tmp_path: Path) -> None:
    ended = fresh_chair(*(part.format(tmp_path / ("x" * 300)) for part in command))
    assert ended.returncode in (1, 74)
    assert "File name too long" in ended.stderr
    assert "did not foresee" not in ended.stderr


@pytest.mark.parametrize("command", ["figures", "check", "weigh", "open-points"])
def test_an_output_that_was_closed_from_the_first_is_one_sentence(command: str, demo_path: Path) -> None:
    line = f'"{sys.executable}" -m fresh_chair {command} "{demo_path}" >&-'
    ran = subprocess.run(["sh", "-c", line], capture_output=True, text=True, check=False)
    assert ran.returncode == 74
    assert ran.stderr.strip() == "fresh-chair: The output could not be written: it was closed."


@pytest.mark.parametrize(
    "catalogue",
    [
        b"\xff\xfe\x00",
        b'msgid ""\nmsgstr "Content-Type: text/plain; charset=none-such\\n"\n',
        b'msgid ""\nmsgstr "Plural-Forms: nplurals=2; plural=((((;\\n"\n',
        b"msgid" * 600_000,
        b'msgid ""\nmsgstr "Plural-Forms: nplurals=2; plural=n/0;\\n"\nmsgid "a"\nmsgid_plural "b"\nmsgstr[0] "c"\n',
    ],
    ids=["no text", "charset", "plural", "too large", "by nothing"],
)
@pytest.mark.parametrize("ending", ["po", "mo"])
def test_a_malformed_catalogue_is_one_sentence(
    catalogue: bytes, ending: str, demo_path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "data-home" / "fresh-chair" / "locale" / "fr" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    (folder / f"fresh_chair.{ending}").write_bytes(catalogue)
    ended = fresh_chair("report", demo_path, "--to", tmp_path / "out", "--language", "fr")
    assert "did not foresee" not in ended.stderr
    assert ended.returncode in (0, 1)


def test_a_folder_without_a_catalogue_is_no_language(demo_path: Path, tmp_path: Path) -> None:
    (tmp_path / "data-home" / "fresh-chair" / "locale" / "fr" / "LC_MESSAGES").mkdir(parents=True)
    told = said("report", demo_path, "--to", tmp_path / "out", "--language", "fr")
    assert "These are there: en, de." in told


def test_a_schema_with_a_name_that_is_no_text_is_one_sentence(demo_path: Path) -> None:
    with closing(sqlite3.connect(demo_path)) as rows:
        rows.execute("CREATE TABLE strange (a)")
        rows.execute("PRAGMA writable_schema = ON")
        rows.execute("UPDATE sqlite_master SET name = CAST(x'ff80' AS TEXT) WHERE name = 'strange'")
        rows.commit()
    assert "is damaged: names in it are no text" in said("figures", demo_path)


def test_a_wrong_paper_names_the_papers_alone(demo_path: Path, tmp_path: Path) -> None:
    told = said("print", demo_path, "--to", tmp_path / "cards.pdf", "--paper", "a0")
    assert "a0 is no paper; there are a4 and letter." in told


def test_a_value_out_of_range_names_its_field_once(demo_path: Path) -> None:
    told = said("scorecard", "criteria", "add", demo_path, "name=speed", "low=inf")
    assert told.count("@ low") == 1
