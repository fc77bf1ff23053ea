"""Sentences on elapsed time over all tasks, with the machine's share in it."""

from math import exp

from fresh_chair.core.figures.overall.estimates import OverallVerdict, VerdictKind
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.catalogue import ENGLISH, Words


def elapsed_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[str]:
    """How chairs compare by elapsed time, a pair each; it is secondary, and a family of its own."""
    if weighing.elapsed is None:
        return [words.say("All figures of times here are elapsed time; they stand with all tasks.")]
    titles = {chair.letter: chair.title for chair in weighing.study.chairs}
    return [_sentence(verdict, titles, words) for verdict in weighing.elapsed.verdicts]


def _sentence(verdict: OverallVerdict, titles: dict[str, str], words: Words) -> str:
    pair = verdict.estimate
    first, second = titles[pair.first], titles[pair.second]
    if verdict.low is None or verdict.high is None or verdict.why:
        return words.say("{first} and {second}: cannot tell; {why}.", first=first, second=second, why=verdict.why)
    low, high, slower, faster = verdict.low, verdict.high, first, second
    if (pair.value or 0.0) < 0:
        low, high, slower, faster = -high, -low, second, first
    reach = words.say(
        "from {low} to {high} times as long at {slower} as at {faster} ({level})",
        low=f"{exp(low):.2f}",
        high=f"{exp(high):.2f}",
        slower=slower,
        faster=faster,
        level=words.say("{level} % interval", level=round(100 * verdict.level)),
    )
    if verdict.winner:
        return words.say("{winner} is better: {reach}.", winner=titles[verdict.winner], reach=reach)
    if verdict.said is VerdictKind.ALIKE:
        return words.say("{first} and {second} are alike: {reach}.", first=first, second=second, reach=reach)
    return words.say("{first} and {second}: cannot tell; {reach}.", first=first, second=second, reach=reach)
