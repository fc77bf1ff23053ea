"""The course of an attempt, mark by mark, with the waits of the machine between."""

from fresh_chair.core.sitting.state.attempt import Attempt, Tick
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.words.catalogue import Words
from fresh_chair.services.report.telling.quotes import may_quote, quoted
from fresh_chair.services.report.telling.told import ToldStudy, clock
from fresh_chair.tell.document.model import Run, Text

# Marks that are drawn as such; waits and remarks have lines of their own.
_DRAWN = ("wrong_place", "said_done", "helped", "marked", "step_reached", "place_visited")


def attempt_line(told: ToldStudy, sitting: Sitting, attempt: Attempt) -> Text:
    """An attempt on one line: each mark, wait and remark with its time since the card was given."""
    begun, words = attempt.started_ns, told.words
    happened: list[tuple[int, str]] = [
        (tick.at_ns, tick_words(tick, words)) for tick in attempt.ticks if tick.kind in _DRAWN and not tick.observer
    ]
    for wait in attempt.waits:
        if wait.end_ns is not None:
            seconds = words.number((wait.end_ns - wait.begin_ns) / 1e9, ".0f")
            happened.append((wait.begin_ns, words.say("the machine is busy for {seconds} s", seconds=seconds)))
    code = told.study.seat(sitting.number).participant
    for remark in sitting.remarks.values():
        if remark.attempt == attempt.number and remark.words:
            if remark.kind == "quote" and not may_quote(told.opened, code):
                continue
            said = quoted(remark.words, words) if remark.kind == "quote" else remark.words
            happened.append((remark.at_ns, said))
    if attempt.stopped_ns is not None and attempt.outcome is not None:
        reason = f" ({attempt.reason})" if attempt.reason else ""
        happened.append((attempt.stopped_ns, f"{words.say(attempt.outcome.words)}{reason}"))
    happened.sort()
    spans: list[Run] = []
    for at_ns, what in happened:
        spans += [Run(" · ")] if spans else []
        spans += [Run(clock(max(at_ns - begun, 0) / 1e9), "quiet"), Run(f" {what}")]
    return tuple(spans)


def tick_words(tick: Tick, words: Words) -> str:
    """A mark of the line of time in words."""
    said = {
        "wrong_place": words.say("looks in a wrong place"),
        "said_done": words.say("says it is done"),
        "helped": words.say("is helped"),
        "hesitates": words.say("hesitates"),
        "tries again": words.say("tries again"),
        "no reaction": words.say("the machine does not react"),
        "misled": words.say("is misled by a message"),
        "restart": words.say("the machine is restarted"),
        "new login": words.say("a new login"),
    }
    if tick.kind == "step_reached":
        return words.say("comes to step {number} of the way", number=tick.what)
    if tick.kind == "place_visited":
        return words.say("opens “{place}”", place=tick.what)
    return said.get(str(tick.what), said.get(tick.kind, tick.kind))
