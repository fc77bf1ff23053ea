"""Law 8: the command line, as a process of its own."""

import json
from pathlib import Path

import pytest

from fresh_chair import __version__
from fresh_chair.cli.opening import quick_open, quick_start
from fresh_chair.demo.journals import scenario
from tests.cli.forked import run as fresh_chair


def test_the_demo_is_built_told_exported_and_checked(tmp_path: Path) -> None:
    study = tmp_path / "demo.fresh"
    assert fresh_chair("demo", "--to", study, "--no-open").returncode == 0
    assert fresh_chair("report", study, "--to", tmp_path / "report").returncode == 0
    assert fresh_chair("export", study, "--to", tmp_path / "data").returncode == 0
    names = {path.name for path in [*(tmp_path / "report").iterdir(), *(tmp_path / "data").iterdir()]}
    assert names == {
        *("outcomes.svg", "outcomes.pdf", "times.svg", "times.pdf", "report.md", "report.html"),
        *("attempts.csv", "answers.csv", "marks.csv", "snags.csv", "study.json"),
        *("walk_steps.csv", "walk_items.csv", "walk_remarks.csv", "contest.csv", "attachments.csv"),
        *("references.csv", "against.csv", "changes.csv", "inventory.csv", "links.csv", "forecasts.csv"),
        *(
            "later.csv",
            "advice.csv",
            "disclosures.csv",
            "verdicts.csv",
            "criteria.csv",
            "scores.csv",
            "contradictions.csv",
            "paragraphs.csv",
            "replies.csv",
        ),
        *("datapackage.json", "README.md", "reproduce.py", "reproduce.R"),
        *("findings.csv", "severities.csv", "ratings.csv", "causes.csv", "trials.csv", "workarounds.csv"),
        *("excuses.csv", "overall.csv", "comparisons.csv"),
    }
    checked = fresh_chair("check", study)
    assert (checked.returncode, "Nothing is wrong" in checked.stdout) == (0, True)
    figures = json.loads(fresh_chair("figures", study, "--json").stdout)
    assert len(figures["cells"]) == 24
    table = fresh_chair("figures", study).stdout
    assert "of 5 (" in table


def test_a_study_is_made_from_an_outline(tmp_path: Path) -> None:
    outline = tmp_path / "plan.toml"
    outline.write_text(scenario(), encoding="utf-8")
    made = fresh_chair("new", tmp_path / "s.fresh", "--outline", outline)
    assert made.returncode == 0
    assert "24 sittings planned" in made.stdout
    assert fresh_chair("new", tmp_path / "s.fresh").returncode == 1


def test_a_study_can_be_told_while_somebody_writes_it(demo_path: Path, tmp_path: Path) -> None:
    from fresh_chair.services.study.open_study import open_study

    opened = open_study(demo_path)
    assert opened.writable
    assert fresh_chair("export", demo_path, "--to", tmp_path / "d").returncode == 0
    opened.close()


@pytest.mark.parametrize("command", [("open",), ("check",), ("figures", "--json"), ("export", "--to", "x")])
@pytest.mark.parametrize("content", [None, b"a letter", b"SQLite format 3\x00" + bytes(200)])
def test_a_wrong_file_gets_one_sentence_and_no_traceback(
    tmp_path: Path, command: tuple[str, ...], content: bytes | None
) -> None:
    path = tmp_path / "wrong \x1b[31m.fresh"
    if content is not None:
        path.write_bytes(content)
    ended = fresh_chair(command[0], path, *command[1:])
    assert ended.returncode == 1
    assert ended.stderr.startswith("fresh-chair: ")
    assert "Traceback" not in ended.stderr
    assert "\x1b" not in ended.stderr
    assert ended.stderr.count("\n") <= 3


def test_wrong_words_and_the_version() -> None:
    wrong = fresh_chair("fly")
    assert (wrong.returncode, "Traceback" in wrong.stderr) == (2, False)
    assert fresh_chair("--version").stdout.strip() == f"fresh-chair {__version__}"


def test_help_names_every_command() -> None:
    said = fresh_chair("--help").stdout
    for command in ("new", "open", "demo", "report", "export", "figures", "check"):
        assert f"  {command}" in said


@pytest.mark.parametrize(
    ("arguments", "expected"),
    [
        (["open", "a.fresh"], (Path("a.fresh"), False, False)),
        (["open", "a.fresh", "--light", "--plain"], (Path("a.fresh"), True, True)),
        (["open"], None),
        (["open", "--help"], None),
        (["open", "a.fresh", "--wrong"], None),
        (["check", "a.fresh"], None),
        ([], None),
    ],
)
def test_only_a_plain_open_takes_the_short_way(arguments: list[str], expected: object) -> None:
    assert quick_open(arguments) == expected


@pytest.mark.parametrize(
    ("arguments", "expected"),
    [
        ([], (False, False)),
        (["--light"], (False, True)),
        (["--plain", "--light"], (True, True)),
        (["--version"], None),
        (["open"], None),
    ],
)
def test_only_a_start_without_a_command_takes_the_short_way(arguments: list[str], expected: object) -> None:
    assert quick_start(arguments) == expected


def test_a_screen_without_a_terminal_is_refused_in_a_sentence(demo_path: Path) -> None:
    for arguments in (("open", demo_path), ("open", demo_path, "--light"), ()):
        ended = fresh_chair(*arguments)
        assert (ended.returncode, "needs a terminal" in ended.stderr) == (1, True)
