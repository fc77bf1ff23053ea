"""Observations that belong together by their words: the same words, and words that look alike."""

import re
from collections.abc import Callable, Iterable, Sequence
from functools import lru_cache

from fresh_chair.core.findings.observations import Observation

# How close two texts must be to be offered, from 0 (nothing in common) to 1 (the same).
LEAST = 0.6
_MARKS = re.compile(r"[^\w\s]+", re.UNICODE)
Closeness = Callable[[str, Sequence[str]], Sequence[float]]


@lru_cache(maxsize=20_000)
def words_key(words: str) -> str:
    """Words without capitals, marks and doubled spaces: observations of one key are taken up together.

    >>> words_key(' "Has it  stopped?" ')
    'has it stopped'
    """
    return " ".join(_MARKS.sub(" ", words).casefold().split())


def same_words(observation: Observation, others: Iterable[Observation]) -> list[Observation]:
    """The others that say the same, and are of the same kind; none where nothing was said."""
    key = words_key(observation.words)
    if not key:
        return []
    return [
        each
        for each in others
        if each.target != observation.target and each.kind == observation.kind and words_key(each.words) == key
    ]


def alike(words: str, others: Sequence[str], closeness: Closeness, *, least: float = LEAST) -> list[tuple[int, float]]:
    """The others that look alike, the closest first, each as its index and how close it is.

    Args:
        words: The words they are held against.
        others: The other texts.
        closeness: How close words are to each of several others, from 0 to 1.
        least: How close one must be to be offered.
    """
    key = words_key(words)
    if not key or not others:
        return []
    found = [(index, close) for index, close in enumerate(closeness(key, [words_key(o) for o in others]))]
    return sorted(((index, close) for index, close in found if close >= least), key=lambda each: (-each[1], each[0]))
