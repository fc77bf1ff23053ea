"""A sitting from plain text: as `core/sitting/text/lines.py` writes it, or as one types it by hand in any editor."""

import json
import re
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError, JournalError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries import (
    answers,
    attached,
    corrections,
    course,
    lanes,
    marks,
    observed,
    opinions,
    remarks,
)
from fresh_chair.core.sitting.entries.answers import ANSWERS
from fresh_chair.core.sitting.entries.course import COURSE
from fresh_chair.core.sitting.entries.lanes import LANES
from fresh_chair.core.sitting.entries.marks import MARKS
from fresh_chair.core.sitting.entries.syntax import Reader, TimedContent, checked, shown
from fresh_chair.core.sitting.entries.walks import contest, motion, steps, walk
from fresh_chair.core.sitting.entries.walks.steps import STEPS
from fresh_chair.core.sitting.entries.walks.walk import WALKS
from fresh_chair.core.sitting.journal import Content, is_observer_name
from fresh_chair.core.sitting.text.lines import HEAD, time_text
from fresh_chair.core.text import listed

_NO_CARDS: dict[str, str] = {}
MOST_LINES = 200_000
# Corrections may come years after; what is longer than a life no clock of ours can hold.
_MOST_SECONDS = 100 * 366 * 86_400
_TIME = re.compile(r"(?:(?:(\d{1,7}):)?(\d{1,3}):)?(\d{1,6})(?:\.(\d{1,9}))?")
# Lines that are always the same, each with its content.
_PLAIN: dict[str, Content] = {
    content.line({}): content for content in (*COURSE, *LANES, *MARKS, *ANSWERS, *STEPS, *WALKS)
}


def with_waits(read: list[TimedContent]) -> list[TimedContent]:
    """A restart or a new login that is typed by hand is the machine's time from there, as its key makes it."""
    found: list[TimedContent] = []
    # Where each entry stands now, for lines that speak of one by its number.
    place = [0]
    waiting = False
    for at, each in enumerate(read):
        about = place[each.about] if 0 < each.about < len(place) else each.about
        found.append(replace(each, about=about))
        place.append(len(found))
        kind = each.content.kind
        if each.observer:
            continue
        waiting = kind in ("wait_began", "left_running") or (waiting and kind not in ("wait_ended", "attempt_stopped"))
        restarted = isinstance(each.content, j.Marked) and each.content.mark in ("restart", "new login")
        said = at + 1 < len(read) and read[at + 1].content.kind == "wait_began" and read[at + 1].at_ns == each.at_ns
        if restarted and not waiting and not said:
            found.append(TimedContent(each.at_ns, j.WaitBegan(), line=each.line))
            waiting = True
    return found


def read_lines(text: str, *, name: str, cards: Mapping[str, str] = _NO_CARDS) -> list[TimedContent]:
    """The entries of a text, line by line.

    Args:
        text: As `lines_of` writes it, or as one types it: what comes first need not be “sat down”.
        name: What to call it in an error.
        cards: Ids of cards by what they may be called besides, in small letters.

    Raises:
        InputError: All that is wrong, each as reason @ line.
    """
    # Only the ends of lines that text files have: words may hold the others.
    rows = text.replace("\r\n", "\n").split("\n")
    if len(rows) > MOST_LINES:
        raise InputError(f"{name} has {len(rows)} lines; {MOST_LINES} are the most.", "Nothing was taken from it.")
    found: list[TimedContent] = []
    problems: list[str] = []
    last_ns = 0
    for number, row in enumerate(rows, start=1):
        if not row.strip() or row.lstrip().startswith("#"):
            continue
        try:
            at_ns, rest = _timed(row.strip())
            observer, rest = _who(rest)
            if at_ns < last_ns and not found:
                raise ValueError("it lies before the beginning")
            # Two people's keys can reach the disk in another order than they were pressed.
            if at_ns < last_ns and not observer:
                raise ValueError(f"{time_text(at_ns)} comes after {time_text(last_ns)}")
            last_ns = last_ns if observer else at_ns
            read = [_with_card(each, cards) for each in _read(at_ns, rest)]
            found += [replace(each, observer=observer, line=number) for each in read]
        except (ValueError, JournalError) as problem:
            problems.append(f"{problem} @ line {number}")
    if problems:
        raise InputError(f"{name} cannot be used as it is:\n{listed(problems)}", "Nothing was taken from it.")
    if found and HEAD not in (row.strip() for row in rows[:3]):
        found = with_waits(found)
    if found and not isinstance(found[0].content, j.SittingBegan):
        # Whoever types notes begins with what happened.
        found = [
            TimedContent(0, j.SittingBegan()),
            *(replace(t, about=t.about + 1 if t.about > 0 else t.about) for t in found),
        ]
    return found


def _timed(row: str) -> tuple[int, str]:
    head, _, rest = row.partition(" ")
    match = _TIME.fullmatch(head)
    if match is None:
        raise ValueError(f"{shown(head)} is no time; a line is such as 2:31 snag wrong menu")
    hours, minutes, seconds, fraction = match.groups()
    whole = int(hours or 0) * 3600 + int(minutes or 0) * 60 + int(seconds)
    if whole > _MOST_SECONDS:
        raise ValueError(f"{shown(head)} is longer than any sitting")
    return whole * SECOND + int((fraction or "").ljust(9, "0")), rest.strip()


def _who(rest: str) -> tuple[str, str]:
    """The observer a line is of, `@Mo` or `@"Mo of the library"`, and the rest of it."""
    if not rest.startswith("@"):
        return "", rest
    match = re.fullmatch(r'@("(?:[^"\\]|\\.)*"|[^\s"]+)\s+(.*)', rest)
    if match is None:
        raise ValueError("it does not say whose it is, such as @Mo snag")
    named = match.group(1)
    try:
        name = json.loads(named) if named.startswith('"') else named
    except ValueError:
        raise ValueError(f"{shown(named)} is no name") from None
    if not is_observer_name(name):
        raise ValueError(f"{shown(name)} is no observer's name: one of at most 40 letters, and not the moderator's")
    return name, match.group(2)


def _read(at_ns: int, rest: str) -> list[TimedContent]:
    plain = _PLAIN.get(rest)
    if plain is not None:
        return [TimedContent(at_ns, plain)]
    for verb, read in _VERBS.items():
        if rest == verb or rest.startswith(f"{verb} "):
            return read(at_ns, rest[len(verb) :].strip())
    raise ValueError(f"{shown(rest) if rest else 'nothing'} is nothing that can be noted")


def _with_card(timed: TimedContent, cards: Mapping[str, str]) -> TimedContent:
    """The same with a card's id where it was called by its title."""
    called = getattr(timed.content, "card", None)
    if called is None or called.casefold() not in cards:
        return timed
    content: Any = timed.content
    return replace(timed, content=replace(content, card=cards[called.casefold()]))


_VERBS: dict[str, Reader] = {
    **course.VERBS,
    **lanes.VERBS,
    **marks.VERBS,
    **remarks.VERBS,
    **answers.VERBS,
    **corrections.VERBS,
    **steps.VERBS,
    **walk.VERBS,
    **opinions.VERBS,
    **motion.VERBS,
    **contest.VERBS,
    **attached.VERBS,
    **observed.VERBS,
    "entry": lambda at, rest: [TimedContent(at, checked(lambda: _content(rest)))],
}


def _content(body: str) -> Content:
    content: Content = j.CODEC.content_from(body, version=j.ENTRY_VERSION, where="it")
    return content
