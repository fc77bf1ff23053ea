"""The table of all comparisons: every pair on every measure, over all tasks and task by task."""

from collections.abc import Callable, Iterator, Sequence
from math import exp
from textwrap import wrap
from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.figures.estimate import too_wide
from fresh_chair.core.figures.overall.estimates import OverallMeasure, OverallVerdict
from fresh_chair.core.figures.single.comparison import Comparison, Measure
from fresh_chair.core.figures.single.preference import Preference
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.groups import group_sentences, own_scale_sentences
from fresh_chair.core.words.overall import measure_words
from fresh_chair.tui.weigh.sheets.base import WeighSheet
from fresh_chair.tui.weigh.widgets.drawn_pairs import drawn_pairs


class ComparisonsSheet(WeighSheet):
    """All pairs on all measures, with n, estimate, interval, raw and adjusted p."""

    sheet_name = "comparisons"
    title_words = "all comparisons"
    about = (
        "The first chair less the second; ratios for times. Raw p and p after Holm, each measure a family of its own; "
        "one task with a few people can show almost nothing. The same table is in comparisons.csv and overall.csv."
    )

    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("d", "drawn", "drawn", id="comparisons.drawn", tooltip="Dots and intervals, or the table"),
    ]
    _drawn = False

    def action_drawn(self) -> None:
        """Draw them as dots and intervals on one axis, or show the table again."""
        self._drawn = not self._drawn
        self.query_one("#figures").scroll_home(animate=False)
        self.draw()

    def about_words(self) -> str:
        """How many there are."""
        single = sum(len(each) for each in self.weighing.comparisons.values())
        whole = sum(len(each.verdicts) for each in self.weighing.overall.values())
        return f"{whole} over all tasks, {single} of single tasks"

    def lines(self, width: int) -> Sequence[Content]:
        """Over all tasks first, then each task; or all of them drawn."""
        if self._drawn:
            return list(drawn_pairs(self.weighing, self.signs, width))
        parts = [Content.styled("over all tasks", "bold $lamp"), Content.styled(_COLUMNS, "bold $thread")]
        for measure, found in self.weighing.overall.items():
            name = measure_words(measure, times=self.weighing.choice.times)
            parts.append(Content.styled(name, "$chalk"))
            for verdict in found.verdicts:
                parts.append(_overall_row(measure, verdict))
                parts += self._left_out(verdict)
        for heading, sentences in (*own_scale_sentences(self.weighing), *group_sentences(self.weighing)):
            parts += [Content(""), Content.styled(legible(heading), "bold $lamp")]
            parts += [Content.styled(f"  {legible(said)}", "$chalk") for said in sentences]
        parts += _preferred(self.weighing.preference)
        titles = {card.id: card.title for card in self.weighing.study.cards}
        for card, listed in self.weighing.comparisons.items():
            parts += [Content(""), Content.styled(legible(titles[card]), "bold $lamp")]
            parts.append(Content.styled(_COLUMNS, "bold $thread"))
            parts += _of_card(listed)
        return parts

    def _left_out(self, verdict: OverallVerdict) -> Iterator[Content]:
        """The tasks that a pair is not compared over."""
        pair = verdict.estimate
        if pair.left_out:
            titles = {card.id: card.title for card in self.weighing.study.cards}
            named = "; ".join(titles.get(card, card) for card in pair.left_out)
            said = f"over {len(pair.common)} of {pair.tasks} tasks; not done at both: {named}"
            yield from (Content.styled(f"    {line}", "$thread") for line in wrap(legible(said), 90))


_COLUMNS = f"{'':12}{'n':>4}{'estimate':>11}{'interval':>20}{'p':>8}{'Holm':>8}  verdict"


def _overall_row(measure: OverallMeasure, verdict: OverallVerdict) -> Content:
    pair = verdict.estimate
    shown = _ratio if measure == "time" else _points(measure)
    spread = "" if verdict.low is None or verdict.high is None else f"{shown(verdict.low)} to {shown(verdict.high)}"
    if measure == "time" and spread and too_wide(exp(verdict.low or 0.0), exp(verdict.high or 0.0)):
        spread = "says nothing"
    value = "-" if pair.value is None else shown(pair.value)
    rest = f": {verdict.winner}" if verdict.winner else f" ({verdict.why})" if verdict.why else ""
    p, winner = (verdict.p, verdict.p_adjusted), verdict.winner
    return _row(pair.first, pair.second, pair.people, value, spread, p, verdict.said.value + rest, winner)


def _of_card(listed: Sequence[Comparison]) -> Iterator[Content]:
    for measure in Measure:
        ours = [each for each in listed if each.measure is measure]
        if ours:
            yield Content.styled(measure.value, "$chalk")
        for each in ours:
            shown = "{:.2f}".format if measure is Measure.TIME else _hundredths
            estimate = each.estimate
            value = "-" if estimate.value is None else shown(estimate.value)
            spread = ""
            if estimate.low is not None:
                high = "open" if estimate.high is None else shown(estimate.high)
                spread = f"{shown(estimate.low)} to {high}"
            winner = each.first if each.verdict.value == "first better" else each.second
            told = f"better: {winner}" if each.verdict.value != "cannot tell" else "cannot tell"
            if not each.same_people:
                told += _beside_different(each)
            named = winner if told != "cannot tell" else ""
            yield _row(each.first, each.second, estimate.n, value, spread, (each.p, each.p_adjusted), told, named)


def _beside_different(each: Comparison) -> str:
    """The tests that stand beside those of different people."""
    parts = ["different people"]
    if each.rank_p is not None:
        parts.append(f"Mann-Whitney {_p(each.rank_p)}")
    if each.censored_p is not None:
        parts.append(f"log-rank {_p(each.censored_p)}")
    return f" ({', '.join(parts)})"


def _preferred(found: Preference | None) -> Iterator[Content]:
    if found is None:
        return
    ranks = ", ".join(f"{chair} {rank:.1f}" for chair, rank in found.mean_ranks.items())
    friedman = "" if found.p is None else f"; Friedman p {_p(found.p)}"
    yield Content("")
    yield Content.styled("order of preference", "bold $lamp")
    yield Content.styled(f"  mean ranks of {found.people} whole orders: {ranks or 'none'}{friedman}", "$chalk")
    for pair in found.pairs:
        said = f"    {pair.first} - {pair.second}   {pair.for_first} to {pair.for_second}"
        yield Content.styled(f"{said:<30}sign test p {_p(pair.p)}, Holm {_p(pair.p_adjusted)}", "$chalk")


def _row(
    first: str,
    second: str,
    people: int,
    value: str,
    spread: str,
    p: tuple[float | None, float | None],
    said: str,
    winner: str,
) -> Content:
    """A line of the table; `p` is the raw one, and the one after Holm."""
    colour = "$moss" if winner else "$thread"
    return Content.assemble(
        (f"    {first} - {second}   ", "$chalk"),
        (f"{people:>4}{value:>11}{spread:>20}{_p(p[0]):>8}{_p(p[1]):>8}  ", "$chalk"),
        (clipped(legible(said), 60), colour),
    )


def _p(value: float | None) -> str:
    return "-" if value is None else "<.001" if value < 0.001 else f"{value:.3f}".lstrip("0") if value < 1 else "1"


def _ratio(value: float) -> str:
    return f"{exp(value):.2f}"


def _hundredths(value: float) -> str:
    return f"{100 * value:+.0f}"


def _points(measure: OverallMeasure) -> Callable[[float], str]:
    return "{:+.1f}".format if measure in ("ease", "satisfaction") else _hundredths
