"""The short report, in Markdown and in HTML that needs no other file."""

from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from fresh_chair.core.figures.cell import CellFigures
from fresh_chair.core.figures.estimate import Estimate, rate_words
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting.contests import ContestView
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.walk import ChairTurn
from fresh_chair.core.sitting.walked import StepLine
from fresh_chair.core.text import legible
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.figures import figure_words, interval_name, time_words
from fresh_chair.core.words.findings import finding_sentences
from fresh_chair.core.words.overall import overall_lines, overall_words
from fresh_chair.core.words.thresholds import threshold_heading, threshold_lines
from fresh_chair.core.words.walks import better_words, contest_counts, contest_turns, step_words, turn_words

_MARKDOWN_ACTS = str.maketrans({sign: f"\\{sign}" for sign in "\\`*_{}[]<>()#+!|~$&"})


@frozen
class WalkFacts:
    """One walk of a reviewer.

    Attributes:
        untouched: Titles of the cards that were on the list and not looked at.
        marks: Kind, words, and how each is known where that is not by doing it.
        declared: Why a sitting logged otherwise is a walk; empty for all others.
        turns: Where the chair was altered, or left for another machine.
        attached: How many files show its marks and steps.
    """

    seat: Seat
    steps: tuple[StepLine, ...]
    untouched: tuple[str, ...]
    marks: tuple[tuple[str, str, str], ...]
    declared: str = ""
    turns: tuple[ChairTurn, ...] = ()
    attached: int = 0


@frozen
class ReportFacts:
    """The facts a report is made from.

    Attributes:
        run: Participants' sittings that were run; `broken_off` and `to_run` likewise.
        uncounted: Sittings of pilots and the expert that have begun.
        walks: The reviewers' walks, which are in no figure.
        found: How many participants' sittings began at a chair that was fresh, not fresh, or not checked.
    """

    weighing: Weighing
    sorted_findings: SortedFindings
    run: int
    broken_off: int
    to_run: int
    uncounted: int
    found: dict[str, int]
    version: str
    walks: tuple[WalkFacts, ...] = ()
    contests: tuple[ContestView, ...] = ()
    words: Words = ENGLISH


def markdown_report(facts: ReportFacts) -> str:
    """The report as Markdown; charts are linked by name."""
    environment = _environment(facts.words, autoescape=False)
    environment.filters["safe_text"] = lambda value: legible(str(value)).translate(_MARKDOWN_ACTS)
    return environment.get_template("report.md.j2").render(_context(facts))


def html_report(facts: ReportFacts, charts: dict[str, bytes]) -> str:
    """The report as one HTML file with its charts inside.

    Args:
        facts: What it is made from.
        charts: SVG by name.
    """
    environment = _environment(facts.words, autoescape=True)
    environment.filters["safe_text"] = lambda value: legible(str(value))
    drawn = {name: Markup(_bare_svg(svg)) for name, svg in charts.items()}
    return environment.get_template("report.html.j2").render(_context(facts), charts=drawn)


def _environment(words: Words, *, autoescape: bool) -> Environment:
    environment = Environment(
        extensions=["jinja2.ext.i18n"],
        loader=PackageLoader("fresh_chair.tell", "templates"),
        autoescape=autoescape,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        keep_trailing_newline=True,
    )
    environment.install_gettext_callables(words.gettext, words.ngettext, newstyle=True)  # type: ignore[attr-defined]
    return environment


def _context(facts: ReportFacts) -> dict[str, Any]:
    weighing = facts.weighing
    voids = [fact for fact in weighing.facts if fact.outcome is Outcome.VOID]
    return {
        "study": weighing.study,
        "weighing": weighing,
        "said": figure_words(weighing, facts.words),
        "overall": overall_words(weighing, facts.words),
        "thresholds": threshold_lines(weighing, facts.words),
        "threshold_heading": threshold_heading(weighing, facts.words),
        "overall_lines": overall_lines,
        "sorted_findings": facts.sorted_findings,
        "finding_sentences": lambda view: finding_sentences(view, facts.words),
        "facts": facts,
        "voids": voids,
        "rate": rate_words,
        "time_words": lambda times: time_words(times, facts.words),
        "interval_name": lambda interval: interval_name(interval, facts.words),
        "step_words": lambda step: step_words(step, facts.words),
        "turn_words": lambda turn: turn_words(turn, facts.words),
        "contest_turns": lambda view: contest_turns(view, facts.words),
        "contest_counts": lambda view: contest_counts(view, facts.words),
        "better_words": lambda judgement: better_words(judgement, facts.words),
        "seconds": _seconds,
        "number": _number,
        "time_of": _time_of,
        "severity_words": [facts.words.say(each) for each in SEVERITY_WORDS],
        "titles": {card.id: card.title for card in weighing.study.cards},
        "chairs": {chair.letter: chair.title for chair in weighing.study.chairs},
    }


def _seconds(estimate: Estimate) -> str:
    return _number(estimate, " s", 0)


def _number(estimate: Estimate, unit: str = "", places: int = 1) -> str:
    if estimate.value is None:
        return estimate.note or "none"
    if estimate.low is None:
        return f"{estimate.value:.{places}f}{unit} (n {estimate.n})"
    high = "open" if estimate.high is None else f"{estimate.high:.{places}f}"
    return f"{estimate.value:.{places}f}{unit} ({estimate.low:.{places}f} to {high}; n {estimate.n})"


def _time_of(cell: CellFigures) -> str:
    return _seconds(cell.default_seconds) + ("" if cell.everyone_completed or not cell.n else ", all attempts")


def _bare_svg(svg: bytes) -> str:
    text = svg.decode()
    return text[text.index("<svg") :]
