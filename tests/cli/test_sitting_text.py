"""Law 8 for Sit: a sitting as text, its cues, its notes and its corrections from the command line."""

import csv
import json
from pathlib import Path

from tests.cli.forked import run as fresh_chair


def test_a_sitting_goes_out_and_into_another_one_and_is_corrected(demo_path: Path, tmp_path: Path) -> None:
    text = fresh_chair("sitting", "text", demo_path, "9").stdout
    assert text.startswith("# fresh-chair sitting 1\n")
    notes = tmp_path / "notes.txt"
    listed = json.loads(fresh_chair("sitting", "list", demo_path, "9", "--json").stdout)
    snag = next(line for line in listed if line["kind"] == "snag")
    assert fresh_chair("sitting", "strike", demo_path, "9", str(snag["entry"])).returncode == 1
    struck = fresh_chair("sitting", "strike", demo_path, "9", str(snag["entry"]), "--reason", "that was me")
    assert struck.returncode == 0
    again = json.loads(fresh_chair("sitting", "list", demo_path, "9", "--json").stdout)
    assert next(line for line in again if line["entry"] == snag["entry"])["struck"]
    wrong = next(line for line in listed if line["kind"] == "wrong_place")
    moved = fresh_chair("sitting", "move", demo_path, "9", str(wrong["entry"]), "--by", "-3", "--reason", "late")
    assert moved.returncode == 0
    added = fresh_chair("sitting", "add", demo_path, "9", "quote", "3:00", "where is it", "--reason", "busy")
    assert added.returncode == 0
    assert "quote: where is it (added late: busy)" in fresh_chair("sitting", "list", demo_path, "9").stdout
    assert fresh_chair("sitting", "cues", demo_path, "9", "--offset", "5").stdout.startswith("WEBVTT")
    notes.write_text("0:05 dances\n")
    refused = fresh_chair("sitting", "take", demo_path, "24", notes)
    assert (refused.returncode, "nothing that can be noted @ line 1" in refused.stderr) == (1, True)
    (tmp_path / "n.vtt").write_text("WEBVTT\n\n00:02:05.000 --> 00:02:06.000\nsnag wrong menu\n")
    assert fresh_chair("sitting", "notes", demo_path, "9", tmp_path / "n.vtt").stdout == "1 note taken.\n"
    assert fresh_chair("sitting", "text", demo_path, "24").returncode == 1


TYPED = """\
0:30 start {0}
0:50 wrong place
1:10 stop
1:12 ended gave up
1:20 ease 3
2:00 start {1}
2:40 stop
2:41 ended completed unaided
2:45 ease 6
"""


def test_whole_attempts_are_judged_split_and_joined_and_a_text_is_tied_to_its_recording(
    demo_path: Path, tmp_path: Path
) -> None:
    fresh_chair("export", demo_path, "--to", tmp_path / "before")
    plan = json.loads((tmp_path / "before" / "study.json").read_text())
    cards = next(seat["cards"] for seat in plan["study"]["seats"] if seat["number"] == 24)
    notes = tmp_path / "notes.txt"
    notes.write_text(TYPED.format(*cards))
    taken = fresh_chair("sitting", "take", demo_path, "24", notes, "--recording", "p08.webm", "--offset", "0:45")
    assert (taken.returncode, taken.stdout) == (1, "")
    assert "notes.txt begins at" in taken.stderr
    taken = fresh_chair("sitting", "take", demo_path, "24", notes, "--recording", "p08.webm", "--offset", "0:10")
    assert (taken.returncode, taken.stdout) == (0, "11 entries.\n")
    assert (
        "from the recording p08.webm, beginning at 00:10 of it"
        in fresh_chair("sitting", "list", demo_path, "24").stdout
    )

    def outcomes() -> list[tuple[str, str]]:
        fresh_chair("export", demo_path, "--to", tmp_path / "data")
        with (tmp_path / "data" / "attempts.csv").open(encoding="utf-8") as file:
            return [(row["task"], row["outcome"]) for row in csv.DictReader(file) if row["sitting"] == "24"]

    assert outcomes() == [(cards[0], "gave_up"), (cards[1], "unaided")]
    for wrong in (("1", "--ended", "danced"), ("9", "--ended", "void", "--reason", "x"), ("1", "--ended", "void")):
        refused = fresh_chair("sitting", "judge", demo_path, "24", *wrong)
        assert refused.returncode == 1
        assert refused.stderr.count("\n") <= 2
    assert fresh_chair(
        "sitting", "judge", demo_path, "24", "1", "--ended", "void", "--reason", "the cable was out"
    ).returncode == 0  # fmt: skip
    assert outcomes() == [(cards[0], "void"), (cards[1], "unaided")]
    assert fresh_chair(
        "sitting", "split", demo_path, "24", "2", "--at", "2:20", "--ended", "partly", "--card", cards[2],
        "--reason", "no key was pressed between them",
    ).returncode == 0  # fmt: skip
    assert outcomes() == [(cards[0], "void"), (cards[1], "partly"), (cards[2], "unaided")]
    assert fresh_chair("sitting", "join", demo_path, "24", "2", "3", "--reason", "it was one after all").returncode == 0
    assert outcomes() == [(cards[0], "void"), (cards[1], "unaided")]
    assert fresh_chair("check", demo_path).returncode == 0
    assert fresh_chair("sitting", "no-benchmark", demo_path, "24", "2").returncode == 1
