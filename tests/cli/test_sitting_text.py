"""Law 8 for Sit: a sitting as text, its cues, its notes and its corrections from the command line."""

import json
from pathlib import Path

from tests.cli.test_commands import fresh_chair


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
    assert fresh_chair("sitting", "notes", demo_path, "9", tmp_path / "n.vtt").stdout == "1 notes.\n"
    assert fresh_chair("sitting", "text", demo_path, "24").returncode == 1
