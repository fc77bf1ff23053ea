"""The syntax of a sitting's text: words on one line and back, cards, numbers, and entries that speak of others."""

import json
import re
from collections.abc import Callable
from typing import Any

from fresh_chair.core.codec import decoded
from fresh_chair.core.errors import JournalError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import kind_name
from fresh_chair.core.sitting.entries.base import Happening
from fresh_chair.core.sitting.entries.typed_marks import read_typed
from fresh_chair.core.text import clipped, legible

ENTRY_VERSION = 1


@frozen
class TimedContent:
    """One line, read.

    Attributes:
        at_ns: Since the sitting began.
        about: Number of the entry it speaks of; 0 where it speaks of none, -1 for the entry right before it.
        observer: The second observer who made it; empty for the moderator.
        line: The line of the text it stands on.
        last: Where it speaks of the entry before it, of which kind that one is; empty for any.
    """

    at_ns: int
    content: Any
    about: int = 0
    observer: str = ""
    line: int = 0
    last: str = ""


# Reads what follows a line's verb, at a time since the beginning.
Reader = Callable[[int, str], list[TimedContent]]


def kept(words: str, *, typed: bool = False) -> str:
    """Words on one line; a beginning that would move or rate a mark is quoted."""
    escaped = words.replace("\\", "\\\\").replace("\n", "\\n").replace("\r", "\\r")
    if escaped != escaped.strip():
        escaped = re.sub(r"^\s|\s$", lambda match: f"\\x{ord(match.group(0)):04x}", escaped)
    return f"\\ {escaped}" if typed and read_typed(escaped).words != escaped else escaped


def words_meant(words: str) -> str:
    """Words as they were before they were put on one line."""
    return re.sub(
        r"\\(?:x([0-9a-f]{4})|(.))",
        lambda match: chr(int(match[1], 16)) if match[1] else {"n": "\n", "r": "\r"}.get(match[2], match[2]),
        words,
    )


def made(kind: type[Happening], **values: object) -> Any:
    """A content, checked as one that comes from a file. Raises ValueError where it is none."""
    name = kind_name(kind)
    body = json.dumps({"kind": name, **values})
    return checked(lambda: decoded({name: kind}, body, version=ENTRY_VERSION, known=ENTRY_VERSION, where="it"))


def checked(read: Callable[[], Any]) -> Any:
    """The content that is read. Raises ValueError with the reason where it cannot be."""
    try:
        return read()
    except JournalError as problem:
        raise ValueError(problem.title.removeprefix("it cannot be read: ").rstrip(".")) from problem


def one(at_ns: int, kind: type[Happening], **values: object) -> list[TimedContent]:
    """One entry of a kind."""
    return [TimedContent(at_ns, made(kind, **values))]


def about(at_ns: int, rest: str, kind: type[Happening], read: Callable[[str], dict[str, object]]) -> list[TimedContent]:
    """One entry that speaks of another, named as #7."""
    match = re.fullmatch(r"#(\d{1,7})(?:\s+(.*))?", rest)
    if match is None:
        raise ValueError("it does not say of which entry, such as #7")
    return [TimedContent(at_ns, made(kind, entry="", **read(match.group(2) or "")), int(match.group(1)))]


def number(text: str) -> int | None:
    """A number; None for -."""
    if text == "-":
        return None
    if not re.fullmatch(r"\d{1,4}", text):
        raise ValueError(f"{shown(text)} is no number")
    return int(text)


def seconds_in(text: str) -> float:
    """A number of seconds."""
    try:
        return float(text)
    except ValueError:
        raise ValueError(f"{shown(text)} is no number of seconds, such as 150") from None


def number_text(score: int | None) -> str:
    """A number as `number` reads it."""
    return "-" if score is None else str(score)


def card_and(rest: str) -> tuple[str, str]:
    """A card, in quotation marks where its title has blanks, and the rest of the line."""
    quoted = re.fullmatch(r'["“]([^"”]*)["”]\s*(.*)', rest)
    if quoted:
        return quoted[1], quoted[2]
    card, _, after = rest.partition(" ")
    return card, after


def shown(text: str) -> str:
    """A typed text in quotation marks, short and harmless."""
    return f"“{legible(clipped(text, 40))}”"
