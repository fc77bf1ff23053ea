"""Every chart of a study, written as SVG and PDF."""

from pathlib import Path

from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.report.charts import chart_makers, write_charts
from fresh_chair.services.study.open_study import OpenStudy
from tests.cli.forked import run as fresh_chair


def test_all_charts_are_written_twice_the_same(demo: OpenStudy, tmp_path: Path) -> None:
    written = {}
    for name in ("one", "two"):
        (tmp_path / name).mkdir()
        files = list(write_charts(demo, tmp_path / name))
        written[name] = {each.path.name: each.path.read_bytes() for each in files}
    assert written["one"] == written["two"]
    names = {name.partition(".")[0] for name in written["one"]}
    assert names >= {"overall", "tasks", "paired_times", "fared_better", "waits", "routes", "findings", "discovery"}
    assert names >= {"hunches", "scorecard_1", "scorecard_2"}
    assert b"loan laptops" in written["one"]["scorecard_1.svg"]


def test_a_long_title_is_drawn_whole(demo: OpenStudy) -> None:
    long = "a criterion whose name is so long that no label was ever meant to hold it, " * 2
    put_evidence(
        demo, "criterion", {"name": long.strip(), "scorecard": "long", "figure": "ease", "worst": "1", "best": "7"}
    )
    make = next(make for name, title, make in chart_makers(demo, weigh(demo)) if "long" in title)
    (axes,) = make().axes
    labels = " ".join(label.get_text() for label in axes.get_yticklabels()).split()
    assert " ".join(labels).startswith(" ".join(long.split()))


def test_the_command_writes_them(demo_path: Path, tmp_path: Path) -> None:
    ended = fresh_chair("charts", demo_path, "--to", tmp_path / "charts")
    assert ended.returncode == 0, ended.stderr
    assert (tmp_path / "charts" / "overall.svg").exists()
    assert "who fared better, PDF" in ended.stdout
