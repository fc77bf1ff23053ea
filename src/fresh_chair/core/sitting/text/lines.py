"""A sitting's journal as plain text, a line an entry: `2:31 snag wrong menu`. docs/formats.md describes it.

`typed_lines` reads it, and what one types by hand in the same way; nothing is lost between the two.
"""

import json
import re
from collections.abc import Mapping, Sequence

from fresh_chair.core.clock import SECOND
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.text.typed_marks import read_typed
from fresh_chair.core.text import legible

_NAME = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
HEAD = "# fresh-chair sitting 1"
PLAIN_LINES: dict[str, Content] = {
    "sat down": j.SittingBegan(),
    "wait": j.WaitBegan(),
    "back": j.WaitEnded(),
    "aside": j.AsideBegan(),
    "aside over": j.AsideEnded(),
    "helped": j.Helped(),
    "wrong place": j.WrongPlace(),
    "says done": j.SaidDone(),
    "stop": j.AttemptStopped(),
    "usability not asked": j.UsabilityDeclined(),
    "got up": j.SittingEnded(),
    "hesitates": j.Marked("hesitates"),
    "tries again": j.Marked("tries again"),
    "no reaction": j.Marked("no reaction"),
    "misled": j.Marked("misled"),
    "restart": j.Marked("restart"),
    "new login": j.Marked("new login"),
    "left running": j.LeftRunning(),
    "watches too": j.ObserverJoined(),
    "shown progress": j.WaitTold("shown progress"),
    "silent": j.WaitTold("silent"),
    "believed frozen": j.WaitTold("believed frozen"),
}
_SAID = {content: words for words, content in PLAIN_LINES.items()}


def lines_of(entries: Sequence[Entry], *, title: str = "") -> str:
    """The whole journal as text."""
    numbers = {entry.id: entry.number for entry in entries}
    lines = [HEAD, *([f"# {legible(title)}"] if title else [])]
    observers = {entry.author for entry in entries if isinstance(entry.content, j.ObserverJoined)}
    for entry, at_ns in zip(entries, entry_times(entries), strict=True):
        who = f"@{json.dumps(entry.author, ensure_ascii=False)} " if entry.author in observers else ""
        lines.append(f"{time_text(at_ns)} {who}{_line(entry.content, numbers)}")
    return "\n".join(lines) + "\n"


def time_text(at_ns: int) -> str:
    """A time since the beginning, to the nanosecond where it has any.

    >>> time_text(151 * SECOND), time_text(3_751 * SECOND + 500_000_000)
    ('2:31', '1:02:31.5')
    """
    seconds, rest = divmod(at_ns, SECOND)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    shown = f"{hours}:{minutes:02}:{seconds:02}" if hours else f"{minutes}:{seconds:02}"
    return f"{shown}.{rest:09}".rstrip("0") if rest else shown


def _line(content: Content, numbers: Mapping[str, int]) -> str:
    if content in _SAID:
        return _SAID[content]
    match content:
        case j.AttemptStarted(card=card):
            return f"start {card}"
        case j.CardPassed(card=card, reason=reason):
            return f"pass {card} {_kept(reason)}"
        case j.SnagSeen() | j.DelightSeen() | j.NoteTaken() | j.QuoteTaken() | j.WarningSeen() | j.QuestionLeft():
            return f"{content.kind} {_kept(content.words, typed=True)}".rstrip(" ") if content.words else content.kind
        case j.StepReached(step=step):
            return f"step {step}"
        case j.LeftReady(attempt=attempt):
            return f"ready {attempt}"
        case j.TakenUp(attempt=attempt):
            return f"back to {attempt}"
        case j.CardReopened(card=card, reason=reason):
            return f"again {card} {_kept(reason)}"
        case j.ExpectationGiven(card=card, score=score):
            return f"expects {card} {'-' if score is None else score}"
        case j.PlaceVisited(place=place):
            return f"at {_kept(place)}"
        case j.HelpTold(entry=entry, level=level):
            return f"help #{numbers[entry]} {level}"
        case j.SnagRated(entry=entry, severity=severity):
            return f"rate #{numbers[entry]} {severity}"
        case j.MarkMoved(entry=entry, seconds_earlier=seconds, reason=reason):
            return f"move #{numbers[entry]} {-seconds:+d} {_kept(reason)}".rstrip(" ")
        case j.Worded(entry=entry, words=words):
            return f"words #{numbers[entry]} {_kept(words)}"
        case j.Struck(entry=entry, reason=reason):
            return f"strike #{numbers[entry]} {_kept(reason)}"
        case j.OutcomeJudged(outcome=outcome, reason=reason):
            return f"ended {outcome.words}{f': {_kept(reason)}' if reason else ''}"
        case j.OutcomeTold() | j.QuestionAnswered() | j.PreferenceGiven():
            return _told(content)
        case j.EaseRated(score=score):
            return f"ease {'-' if score is None else score}"
        case j.UsabilityAnswered(item=item, score=score):
            return f"usability {item} {'-' if score is None else score}"
        case j.SittingBrokenOff(reason=reason):
            return f"broken off {_kept(reason)}"
    return f"entry {j.body_of(content)}"


def _told(content: j.OutcomeTold | j.QuestionAnswered | j.PreferenceGiven) -> str:
    """Details of an ending, an answer or a preference, in words; as JSON only where words would not do."""
    match content:
        case j.OutcomeTold(grade=None, route=route, why="") if route:
            return f"route {route}"
        case j.OutcomeTold(grade=int(grade), route="", why=""):
            return f"got as far as {grade}"
        case j.OutcomeTold(grade=None, route="", why=why) if why:
            return f"because {why}"
        case j.QuestionAnswered(score=score, words=words) if _plain_answer(content):
            of = f" of {content.attempt}" if content.attempt else ""
            said = _kept(words) if words else "-" if score is None else str(score)
            return f"answer {content.question}{of}: {said}"
        case j.PreferenceGiven(order=order, words=words) if all(map(str.isalpha, order)):
            return f"prefers {' '.join(order) or '-'}{f': {_kept(words)}' if words else ''}"
    return f"entry {j.body_of(content)}"


def _plain_answer(content: j.QuestionAnswered) -> bool:
    """Whether an answer can be written in words, and be read back as the same."""
    mixed = bool(content.words) and content.score is not None
    number = re.fullmatch(r"\d{1,2}|-", content.words.strip()) is not None
    return _NAME.fullmatch(content.question) is not None and not mixed and not number


def _kept(words: str, *, typed: bool = False) -> str:
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
