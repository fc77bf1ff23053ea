"""A sitting from plain text: as `core/sitting/text/lines.py` writes it, or as one types it by hand in any editor."""

import json
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError, JournalError
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, is_observer_name
from fresh_chair.core.sitting.outcome import Outcome
from fresh_chair.core.sitting.text.lines import HEAD, PLAIN_LINES, time_text, words_meant
from fresh_chair.core.sitting.text.typed_marks import read_typed
from fresh_chair.core.text import clipped, legible, listed

_NO_CARDS: dict[str, str] = {}
MOST_LINES = 200_000
# Corrections may come years after; what is longer than a life no clock of ours can hold.
_MOST_SECONDS = 100 * 366 * 86_400
_TIME = re.compile(r"(?:(?:(\d{1,7}):)?(\d{1,3}):)?(\d{1,6})(?:\.(\d{1,9}))?")
_ENDINGS = {outcome.words: outcome for outcome in Outcome} | {outcome.value: outcome for outcome in Outcome}
_WORDY: dict[str, type] = {
    "snag": j.SnagSeen,
    "delight": j.DelightSeen,
    "note": j.NoteTaken,
    "quote": j.QuoteTaken,
    "warning": j.WarningSeen,
    "question": j.QuestionLeft,
}


@dataclass(frozen=True, slots=True)
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
    content: Content
    about: int = 0
    observer: str = ""
    line: int = 0
    last: str = ""


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
        raise ValueError(f"{_shown(head)} is no time; a line is such as 2:31 snag wrong menu")
    hours, minutes, seconds, fraction = match.groups()
    whole = int(hours or 0) * 3600 + int(minutes or 0) * 60 + int(seconds)
    if whole > _MOST_SECONDS:
        raise ValueError(f"{_shown(head)} is longer than any sitting")
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
        raise ValueError(f"{_shown(named)} is no name") from None
    if not is_observer_name(name):
        raise ValueError(f"{_shown(name)} is no observer's name: one of at most 40 letters, and not the moderator's")
    return name, match.group(2)


def _read(at_ns: int, rest: str) -> list[TimedContent]:
    plain = PLAIN_LINES.get(rest)
    if plain is not None:
        return [TimedContent(at_ns, plain)]
    for verb, read in _VERBS.items():
        if rest == verb or rest.startswith(f"{verb} "):
            return read(at_ns, rest[len(verb) :].strip())
    raise ValueError(f"{_shown(rest) if rest else 'nothing'} is nothing that can be noted")


def _wordy(kind: type) -> Callable[[int, str], list[TimedContent]]:
    def read(at_ns: int, rest: str) -> list[TimedContent]:
        typed = read_typed(rest)
        parts: list[TimedContent] = [
            TimedContent(at_ns, _made(kind, words=words_meant(typed.words.removeprefix("\\ "))))
        ]
        if typed.severity is not None and kind is j.SnagSeen:
            parts.append(TimedContent(at_ns, j.SnagRated("", typed.severity), -1))
        if typed.seconds_earlier:
            parts.append(TimedContent(at_ns, j.MarkMoved("", typed.seconds_earlier), -len(parts)))
        return parts

    return read


def _made(kind: type, **values: object) -> Content:
    """A content, checked as one that comes from a file."""
    body = json.dumps({"kind": kind.__dataclass_fields__["kind"].default, **values})  # type: ignore[attr-defined]
    return _checked(body)


def _checked(body: str) -> Content:
    try:
        return j.content_from(body, version=j.ENTRY_VERSION, where="it")
    except JournalError as problem:
        raise ValueError(problem.title.removeprefix("it cannot be read: ").rstrip(".")) from problem


def _one(at_ns: int, kind: type, **values: object) -> list[TimedContent]:
    return [TimedContent(at_ns, _made(kind, **values))]


def _about(at_ns: int, rest: str, kind: type, read: Callable[[str], dict[str, object]]) -> list[TimedContent]:
    match = re.fullmatch(r"#(\d{1,7})(?:\s+(.*))?", rest)
    if match is None:
        raise ValueError("it does not say of which entry, such as #7")
    return [TimedContent(at_ns, _made(kind, entry="", **read(match.group(2) or "")), int(match.group(1)))]


def _number(text: str) -> int | None:
    if text == "-":
        return None
    if not re.fullmatch(r"\d{1,4}", text):
        raise ValueError(f"{_shown(text)} is no number")
    return int(text)


def _passed(at_ns: int, rest: str) -> list[TimedContent]:
    card, reason = _card_and(rest)
    if not reason.strip():
        raise ValueError("passing over a card needs a reason")
    return _one(at_ns, j.CardPassed, card=card, reason=words_meant(reason))


def _again(at_ns: int, rest: str) -> list[TimedContent]:
    card, reason = _card_and(rest)
    if not reason.strip():
        raise ValueError("trying a card again needs a reason")
    return _one(at_ns, j.CardReopened, card=card, reason=words_meant(reason))


def _expects(at_ns: int, rest: str) -> list[TimedContent]:
    card, score = _card_and(rest)
    return _one(at_ns, j.ExpectationGiven, card=card, score=_number(score.strip()))


def _ended(at_ns: int, rest: str) -> list[TimedContent]:
    words, _, reason = rest.partition(": ")
    outcome = _ENDINGS.get(words.strip())
    if outcome is None:
        raise ValueError(f"{_shown(words)} is no ending; these are: {', '.join(o.words for o in Outcome)}")
    return _one(at_ns, j.OutcomeJudged, outcome=outcome.value, reason=words_meant(reason))


def _usability(at_ns: int, rest: str) -> list[TimedContent]:
    item, _, score = rest.partition(" ")
    return _one(at_ns, j.UsabilityAnswered, item=_number(item), score=_number(score.strip()))


def _moved(rest: str) -> dict[str, object]:
    match = re.fullmatch(r"([+-]\d{1,4})(?:\s+(.*))?", rest)
    if match is None:
        raise ValueError("it does not say by how many seconds, such as -10")
    return {"seconds_earlier": -int(match.group(1)), "reason": words_meant(match.group(2) or "")}


def _with_card(timed: TimedContent, cards: Mapping[str, str]) -> TimedContent:
    """The same with a card's id where it was called by its title."""
    called = getattr(timed.content, "card", None)
    if called is None or called.casefold() not in cards:
        return timed
    content: Any = timed.content
    return replace(timed, content=replace(content, card=cards[called.casefold()]))


def _card_and(rest: str) -> tuple[str, str]:
    """A card, in quotation marks where its title has blanks, and the rest of the line."""
    quoted = re.fullmatch(r'["“]([^"”]*)["”]\s*(.*)', rest)
    if quoted:
        return quoted[1], quoted[2]
    card, _, after = rest.partition(" ")
    return card, after


def _helped(at_ns: int, rest: str) -> list[TimedContent]:
    """`helped hinted`: a help, and how much it was."""
    return [TimedContent(at_ns, j.Helped()), TimedContent(at_ns, _made(j.HelpTold, entry="", level=rest), -1)]


def _waited(at_ns: int, rest: str) -> list[TimedContent]:
    """`wait silent`: a wait, and how it looked."""
    return [TimedContent(at_ns, j.WaitBegan()), *_one(at_ns, j.WaitTold, how=rest)]


def _help(at_ns: int, rest: str) -> list[TimedContent]:
    if rest.startswith("#"):
        return _about(at_ns, rest, j.HelpTold, lambda text: {"level": text})
    return [TimedContent(at_ns, _made(j.HelpTold, entry="", level=rest), -1, last="helped")]


def _answer(at_ns: int, rest: str) -> list[TimedContent]:
    match = re.fullmatch(r"([a-z0-9-]{1,40})(?:\s+of\s+(\d{1,2}))?:\s*(.*)", rest)
    if match is None:
        raise ValueError("an answer is such as: answer sure: 5, or answer sure of 2: 5")
    question, attempt, said = match[1], int(match[2] or 0), match[3].strip()
    values: dict[str, object] = {"question": question, "attempt": attempt}
    if re.fullmatch(r"\d{1,2}", said):
        values["score"] = int(said)
    elif said not in ("", "-"):
        values["words"] = words_meant(said)
    return _one(at_ns, j.QuestionAnswered, **values)


def _prefers(at_ns: int, rest: str) -> list[TimedContent]:
    letters, _, words = rest.partition(":")
    order = [] if letters.strip() == "-" else letters.replace(",", " ").split()
    return _one(at_ns, j.PreferenceGiven, order=order, words=words_meant(words.strip()))


_VERBS: dict[str, Callable[[int, str], list[TimedContent]]] = {
    "start": lambda at, rest: _one(at, j.AttemptStarted, card=_card_and(rest)[0] if rest[:1] in '"“' else rest),
    "helped": _helped,
    "wait": _waited,
    "route": lambda at, rest: _one(at, j.OutcomeTold, route=rest),
    "got as far as": lambda at, rest: _one(at, j.OutcomeTold, grade=_number(rest)),
    "because": lambda at, rest: _one(at, j.OutcomeTold, why=rest),
    "answer": _answer,
    "prefers": _prefers,
    "pass": _passed,
    "again": _again,
    "ready": lambda at, rest: _one(at, j.LeftReady, attempt=_number(rest)),
    "back to": lambda at, rest: _one(at, j.TakenUp, attempt=_number(rest)),
    "expects": _expects,
    "step": lambda at, rest: _one(at, j.StepReached, step=_number(rest)),
    "at": lambda at, rest: _one(at, j.PlaceVisited, place=words_meant(rest)),
    "help": _help,
    "rate": lambda at, rest: _about(at, rest, j.SnagRated, lambda text: {"severity": _number(text)}),
    "move": lambda at, rest: _about(at, rest, j.MarkMoved, _moved),
    "words": lambda at, rest: _about(at, rest, j.Worded, lambda text: {"words": words_meant(text)}),
    "strike": lambda at, rest: _about(at, rest, j.Struck, lambda text: {"reason": words_meant(text)}),
    "ended": _ended,
    "ease": lambda at, rest: _one(at, j.EaseRated, score=_number(rest)),
    "usability": _usability,
    "broken off": lambda at, rest: _one(at, j.SittingBrokenOff, reason=words_meant(rest)),
    "entry": lambda at, rest: [TimedContent(at, _checked(rest))],
    **{name: _wordy(kind) for name, kind in _WORDY.items()},
}


def _shown(text: str) -> str:
    return f"“{legible(clipped(text, 40))}”"
