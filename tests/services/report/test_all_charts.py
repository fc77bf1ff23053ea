"""Every chart of a study, written as SVG and PDF."""

from pathlib import Path

from fresh_chair.draw.paper import saved
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.report.charts import chart_makers
from fresh_chair.services.study.open_study import OpenStudy
from tests.cli.forked import run as fresh_chair


def test_all_charts_are_the_same_from_another_process(demo_path: Path, demo: OpenStudy, tmp_path: Path) -> None:
    ended = fresh_chair("charts", demo_path, "--to", tmp_path / "charts")
    assert ended.returncode == 0, ended.stderr
    assert "who fared better, PDF" in ended.stdout
    here = {name: saved(make(), "svg") for name, _, make in chart_makers(demo, weigh(demo))}
    there = {path.name: path.read_bytes() for path in (tmp_path / "charts").iterdir()}
    assert {f"{name}.{kind}" for name in here for kind in ("svg", "pdf")} == there.keys()
    assert all(data == there[f"{name}.svg"] for name, data in here.items())
    names = here.keys()
    assert names >= {"overall", "tasks", "paired_times", "fared_better", "waits", "routes", "findings", "discovery"}
    assert names >= {"hunches", "scorecard_1", "scorecard_2"}
    assert b"loan laptops" in here["scorecard_1"]


def test_a_long_title_is_drawn_whole(demo: OpenStudy) -> None:
    long = "a criterion whose name is so long that no label was ever meant to hold it, " * 2
    put_evidence(
        demo, "criterion", {"name": long.strip(), "scorecard": "long", "figure": "ease", "worst": "1", "best": "7"}
    )
    make = next(make for name, title, make in chart_makers(demo, weigh(demo)) if "long" in title)
    (axes,) = make().axes
    labels = " ".join(label.get_text() for label in axes.get_yticklabels()).split()
    assert " ".join(labels).startswith(" ".join(long.split()))
