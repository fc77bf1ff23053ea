"""Did it happen: answers of a chair's state before and after an attempt; `parser` reads the language."""

import re
from collections.abc import Iterable, Mapping
from enum import StrEnum

from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

_NEEDS_BEFORE = ("changed", "changed to")


class Witnessed(StrEnum):
    """A chair's judgement of a check."""

    CONFIRMED = "confirmed"
    CONTRADICTED = "contradicted"
    CANNOT_TELL = "cannot tell"
    SO_BEFORE = "was so before"


@frozen
class Ask:
    """A question that a check puts to the chair.

    Attributes:
        subject: One of the subjects, or "setting".
        args: What names the thing; for a setting the back-end first.
    """

    subject: str
    args: tuple[str, ...] = ()

    @property
    def text(self) -> str:
        """The same in the language, as the question is called on its way."""
        return " ".join([self.subject, *(quoted(arg) for arg in self.args)])


@frozen
class Check:
    """One thing that must be so."""

    ask: Ask
    relation: str
    value: str = ""


@frozen
class CheckLine:
    """A line: confirmed where any of its alternatives is.

    Attributes:
        chairs: Letters of the chairs it is for; all where there are none.
    """

    text: str
    chairs: tuple[str, ...]
    any_of: tuple[Check, ...]

    def is_for(self, letter: str) -> bool:
        """Whether it is asked at this chair."""
        return not self.chairs or letter in self.chairs

    @property
    def commands(self) -> list[str]:
        """The commands of its author's own that it would run."""
        return [check.ask.args[0] for check in self.any_of if check.ask.subject == "command"]


@frozen
class Found:
    """A chair's answer: a value, not there, or the reason it could not be read."""

    value: str | None = None
    why: str = ""


@frozen
class Judged:
    """A chair's judgement of one line.

    Attributes:
        evidence: What was found, in words.
    """

    line: str
    witnessed: Witnessed
    evidence: str


def found_text(found: Found) -> str:
    """An answer in words."""
    if found.why:
        return found.why
    return "nothing there" if found.value is None else clipped(legible(found.value) or "empty", 80)


def holds(check: Check, found: Found, before: Found | None = None) -> bool | None:
    """Whether a check's condition holds of an answer; None where that cannot be said."""
    if found.why:
        return None
    value = found.value
    if check.relation == "changed":
        return None if before is None or before.why else before.value != value
    if check.relation in ("is there", "runs"):
        return value is not None
    if check.relation == "is gone":
        return value is None
    if check.relation == "is up":
        return value == "up"
    if check.relation == "is remembered":
        return value in ("up", "remembered")
    if check.relation == "opens":
        return value is not None and value.startswith("opens")
    return _compares(check, value)


def _compares(check: Check, value: str | None) -> bool | None:
    if value is None:
        # What is not there is not this, and nothing more can be said of it.
        return check.relation == "is not"
    plain = plain_value(value)
    if check.relation in ("is", "changed to"):
        return plain == plain_value(check.value)
    if check.relation == "is not":
        return plain != plain_value(check.value)
    if check.relation == "contains":
        return check.value.casefold() in plain.casefold()
    if check.relation == "matches":
        return matches(check.value, plain)
    number, limit = number_in(plain), number_in(check.value)
    if number is None or limit is None:
        return None
    return number > limit if check.relation == "above" else number < limit


def judged_one(check: Check, after: Found, before: Found | None = None) -> Witnessed:
    """The judgement of one condition.

    Args:
        after: What it answered now.
        before: What it answered before the attempt; None where it was not asked.
    """
    now = holds(check, after, before)
    if now is None:
        return Witnessed.CANNOT_TELL
    if not now:
        return Witnessed.CONTRADICTED
    if check.relation == "changed":
        return Witnessed.CONFIRMED
    was = None if before is None else holds(check, before)
    if was:
        return Witnessed.SO_BEFORE
    if check.relation in _NEEDS_BEFORE and was is None:
        return Witnessed.CANNOT_TELL
    return Witnessed.CONFIRMED


_STRONGEST = (Witnessed.CONFIRMED, Witnessed.SO_BEFORE, Witnessed.CONTRADICTED, Witnessed.CANNOT_TELL)


def judged(line: CheckLine, after: Mapping[str, Found], before: Mapping[str, Found] | None = None) -> Judged:
    """The judgement of a line: the strongest of its alternatives' judgements.

    Args:
        after: What it answered now, by the text of what was asked.
        before: What it answered before; None where it was not asked.
    """
    verdicts = []
    for check in line.any_of:
        key = check.ask.text
        now = after.get(key, Found(why="was not asked"))
        was = None if before is None else before.get(key)
        verdict = judged_one(check, now, was)
        evidence = f"{key}: {found_text(now)}"
        if was is not None and check.relation in _NEEDS_BEFORE:
            evidence += f" (before: {found_text(was)})"
        verdicts.append((verdict, evidence))
    best = min(verdicts, key=lambda each: _STRONGEST.index(each[0]))
    return Judged(line.text, best[0], best[1])


def overall(found: Iterable[Judged]) -> Witnessed:
    """The judgement of all lines of a card: confirmed only where every line is."""
    said = {each.witnessed for each in found}
    for verdict in (Witnessed.CONTRADICTED, Witnessed.CANNOT_TELL, Witnessed.SO_BEFORE):
        if verdict in said:
            return verdict
    return Witnessed.CONFIRMED if said else Witnessed.CANNOT_TELL


def plain_value(text: str) -> str:
    """A value without the marks that a settings store writes around it.

    >>> plain_value("'prefer-dark'"), plain_value("uint32 5"), plain_value("true")
    ('prefer-dark', '5', 'true')
    """
    text = re.sub(r"^(byte|u?int(16|32|64)|double|@[a-z{}()]+) ", "", text.strip())
    if len(text) >= 2 and text[0] == text[-1] and text[0] in "'\"":
        text = text[1:-1]
    return text


def matches(pattern: str, text: str) -> bool:
    """Whether a text is like a pattern in which * stands for anything; in time that grows with their lengths only.

    >>> matches("6.*", "6.1.0-28"), matches("*paint*", "a paint-box"), matches("6.*", "5.6.1")
    (True, True, False)
    """
    parts = pattern.split("*")
    if len(parts) == 1:
        return text == pattern
    if not text.startswith(parts[0]) or not text.endswith(parts[-1]) or len(text) < len(parts[0]) + len(parts[-1]):
        return False
    at, end = len(parts[0]), len(text) - len(parts[-1])
    for part in parts[1:-1]:
        at = text.find(part, at, end)
        if at < 0:
            return False
        at += len(part)
    return True


def quoted(word: str) -> str:
    """A word as it is written in a check."""
    if re.fullmatch(r"[^\s'\"|]+", word):
        return word
    return f'"{word}"' if "'" in word else f"'{word}'"


def number_in(text: str) -> float | None:
    """The number a text begins with; None where it begins with none."""
    match = re.match(r"\s*(-?\d+(?:\.\d+)?)", text)
    return float(match.group(1)) if match else None
