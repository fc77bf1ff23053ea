"""Did it happen: what a chair's state says, before an attempt and after. A small language, a line a check.

docs/formats.md describes it with examples.
"""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from fresh_chair.core.text import clipped, legible

LONGEST_LINE = 600
# What may be asked about, with how many words name the thing.
SUBJECTS: dict[str, int] = {
    "package": 1,
    "program": 1,
    "file": 1,
    "default for": 1,
    "network": 1,
    "updates": 0,
    "user": 1,
    "process": 1,
    "count of": 1,
    "command": 1,
}
BACKENDS: dict[str, int] = {"gsettings": 2, "dconf": 1, "xfconf": 2, "ini": 3}
COUNTABLE = ("packages", "programs", "networks", "printers", "sources", "users")
PURPOSES = ("web", "mail", "pictures", "music", "video", "pdf", "text", "folders")
# Longer ones first, so that "is not" is not read as "is". With each, whether a value follows.
_RELATIONS: tuple[tuple[tuple[str, ...], bool], ...] = (
    (("changed", "to"), True),
    (("differs", "from", "before"), False),
    (("changed",), False),
    (("is", "there"), False),
    (("is", "gone"), False),
    (("is", "up"), False),
    (("is", "remembered"), False),
    (("is", "not"), True),
    (("is",), True),
    (("has",), True),
    (("contains",), True),
    (("matches",), True),
    (("pending", "above"), True),
    (("pending", "below"), True),
    (("above",), True),
    (("below",), True),
    (("opens",), False),
    (("runs",), False),
)
_SAME = {"differs from before": "changed", "has": "is", "pending above": "above", "pending below": "below"}
_VALUES = ("is", "is not", "contains", "matches", "changed", "changed to", "above", "below")
_ALLOWED: dict[str, tuple[str, ...]] = {
    "setting": ("is there", "is gone", *_VALUES),
    "package": ("is there", "is gone", *_VALUES),
    "program": ("is there", "is gone"),
    "file": ("is there", "is gone", "changed", "opens"),
    "default for": _VALUES,
    "network": ("is up", "is remembered", "is gone"),
    "updates": ("above", "below", "is"),
    "user": ("is there", "is gone"),
    "process": ("runs", "is gone"),
    "count of": ("above", "below", "is", "changed"),
    "command": _VALUES,
}
# A word, or several in quotation marks of one kind; there is nothing to escape.
_WORD = re.compile(r"""\s*(?:'(?P<single>[^']*)'|"(?P<double>[^"]*)"|(?P<bare>[^\s'"]+))(?=\s|$)""")
_NEEDS_BEFORE = ("changed", "changed to")


class Witnessed(StrEnum):
    """What the chair says to a check."""

    CONFIRMED = "confirmed"
    CONTRADICTED = "contradicted"
    CANNOT_TELL = "cannot tell"
    SO_BEFORE = "was so before"


@dataclass(frozen=True, slots=True)
class Ask:
    """What one check wants to know of the chair.

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


@dataclass(frozen=True, slots=True)
class Check:
    """One thing that must be so."""

    ask: Ask
    relation: str
    value: str = ""


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class Found:
    """What the chair answered: a value, nothing there, or why it could not be read."""

    value: str | None = None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Judged:
    """What the chair says to one line.

    Attributes:
        evidence: What was found, in words.
    """

    line: str
    witnessed: Witnessed
    evidence: str


@lru_cache(4096)
def read_check(text: str) -> CheckLine:
    """The check that a line says.

    Raises:
        ValueError: What is wrong with it.
    """
    if len(text) > LONGEST_LINE:
        raise ValueError(f"a check is at most {LONGEST_LINE} letters long")
    if any(ord(letter) < 32 for letter in text):
        raise ValueError("a check stands on one line")
    chairs, rest = _chairs(text.strip())
    parts: list[list[str]] = [[]]
    at = 0
    while match := _WORD.match(rest, at):
        at = match.end()
        if match["bare"] == "|":
            parts.append([])
        else:
            parts[-1].append(match["single"] or match["double"] or match["bare"] or "")
    if rest[at:].strip():
        raise ValueError(f"a quotation mark has no partner, or stands within a word: {_shown(rest[at:].strip())}")
    return CheckLine(text.strip(), chairs, tuple(_one(part) for part in parts))


def _chairs(text: str) -> tuple[tuple[str, ...], str]:
    match = re.match(r"at\s+([^:]*):\s*(.*)", text)
    if match is None:
        return (), text
    letters = tuple(part.strip() for part in match.group(1).split(","))
    for letter in letters:
        if not re.fullmatch("[A-Z]", letter):
            raise ValueError(f"a chair's letter is one of A to Z, not {_shown(letter)}")
    return letters, match.group(2)


def at_letters(text: str, letters: Mapping[str, str]) -> str:
    """The line for other chairs.

    Args:
        text: A line that can be read.
        letters: New letters by old ones; empty for a chair that is gone.

    Returns:
        The line, and nothing where it was for chairs only that are gone.
    """
    chairs, rest = _chairs(text)
    if not chairs:
        return text
    named = [new for letter in chairs if (new := letters.get(letter, letter))]
    return f"at {', '.join(named)}: {rest}" if named else ""


def _one(words: list[str]) -> Check:
    if not words:
        raise ValueError("nothing stands before or after a |")
    ask, rest = _ask(words)
    for relation, valued in _RELATIONS:
        if tuple(rest[: len(relation)]) == relation and len(rest) == len(relation) + valued:
            name = " ".join(relation)
            name = _SAME.get(name, name)
            value = rest[-1] if valued else ""
            break
    else:
        raise ValueError(
            f"{_shown(' '.join(rest)) if rest else 'nothing'} after {_shown(ask.text)} is no condition; "
            f"it takes: {', '.join(_ALLOWED[ask.subject])}"
        )
    if name not in _ALLOWED[ask.subject]:
        raise ValueError(f"{ask.subject} does not take “{name}”; it takes: {', '.join(_ALLOWED[ask.subject])}")
    if name in ("above", "below") and _number(value) is None:
        raise ValueError(f"{_shown(value)} is no number")
    if name == "opens":
        # Whether a program opens it is another question than what it is.
        ask = Ask("opening", ask.args)
    return Check(ask, name, value)


def _ask(words: list[str]) -> tuple[Ask, list[str]]:
    if words[0] == "setting":
        if len(words) < 2 or words[1] not in BACKENDS:
            raise ValueError(f"a setting is of one of: {', '.join(BACKENDS)}")
        end = 2 + BACKENDS[words[1]]
        args = tuple(words[1:end])
        _require_setting(args)
        return Ask("setting", args), words[end:]
    for subject, count in SUBJECTS.items():
        lead = subject.split()
        if words[: len(lead)] == lead:
            end = len(lead) + count
            args = tuple(words[len(lead) : end])
            if len(args) < count or not all(args):
                raise ValueError(f"“{subject}” needs to be told which")
            _require_named(subject, args)
            return Ask(subject, args), words[end:]
    raise ValueError(f"{_shown(words[0])} is nothing that can be asked; it can be: setting, {', '.join(SUBJECTS)}")


def _require_setting(args: tuple[str, ...]) -> None:
    backend, rest = args[0], args[1:]
    if len(rest) < BACKENDS[backend] or not all(rest[-1:]):
        shape = {
            "gsettings": "SCHEMA KEY", "dconf": "/PATH/KEY", "xfconf": "CHANNEL /PROPERTY", "ini": "FILE GROUP KEY",
        }[backend]  # fmt: skip
        raise ValueError(f"a {backend} setting is named by {shape}")
    if backend == "gsettings" and not re.fullmatch(r"[A-Za-z0-9.-]+(:/[A-Za-z0-9/_.:-]*/)?", rest[0]):
        raise ValueError(f"{_shown(rest[0])} is no schema")
    if backend == "xfconf" and not re.fullmatch(r"\w[\w.-]*", rest[0]):
        raise ValueError(f"{_shown(rest[0])} is no channel")
    if backend in ("dconf", "xfconf") and not rest[-1].startswith("/"):
        raise ValueError(f"{_shown(rest[-1])} does not begin with /")
    if backend == "ini":
        _require_path(rest[0])
    if any(arg.startswith("-") for arg in rest):
        raise ValueError("the name of a setting does not begin with -")


def _require_named(subject: str, args: tuple[str, ...]) -> None:
    name = args[0] if args else ""
    if subject == "file":
        _require_path(name)
    elif subject == "count of" and name not in COUNTABLE:
        raise ValueError(f"{_shown(name)} cannot be counted; these can: {', '.join(COUNTABLE)}")
    elif subject == "default for" and name not in PURPOSES and not re.fullmatch(r"[a-z0-9.+-]+/[A-Za-z0-9.+*-]+", name):
        raise ValueError(f"{_shown(name)} is no purpose; these are: {', '.join(PURPOSES)}, or a kind such as image/png")
    elif subject != "command" and name.startswith("-"):
        raise ValueError(f"{_shown(name)} is no name: it begins with -")


def _require_path(path: str) -> None:
    if not path.startswith(("/", "~/")):
        raise ValueError(f"{_shown(path)} is neither below the home folder (~/...) nor a whole path (/...)")


def found_text(found: Found) -> str:
    """What was found, in words."""
    if found.why:
        return found.why
    return "nothing there" if found.value is None else clipped(legible(found.value) or "empty", 80)


def holds(check: Check, found: Found, before: Found | None = None) -> bool | None:
    """Whether a check's condition holds of what was found; None where that cannot be said."""
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
    number, limit = _number(plain), _number(check.value)
    if number is None or limit is None:
        return None
    return number > limit if check.relation == "above" else number < limit


def judged_one(check: Check, after: Found, before: Found | None = None) -> Witnessed:
    """What the chair says to one condition.

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
    """What the chair says to a line: the strongest of what it says to its alternatives.

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
    """What the chair says to all lines of a card together: confirmed only where every line is."""
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

    >>> matches("6.*", "6.1.0-28"), matches("*gimp*", "a gimp"), matches("6.*", "5.6.1")
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


def _number(text: str) -> float | None:
    match = re.match(r"\s*(-?\d+(?:\.\d+)?)", text)
    return float(match.group(1)) if match else None


def _shown(text: str) -> str:
    return f"“{legible(clipped(text, 60))}”"
