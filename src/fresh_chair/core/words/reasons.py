"""Reasons and labels that figures carry in English, in another language: each is one of these forms."""

import re
from functools import cache

from fresh_chair.core.words.catalogue import Words

# The notes of estimates, the reasons that nothing can be told, and what is said of a scorecard's facts.
REASONS = (
    "no finding was rated by two",
    "all ratings are equal, so that nothing tells agreement from habit",
    "no attempts",
    "no values",
    "no times",
    "no time varies",
    "fewer than half were done: no median",
    "one completed: no interval",
    "upper end open",
    "one value: no interval",
    "one time: no interval",
    "all values equal: no interval",
    "all times equal: no interval",
    "faster among those who finished, but not once those who did not are counted as the limit",
    "faster among those who finished, but fewer finished",
    "order and chair cannot be told apart",
    "too few sittings are left once people and positions are taken out",
    "on balance nobody differs",
    "on balance nobody differs, by opposite differences",
    "everybody differs in the same way, and without scatter nothing says how sure that is",
    "tasks and chairs cannot be told apart",
    "too few attempts are left once sittings and tasks are taken out",
    "only {count} of {tasks} tasks were done at both by two people or more",
    "only {count} of {tasks} tasks were completed at both by two people or more",
    "only {count} of {tasks} tasks were rated at both by two people or more",
    "even on balance, but completion may differ by more than matters",
    "more tasks went better at one, but completion may differ by more than matters",
    "alike among those who finished, but fewer may have finished at one",
    "nobody was asked for a rating",
    "nobody was asked for it",
    "the interval spans more than a hundredfold and says nothing",
    "the times differ alike, to the grain of the clock: no interval",
    "too few people were at both",
    "{count} people were at both, and it takes {needed}",
    "all of them sat at the same one first",
    "no attempt has a value",
    "no attempt was completed",
    "too few attempts for a fit of times",
    "the fit of times did not settle",
    "every sitting, or none, began at a chair that was proved fresh",
    "nobody was helped",
    "no machine's share was logged",
    "no try came after a void one",
    "{count} not judged",
    "{count} remark not sorted",
    "{count} remarks not sorted",
    "{count} not judged, {rest}",
    "no expected route",
    "{names} are both mapped from {figure}",
    "{names} both rest on {things}",
    "severity {severity}",
    "nobody tried",
    "look again at {finding}",
    "{card}, at {chair}",
)
# The headings and the values of what is on record of chairs; some are told together, with signs between.
LABELS = (
    "findings met by newcomers", "strength", "oddity", "taste", "request", "readings", "readings of earlier releases",
    "creep", "grew", "claims", "defaults and consent", "warnings", "looks of programs", "changes of a release", "found",
    "announced", "still to come", "inventory", "findings of its earlier release", "not met yet", "excused",
    "the reviewer's walks, in no figure", "unaided", "helped", "partly", "gave up", "out of time", "blocked", "void",
    "looked at", "not tried", "nothing for it", "open", "new", "known", "changed", "gone", "back again",
    "distribution", "release", "edition", "kernel", "desktop", "session", "processor", "memory", "machine", "display",
    "graphics", "disk", "reserved on disk", "package formats", "software sources", "default web", "default mail",
    "default pictures", "default text", "default music", "default video", "programs", "updates waiting", "language",
    "keyboard", "base", "real", "virtual", "the surroundings of running programs", "which commands are there",
    "their configuration", "entries of the menus", "the keyboard's configuration", "asked", "silent", "on", "off",
    "hunch", "forecast", "came true", "did not", "cannot be told", "everyone", "stands", "missing",
)  # fmt: skip


def reason_words(reason: str, words: Words) -> str:
    """A reason in a language; one of no known form stays as it is.

    >>> from fresh_chair.core.words.catalogue import ENGLISH
    >>> reason_words("3 people were at both, and it takes 4", ENGLISH)
    '3 people were at both, and it takes 4'
    """
    for form, message in _forms():
        match = form.fullmatch(reason)
        if match is not None:
            given = {name: reason_words(value, words) for name, value in match.groupdict().items()}
            return words.say(message, **given)
    return reason


def label_words(label: str, words: Words) -> str:
    """A label in a language: whole where it is a message, otherwise its parts between numbers and signs."""
    if label in _labels():
        return words.say(label)
    parts = re.split(r"( ?[(),;] ?| ?\d+ ?)", label)
    return "".join(words.say(part) if part and not re.fullmatch(r"[\d(),; ]+", part) else part for part in parts)


@cache
def _forms() -> tuple[tuple[re.Pattern[str], str], ...]:
    """The reasons as forms, the longest first, since a value may hold a shorter one."""
    found = []
    for message in sorted(REASONS, key=len, reverse=True):
        pieces = re.split(r"\{(\w+)\}", message)
        # A count is a number, whatever else is words.
        said = [
            re.escape(piece) if at % 2 == 0 else f"(?P<{piece}>{_NUMBER if piece in _NUMBERS else '.+'})"
            for at, piece in enumerate(pieces)
        ]
        found.append((re.compile("".join(said)), message))
    return tuple(found)


_NUMBER = r"\d+"
_NUMBERS = ("count", "needed", "severity")


@cache
def _labels() -> frozenset[str]:
    return frozenset(LABELS)
