"""Sentences on elapsed time over all tasks, with the machine's share in it."""

from dataclasses import replace

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.overall import overall_words


def elapsed_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[str]:
    """How chairs compare by elapsed time, a pair each; it is secondary, and a family of its own."""
    if weighing.elapsed is None:
        return [words.say("All figures of times here are elapsed time; they stand with all tasks.")]
    by_elapsed = replace(weighing, overall={**weighing.overall, "time": weighing.elapsed})
    return [each.whole for each in overall_words(by_elapsed, words).sentences if each.measure == "time"]
