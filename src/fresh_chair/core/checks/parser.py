"""The language of checks: a line parsed into its question and condition, or its error.

docs/formats.md describes it with examples.
"""

import re
from collections.abc import Mapping
from functools import lru_cache

from fresh_chair.core.checks.meaning import Ask, Check, CheckLine, number_in
from fresh_chair.core.text import clipped, legible, with_article

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
    if name in ("above", "below") and number_in(value) is None:
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
        raise ValueError(f"{with_article(backend)} setting is named by {shape}")
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


def _shown(text: str) -> str:
    return f"“{legible(clipped(text, 60))}”"
