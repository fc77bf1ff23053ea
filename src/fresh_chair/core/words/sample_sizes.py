"""Sentences about how many people a study needs, and about the power of its number."""

from fresh_chair.core.figures.sample_size import chance_to_see, half_width, reached
from fresh_chair.core.plan.aims import Aim
from fresh_chair.core.words.catalogue import ENGLISH, Words


def power_sentences(people: int, see: Aim, ratio: Aim, spread: float, words: Words = ENGLISH) -> tuple[str, ...]:
    """The power and limits of a number of people.

    Args:
        people: How many sit at each chair.
        see: The aim of meeting a trouble, with the share it trips.
        ratio: The aim of telling two chairs' times apart.
        spread: How much the log ratio of two chairs' times varies over people.
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
            "They show that one chair takes {ratio} times as long as another, with 80 % power; a smaller difference "
            "is likely to stay unseen.",
            ratio=f"{reached(ratio, people, spread):.1f}",
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


def basis_sentence(pairs: int, words: Words = ENGLISH) -> str:
    """Where the spread of times comes from."""
    if pairs:
        return words.say("Times are taken to vary as they did in this study so far ({pairs} pairs).", pairs=pairs)
    return words.say(
        "Until ten pairs of times are known here, they are taken to vary by a usual amount (docs/figures.md)."
    )
