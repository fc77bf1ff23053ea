"""Completion in words, as it stands beside a verdict on another measure."""

from collections.abc import Iterator, Mapping

from fresh_chair.core.figures.overall.estimates import (
    EVEN_BY_OPPOSITES,
    NOTHING,
    CompletionBeside,
    OverallMeasure,
    OverallVerdict,
    VerdictKind,
)
from fresh_chair.core.figures.overall.verdicts import ALPHA
from fresh_chair.core.words.catalogue import ENGLISH, Words

# Alike in one of these says nothing of how much people got done.
_APART: tuple[OverallMeasure, ...] = ("ease", "satisfaction")


def completion_stands_beside(measure: OverallMeasure, verdict: OverallVerdict, margin: float) -> bool:
    """Whether completion has to be told together with a verdict.

    Args:
        measure: The measure of the verdict.
        verdict: One pair's.
        margin: The smallest difference of completion that matters, a share of 1.
    """
    if measure in ("time", "who fared better"):
        told = verdict.winner or verdict.before is not None or verdict.said is VerdictKind.ALIKE
        return bool(told or verdict.why == EVEN_BY_OPPOSITES)
    if measure in _APART:
        return verdict.said is VerdictKind.ALIKE and any(_differs(each, margin) for each in verdict.completions)
    return False


def _differs(beside: CompletionBeside, margin: float) -> bool:
    far = beside.value is None or abs(beside.value) >= margin - NOTHING
    return far or beside.p_adjusted < ALPHA


def completion_sentences(
    measure: OverallMeasure, verdict: OverallVerdict, titles: Mapping[str, str], margin: float, words: Words = ENGLISH
) -> Iterator[str]:
    """Completion beside a verdict: strict always, lenient where it stands against it.

    Args:
        measure: The measure of the verdict.
        verdict: One pair's.
        titles: Of the chairs, by letter.
        margin: The smallest difference of completion that matters, a share of 1.
        words: The language.
    """
    if not completion_stands_beside(measure, verdict, margin):
        return
    for beside in verdict.completions:
        told = beside.measure == "completed unaided" or beside.measure == verdict.against
        if not told and measure in _APART:
            told = _differs(beside, margin)
        if told:
            yield completion_sentence(beside, verdict, titles, words)


def completion_sentence(
    beside: CompletionBeside, verdict: OverallVerdict, titles: Mapping[str, str], words: Words = ENGLISH
) -> str:
    """The completion seen at either chair, and by how much it differs.

    Args:
        beside: Strict or lenient completion.
        verdict: The pair it stands beside.
        titles: Of the chairs, by letter.
        words: The language.
    """
    seen = completed_seen(beside, verdict, titles, words)
    # A mixed verdict has told the difference itself.
    mixed = verdict.said is VerdictKind.MIXED and beside.measure == verdict.against
    differs = "" if mixed else completion_difference(beside, verdict, titles, words)
    return words.say("{seen}; {differs}.", seen=seen, differs=differs) if differs else f"{seen}."


def completed_seen(
    beside: CompletionBeside, verdict: OverallVerdict, titles: Mapping[str, str], words: Words = ENGLISH
) -> str:
    """How many tasks were completed at either chair, of those that each person attempted at both."""
    named = {
        "done": beside.done[0],
        "tried": beside.tried[0],
        "first": titles[verdict.estimate.first],
        "other": beside.done[1],
        "all": beside.tried[1],
        "second": titles[verdict.estimate.second],
    }
    if not beside.tried[0]:
        return words.say("Nobody attempted the same task at {first} and {second}", **named)
    if beside.measure == "completed unaided":
        return words.say("Completed unaided: {done} of {tried} at {first}, {other} of {all} at {second}", **named)
    return words.say(
        "Completed, alone or with help: {done} of {tried} at {first}, {other} of {all} at {second}", **named
    )


def completion_difference(
    beside: CompletionBeside, verdict: OverallVerdict, titles: Mapping[str, str], words: Words = ENGLISH
) -> str:
    """The difference of completion with its interval, on the side of the chair with more; empty for none."""
    if beside.value is None:
        return ""
    low, high, value = beside.low, beside.high, beside.value
    more = titles[verdict.estimate.first if value >= 0 else verdict.estimate.second]
    if value < 0:
        low, high = (None if high is None else -high), (None if low is None else -low)
    count = words.number(100 * abs(value), ".0f")
    if not value and (low is None or high is None):
        return words.say("no difference")
    if low is None or high is None:
        return words.say("{count} of 100 more at {chair}, without an interval", count=count, chair=more)
    return words.say(
        "{count} of 100 more at {chair} (95 %: {low} to {high})",
        count=count,
        chair=more,
        low=_points(low, words),
        high=_points(high, words),
    )


def _turned(value: float, low: float | None, high: float | None) -> tuple[float, float]:
    """An interval on the side of its value, so that it is read as so many more."""
    near, far = low or 0.0, high or 0.0
    return (near, far) if value >= 0 else (-far, -near)


def _points(share: float, words: Words) -> str:
    return words.number(100 * min(max(share, -1.0), 1.0), ".0f")


def opposite_words(verdict: OverallVerdict, titles: Mapping[str, str], words: Words = ENGLISH) -> str:
    """A mixed verdict by its two opposite differences; empty where a pair is not mixed.

    Args:
        verdict: The pair's verdict on who fared better.
        titles: Of the chairs, by letter.
        words: The language.
    """
    beside = next((each for each in verdict.completions if each.measure == verdict.against), None)
    if verdict.said is not VerdictKind.MIXED or beside is None or beside.value is None:
        return ""
    pair = verdict.estimate
    more = pair.first if beside.value > 0 else pair.second
    low, high = sorted(
        abs(each) if beside.value * each > 0 else -abs(each) for each in (beside.low or 0, beside.high or 0)
    )
    named = {
        "count": words.number(100 * abs(beside.value), ".0f"),
        "low": _points(low, words),
        "high": _points(high, words),
        "more": titles[more],
    }
    alone = beside.measure == "completed unaided"
    if verdict.before is VerdictKind.ALIKE:
        completed = (
            words.say("{count} of 100 more were completed unaided at {more} (95 %: {low} to {high})", **named)
            if alone
            else words.say("{count} of 100 more were completed at {more} (95 %: {low} to {high})", **named)
        )
        faster = _faster(verdict, titles, words)
        return words.say(
            "even on balance by opposite differences; {completed}{faster}", completed=completed, faster=faster
        )
    ahead = titles[pair.first if (pair.value or 0.0) > 0 else pair.second]
    ends = sorted(
        abs(each) if (pair.value or 0.0) * each > 0 else -abs(each) for each in (verdict.low or 0, verdict.high or 0)
    )
    said = words.say(
        "more tasks went better at {ahead} ({level} %: {from_net} to {to_net} of 100 net)",
        ahead=ahead,
        level=round(100 * verdict.level),
        from_net=_points(ends[0], words),
        to_net=_points(ends[1], words),
    )
    fewer = (
        words.say("{count} of 100 fewer were completed unaided there (95 %: {low} to {high})", **named)
        if alone
        else words.say("{count} of 100 fewer were completed there (95 %: {low} to {high})", **named)
    )
    return words.say("{said}, but {fewer}", said=said, fewer=fewer)


def _faster(verdict: OverallVerdict, titles: Mapping[str, str], words: Words) -> str:
    time = next((part for part in verdict.parts if part.part == "time"), None)
    if time is None or abs(time.value) < NOTHING:
        return ""
    where = titles[verdict.estimate.first if time.value > 0 else verdict.estimate.second]
    net = words.number(100 * abs(time.value), ".0f")
    return words.say(", and of 100 tasks {net} net went faster at {chair}", net=net, chair=where)


def parts_sentence(verdict: OverallVerdict, titles: Mapping[str, str], words: Words = ENGLISH) -> str:
    """The net share of who fared better by its parts; empty where there are none."""
    by_name = {part.part: part.value for part in verdict.parts}
    if len(by_name) < 2:
        return ""
    return words.say(
        "Of 100 tasks, net for {first}: {outcome} by how far people got, {time} by time.",
        first=titles[verdict.estimate.first],
        outcome=words.number(100 * by_name["outcome"], "+.0f"),
        time=words.number(100 * by_name["time"], "+.0f"),
    )
