"""All charts of a study, as SVG and PDF: those of the report, and those of comparisons, course and judgement."""

from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.findings.forecasts import forecast_lines
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.findings.page import discovery_of
from fresh_chair.services.judgement.firmness import firmness
from fresh_chair.services.judgement.scorecards import scorecards
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import Written, write_file

# A figure of the drawing library, which services know nothing of.
Picture = Any


def chart_makers(
    opened: StudyReading, weighing: Weighing, words: Words = ENGLISH
) -> list[tuple[str, str, Callable[[], Picture]]]:
    """Every chart: its file's name, its title, and how it is drawn."""
    from fresh_chair.draw.charts import outcomes_chart, times_chart
    from fresh_chair.draw.comparisons import fared_chart, overall_chart, paired_times_chart, tasks_chart
    from fresh_chair.draw.course import routes_chart, waits_chart
    from fresh_chair.draw.judgement import discovery_chart, findings_chart, hunches_chart, scorecard_chart

    found = sorted_findings_of(opened)
    makers: list[tuple[str, str, Callable[[], Picture]]] = [
        ("outcomes", "outcomes by task and chair", lambda: outcomes_chart(weighing, words)),
        ("times", "time on task by chair", lambda: times_chart(weighing, words)),
        ("overall", "chairs compared over all tasks", lambda: overall_chart(weighing, words)),
        ("tasks", "every pair on every task", lambda: tasks_chart(weighing, words)),
        ("paired_times", "each person's times", lambda: paired_times_chart(weighing, words)),
        ("fared_better", "who fared better", lambda: fared_chart(weighing, words)),
        ("waits", "the machine's share", lambda: waits_chart(weighing, words)),
        ("routes", "the ways people went", lambda: routes_chart(weighing, words)),
        ("findings", "findings by chair", lambda: findings_chart(opened.study, _counts(found, weighing), words)),
        ("discovery", "discovery", lambda: discovery_chart(discovery_of(opened, found), words)),
        ("hunches", "foreseen, and what happened", lambda: hunches_chart(_foreseen(opened), words)),
    ]
    for number, card in enumerate(scorecards(opened, weighing), start=1):
        makers.append(
            (
                f"scorecard_{number}",
                f"scorecard {card.name} for {card.audience or 'everyone'}",
                lambda card=card: scorecard_chart(opened.study, card, firmness(weighing, card), words),  # type: ignore[misc]
            )
        )
    return makers


def write_charts(opened: StudyReading, folder: Path, words: Words = ENGLISH) -> Iterator[Written]:
    """All charts of a study, each as SVG and as PDF; the same study gives the same bytes.

    Raises:
        OutsideError: Where the folder or the disk refuses; files written before stay.
    """
    from fresh_chair.draw.paper import saved

    for name, title, make in chart_makers(opened, weigh(opened), words):
        yield write_file(folder / f"{name}.svg", saved(make(), "svg"), f"{title}, SVG")
        yield write_file(folder / f"{name}.pdf", saved(make(), "pdf"), f"{title}, PDF")


def write_chart(
    opened: StudyReading, weighing: Weighing, name: str, path: Path, words: Words = ENGLISH
) -> Iterator[Written]:
    """One chart alone, as SVG and as PDF.

    Args:
        opened: The study.
        weighing: Its figures.
        name: The chart's name.
        path: Where it goes; the PDF stands beside the SVG.
        words: The language of the words in it.

    Raises:
        OutsideError: Where the folder or the disk refuses.
    """
    from fresh_chair.draw.paper import saved

    title, make = next((title, make) for each, title, make in chart_makers(opened, weighing, words) if each == name)
    figure = make()
    for kind in ("svg", "pdf"):
        yield write_file(path.with_suffix(f".{kind}"), saved(figure, kind), f"{title}, {kind.upper()}")


def _counts(found: SortedFindings, weighing: Weighing) -> dict[str, Counter[int]]:
    counts: dict[str, Counter[int]] = {chair.letter: Counter() for chair in weighing.study.chairs}
    for view in found.findings:
        for spread in view.spread:
            judged = view.finding.severity_in(Scope(chair=spread.chair))
            if view.finding.sort == "problem" and spread.people and judged is not None:
                counts[spread.chair][judged.severity] += 1
    return counts


def _foreseen(opened: StudyReading) -> list[tuple[str, str, str]]:
    return [(line.what, line.sure, line.outcome) for line in forecast_lines(opened) if not line.late]
