"""Sentences about how many people a study needs, and about the power of its number."""

from collections.abc import Mapping

from fresh_chair.core.figures.overall.estimates import OverallMeasure
from fresh_chair.core.figures.sample_size import chance_to_see, half_width
from fresh_chair.core.plan.aims import Aim
from fresh_chair.core.words.catalogue import ENGLISH, Words


def power_sentences(people: int, see: Aim, words: Words = ENGLISH) -> tuple[str, ...]:
    """The power and limits of a number of people at each chair.

    Args:
        people: How many sit at each chair.
        see: The aim of meeting a trouble, with the share it trips.
        words: The language.
    """
    return (
        words.say(
            "They meet something that trips a third of newcomers with a chance of {third}, something that trips one "
            "in ten with {tenth}.",
            third=f"{chance_to_see(see.target, people):.0%}",
            tenth=f"{chance_to_see(0.1, people):.0%}",
        ),
        words.say(
            "A completion rate of theirs is known to within {points} points either way, at the worst.",
            points=f"{100 * half_width(people):.0f}",
        ),
    )


def aim_sentence(aim: Aim, people: int, needed: int, words: Words = ENGLISH) -> str:
    """Whether a number of people reaches an aim."""
    said = words.say(aim.words)
    if people >= needed:
        return words.say("Enough to {aim}.", aim=said)
    return words.say(
        "Too few to {aim}: that takes {needed}, {missing} more.", aim=said, needed=needed, missing=needed - people
    )


def apart_words(measure: OverallMeasure, difference: float, words: Words = ENGLISH) -> str:
    """How the one worse chair is taken to differ from all others."""
    told: Mapping[OverallMeasure, str] = {
        "who fared better": words.say("takes {size} times as long", size=f"{difference:g}"),
        "time": words.say("takes {size} times as long", size=f"{difference:g}"),
        "completed unaided": words.say("is completed {size} points less often", size=f"{difference:g}"),
        "completed": words.say("is completed {size} points less often", size=f"{difference:g}"),
        "ease": words.say("is {size} points less easy", size=f"{difference:g}"),
        "satisfaction": words.say("is {size} points lower on the scale", size=f"{difference:g}"),
    }
    return told[measure]


def assumption_sentences(
    completing: float, attempts: int, spread: float, times: int, words: Words = ENGLISH
) -> tuple[str, ...]:
    """The assumptions about a plan's outcome, and from where they are known.

    Args:
        completing: The share of attempts that are not given up.
        attempts: Of how many attempts of this study; 0 where it is a usual share.
        spread: Standard deviation of the log ratio of one person's times at two chairs.
        times: From how many pairs of times; 0 where it is the usual one.
        words: The language.
    """
    share = f"{completing:.0%}"
    return (
        words.say("{share} of attempts are not given up, as in {count} so far.", share=share, count=attempts)
        if attempts
        else words.say("{share} of attempts are taken not to be given up.", share=share),
        words.say(
            "Times vary over people as in {count} pairs so far (spread {spread} of the log ratio).",
            count=times,
            spread=words.number(spread, ".2f"),
        )
        if times
        else words.say(
            "Times are taken to vary over people by a usual amount (spread {spread} of the log ratio).",
            spread=words.number(spread, ".2f"),
        ),
    )


def advice_sentence(words: Words = ENGLISH) -> str:
    """How many people a comparison takes by experience of the rule."""
    return words.say(
        "From 4 people at both chairs the rule can speak; 8 find a 2-fold difference of times and 12 a 1.5-fold one. "
        "That two chairs are alike within 1.25-fold is out of reach below 20 people."
    )
