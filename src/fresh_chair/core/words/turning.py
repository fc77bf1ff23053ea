"""Sentences on whether a verdict would turn, and on everything that was tried."""

from math import exp

from fresh_chair.core.figures.overall.estimates import OverallMeasure, Turning, VerdictKind, WayTried
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.reasons import reason_words


def turning_sentences(weighing: Weighing, turning: Turning, words: Words = ENGLISH) -> tuple[str, ...]:
    """Everything that turns first, each named; then all that does not; then all that could not be tried."""
    titles = {chair.letter: chair.title for chair in weighing.study.chairs}
    said = [
        words.say(
            "It turns {way}: {first} and {second}, {how}.",
            way=way_words(each, words, times=weighing.choice.times),
            first=titles[first],
            second=titles[second],
            how=turned_words(how, words),
        )
        for each in turning.ways
        for first, second, how in each.turned
    ]
    said += _ranges(weighing, turning, titles, words)
    if all(each.said is VerdictKind.CANNOT_TELL for each in weighing.overall[turning.measure].verdicts):
        return (*said, words.say("Nothing was told that could turn."))
    held = [each for each in turning.ways if not each.turned and not each.why and not each.person and each.values]
    people = [each for each in turning.ways if each.person]
    stood = [way_words(each, words, times=weighing.choice.times) for each in held]
    if people and not any(each.turned for each in people):
        stood.insert(0, words.say("without any one person"))
    if stood:
        said.append(words.say("It does not turn {ways}.", ways="; ".join(stood)))
    empty = [
        f"{way_words(each, words, times=weighing.choice.times)} ({reason_words(each.why, words)})"
        for each in turning.ways
        if each.why
    ]
    if empty:
        said.append(words.say("Not tried: {ways}.", ways="; ".join(empty)))
    return tuple(said)


def _ranges(weighing: Weighing, turning: Turning, titles: dict[str, str], words: Words) -> list[str]:
    """From where to where each pair goes with one person less."""
    return [
        words.say(
            "With one person less {first} against {second} goes from {low} to {high}.",
            first=titles[first],
            second=titles[second],
            low=_value(turning.measure, low, words),
            high=_value(turning.measure, high, words),
        )
        for first, second, low, high in turning.ranges
    ]


def _value(measure: OverallMeasure, value: float, words: Words) -> str:
    if measure == "time":
        return words.say("{ratio}-fold", ratio=words.number(exp(value), ".2f"))
    if measure in ("ease", "satisfaction"):
        return words.number(value, "+.1f")
    return words.number(100 * value, "+.0f")


def way_words(each: WayTried, words: Words = ENGLISH, *, times: str = "hands") -> str:
    """One way of making the comparison again, in words."""
    if each.person:
        return words.say("without {person}", person=each.person)
    return {
        "one person out": "",
        "only chairs proved fresh": words.say("with only sittings at chairs that were proved fresh"),
        "help not completed": words.say("with help counted as not completed"),
        "the other time": words.say("by elapsed instead of hands time")
        if times == "hands"
        else words.say("by hands instead of elapsed time"),
        "without tries after a void": words.say("without tries after a void one"),
        "the pair's own scatter": words.say("by each pair's own people alone"),
    }[each.way]


def turned_words(how: str, words: Words = ENGLISH) -> str:
    """How a verdict turns."""
    return {
        "the difference changes side": words.say("the difference changes side"),
        "the difference comes inside the margin": words.say("the difference comes inside the margin"),
        "the difference goes beyond the margin": words.say("the difference goes beyond the margin"),
    }[how]
