"""Thresholds in words: met, not met or open at each chair, with the interval that says so."""

from datetime import UTC, datetime

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.thresholds import Held, HeldThreshold
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import Measure, Threshold
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.reasons import reason_words

# How a value of each measure is written, and what it is multiplied by.
_SHAPES: dict[Measure, tuple[str, float]] = {
    "completion": (".0f", 100.0),
    "time": (".1f", 1.0),
    "ease": (".1f", 1.0),
    "satisfaction": (".0f", 1.0),
    "severity": (".0f", 1.0),
}


NO_THRESHOLDS = "Nothing was decided beforehand to be good enough; the study sheet has a field for it, for next time."


@frozen
class ThresholdLine:
    """One threshold with its chairs: letter, state, state in words, and the figure it stands on."""

    threshold: str
    chairs: tuple[tuple[str, Held, str, str], ...]


def threshold_lines(weighing: Weighing, words: Words = ENGLISH) -> list[ThresholdLine]:
    """Every threshold of the study sheet, in its order; none where none was decided."""
    found = []
    for threshold in weighing.study.sheet.thresholds:
        here = [each for each in weighing.thresholds if each.threshold == threshold]
        chairs = [(each.chair, each.held, held_words(each.held, words), held_figure(each, words)) for each in here]
        found.append(ThresholdLine(threshold_words(threshold, words), tuple(chairs)))
    return found


def threshold_words(threshold: Threshold, words: Words = ENGLISH) -> str:
    """A threshold as it is spoken of."""
    level, share = words.number(threshold.value), words.number(100 * threshold.value, ".0f")
    return {
        "completion": words.say("at least {share} % of attempts completed, unaided or with help", share=share),
        "time": words.say("hands time at most {level} times the expert's", level=level),
        "ease": words.say("an ease of at least {level} of 7", level=level),
        "satisfaction": words.say("a System Usability Scale of at least {level} of 100", level=level),
        "severity": words.say("no finding more severe than {level}", level=level),
    }[threshold.measure]


def threshold_heading(weighing: Weighing, words: Words = ENGLISH) -> str:
    """When the thresholds were decided."""
    if not weighing.thresholds_late:
        return words.say("Good enough, as decided beforehand.")
    days = [f"{datetime.fromtimestamp(wall / 1e9, UTC):%Y-%m-%d}" for wall in weighing.thresholds_late]
    return words.say("Good enough; changed after the first sitting ({days}).", days=", ".join(dict.fromkeys(days)))


def held_words(held: Held, words: Words = ENGLISH) -> str:
    """A state in words."""
    return {"met": words.say("met"), "not met": words.say("not met"), "open": words.say("open")}[held]


def held_figure(each: HeldThreshold, words: Words = ENGLISH) -> str:
    """The figure a threshold stands on, with its interval and n."""
    estimate, measure = each.estimate, each.threshold.measure
    if measure == "severity":
        return _severity(estimate, words)
    if estimate.value is None:
        return words.say("no figure yet")
    shape, of = _SHAPES[measure]
    unit = {"completion": " %", "time": words.say("-fold where completed")}.get(measure, "")
    value = words.number(of * estimate.value, shape)
    if estimate.low is None or estimate.high is None:
        return words.say("{value}{unit}, n {count}, no interval", value=value, unit=unit, count=estimate.n)
    interval = words.interval(estimate.low, estimate.high, shape, of=of)
    return words.say(
        "{value}{unit} ({interval}), n {count}", value=value, unit=unit, interval=interval, count=estimate.n
    )


def _severity(estimate: Estimate, words: Words) -> str:
    worst = words.say("no problem judged") if estimate.value is None else ""
    worst = worst or words.say("worst {severity} of 4", severity=f"{estimate.value:.0f}")
    return f"{worst}; {reason_words(estimate.note, words)}" if estimate.note else worst
