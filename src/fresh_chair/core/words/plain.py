"""The answer in plain words, for people who decide: no statistics are named, and nothing is said more surely for it."""

from collections.abc import Sequence
from math import ceil, exp

from fresh_chair.core.figures.estimate import too_wide
from fresh_chair.core.figures.overall.estimates import OverallMeasure, OverallVerdict, VerdictKind
from fresh_chair.core.figures.thresholds import HeldThreshold
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.completion import opposite_words
from fresh_chair.core.words.reasons import reason_words

# No more people than this are promised to settle anything.
_MOST_PEOPLE = 500


def plain_verdict(measure: OverallMeasure, verdict: OverallVerdict, first: str, second: str, words: Words) -> str:
    """One pair on the main measure, in a sentence that a person says.

    Args:
        measure: The measure.
        verdict: The pair's verdict.
        first, second: The titles of its chairs.
        words: The language.
    """
    pair = verdict.estimate
    titles = {pair.first: first, pair.second: second}
    mixed = opposite_words(verdict, titles, words)
    if mixed:
        return words.say("{first} and {second} are mixed: {mixed}.", first=first, second=second, mixed=mixed)
    if verdict.said is VerdictKind.CANNOT_TELL and verdict.before is not None:
        return words.say(
            "{first} and {second}: nobody can say yet which serves people better; {why}.",
            first=first,
            second=second,
            why=reason_words(verdict.why, words),
        )
    if verdict.said is VerdictKind.ALIKE:
        return _plain_alike(measure, first, second, words)
    if verdict.said is VerdictKind.CANNOT_TELL:
        if verdict.low is None or verdict.high is None:
            return words.say("{first} and {second}: too little is known to compare them.", first=first, second=second)
        return words.say(
            "{first} and {second}: nobody can say yet which serves people better.", first=first, second=second
        )
    winner, other = (first, second) if verdict.winner == pair.first else (second, first)
    if verdict.said is VerdictKind.BETTER_BY_MARGIN:
        return words.say("{winner} served people better than {other}, by enough to matter.", winner=winner, other=other)
    if verdict.said is VerdictKind.BETTER_BY_LESS:
        return words.say(
            "{winner} served people a little better than {other}, by less than was decided to matter.",
            winner=winner,
            other=other,
        )
    return words.say(
        "{winner} served people better than {other}; whether by enough to matter is open.", winner=winner, other=other
    )


def _plain_alike(measure: OverallMeasure, first: str, second: str, words: Words) -> str:
    """Alike, on a measure that is named: equal ease says nothing of how far people got."""
    if measure == "ease":
        return words.say(
            "People found {first} and {second} equally easy: any difference is smaller than was decided to matter.",
            first=first,
            second=second,
        )
    if measure == "satisfaction":
        return words.say(
            "People gave {first} and {second} as many points: any difference is smaller than was decided to matter.",
            first=first,
            second=second,
        )
    return words.say(
        "{first} and {second} served people alike: any difference is smaller than was decided to matter.",
        first=first,
        second=second,
    )


def plain_measure(measure: OverallMeasure, words: Words = ENGLISH) -> str:
    """The subject of a measure, in plain words."""
    return {
        "who fared better": words.say("how people fared at their tasks"),
        "completed unaided": words.say("how many tasks people did alone"),
        "completed": words.say("how many tasks people did, alone or with help"),
        "time": words.say("how long people took"),
        "ease": words.say("how easy people found their tasks"),
        "satisfaction": words.say("what people said in the questionnaire"),
    }[measure]


def plain_reach(measure: OverallMeasure, verdict: OverallVerdict, first: str, second: str, words: Words) -> str:
    """From where to where the difference of a pair may go; empty where nothing is known of it."""
    low, high = verdict.low, verdict.high
    # Mixed and taken back say their own numbers; this interval would speak for the measure alone.
    if low is None or high is None or verdict.before is not None:
        return ""
    if measure == "time" and too_wide(exp(low), exp(high)):
        return words.say("How much longer people take at either cannot be said from so few.")
    if (verdict.estimate.value or 0.0) < 0:
        low, high, first, second = -high, -low, second, first
    if measure == "time":
        return words.say(
            "People may take anything from {low} to {high} times as long at {slower} as at {faster}.",
            low=words.number(exp(low), ".1f"),
            high=words.number(exp(high), ".1f"),
            slower=first,
            faster=second,
        )
    if measure in ("ease", "satisfaction"):
        shape = ".1f" if measure == "ease" else ".0f"
        top = 7 if measure == "ease" else 100
        return words.say(
            "{first} may lie anything from {low} to {high} of {top} above {second}.",
            first=first,
            second=second,
            low=words.number(low, f"+{shape}"),
            high=words.number(high, f"+{shape}"),
            top=top,
        )
    ends = [words.number(100 * min(abs(each), 1.0), ".0f") for each in (low, high)]
    named = {"low": ends[0], "high": ends[1], "first": first, "second": second}
    if measure == "who fared better":
        if low < 0:
            return words.say(
                "Of 100 tasks, anything from {low} fewer to {high} more may go better at {first} than at {second}.",
                **named,
            )
        return words.say(
            "Of 100 tasks, anything from {low} to {high} more go better at {first} than at {second}.", **named
        )
    if low < 0:
        return words.say(
            "Of 100 tasks, anything from {low} fewer to {high} more may be done at {first} than at {second}.", **named
        )
    return words.say("Of 100 tasks, anything from {low} to {high} more are done at {first} than at {second}.", **named)


def people_needed(verdict: OverallVerdict) -> int | None:
    """How many people at both chairs would make this pair's interval as narrow as its margin, about.

    Assumes that further people differ as these did; the width of an interval goes with one over the square root of
    the number of people.

    Returns:
        The number, never fewer than there were; None where nothing is known of the pair, it is settled, or so many
        people are never found.

    Source: Student (1908). The probable error of a mean. Biometrika 6, 1-25.
    """
    low, high, people = verdict.low, verdict.high, verdict.estimate.people
    if low is None or high is None or verdict.said is not VerdictKind.CANNOT_TELL or not verdict.margin or people < 2:
        return None
    if verdict.before is not None:
        return None
    needed = ceil(people * ((high - low) / 2 / verdict.margin) ** 2)
    return max(needed, people + 1) if needed <= _MOST_PEOPLE else None


def plain_threshold(each: HeldThreshold, words: Words = ENGLISH) -> str:
    """The demand of a threshold, in plain words."""
    level = words.number(each.threshold.value)
    share = words.number(100 * each.threshold.value, ".0f")
    return {
        "completion": words.say("{share} of 100 tasks are done, alone or with help", share=share),
        "time": words.say("a task takes at most {level} times as long as it takes one who knows it", level=level),
        "ease": words.say("people find a task at least {level} of 7 easy", level=level),
        "satisfaction": words.say("people give at least {level} of 100 on the questionnaire", level=level),
        "severity": words.say("no trouble is worse than {level} of 4", level=level),
    }[each.threshold.measure]


def plain_figure(each: HeldThreshold, words: Words = ENGLISH) -> str:
    """The figure a threshold stands on, in plain words; empty for none."""
    estimate, measure = each.estimate, each.threshold.measure
    if estimate.value is None:
        return ""
    if measure == "severity":
        return words.say("worst {severity} of 4", severity=words.number(estimate.value, ".0f"))
    times = 100.0 if measure == "completion" else 1.0
    shape = ".0f" if measure in ("completion", "satisfaction") else ".1f"
    value = words.number(times * estimate.value, shape)
    if estimate.low is None or estimate.high is None:
        return value
    ends = [words.number(times * end, shape) for end in (estimate.low, estimate.high)]
    return words.say("{value}, anything from {low} to {high}", value=value, low=ends[0], high=ends[1])


def plain_turning(weighing: Weighing, ways: Sequence[tuple[str, str]], words: Words = ENGLISH) -> list[str]:
    """The ways in which the answer turns, in plain words."""
    said: dict[str, str] = {
        "only chairs proved fresh": words.say("when only sittings at machines that were proved fresh are counted"),
        "help not completed": words.say("when a task done with help is not counted as done"),
        "the other time": words.say("when the machine's waits are counted as well")
        if weighing.choice.times == "hands"
        else words.say("when the machine's waits are left out"),
        "without tries after a void": words.say("when second tries are left out"),
        "the pair's own scatter": words.say("when each two machines are judged by their own people alone"),
    }
    found = []
    for way, person in ways:
        told = words.say("without {person}", person=person) if person else said.get(way, "")
        if told:
            found.append(told)
    return list(dict.fromkeys(found))
