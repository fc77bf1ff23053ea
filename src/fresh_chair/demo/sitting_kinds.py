"""The demo's sittings of other kinds: recorded, watched by two, corrected afterwards, and people's answers.

Everything here is put in beside what was drawn for a sitting, with ids of its own, so that the rest stays as it was.
"""

from collections.abc import Callable
from dataclasses import replace
from random import Random

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.state.outcome import Outcome

RECORDED = 15
RECORDING = "recordings/sitting-15.webm"
RECORDING_OFFSET = 94.0
WATCHED = 18
OBSERVER = "Mo"
SEEN_OTHERWISE = 3
CORRECTED = 16
# The attempt of that sitting that was completed only with a workaround.
ROUND_ABOUT = 3
REFUSED = 2
# Where one card's installation runs on while the next card is done.
OVERLAPPED = 13
OVERLAPPED_CARD = "painting-program"
_MISSED = (
    "a word that says where the pictures go",
    "nothing, once I had found the list",
    "somebody who says whether that was right",
    "larger letters in the first window",
    "the button that was there a moment ago",
    "a bin for the letter",
)
_QUOTES = (
    "so where has it gone now",
    "it said yes before I had read it",
    "that is the largest one, so I press it",
    "oh, that was all",
)


def answers(seat: Seat, order: tuple[str, ...], seed: int) -> list[Content]:
    """A person's answers to the study's own questions; with the last chair also their preference.

    Args:
        seat: The sitting.
        order: The chairs the person has sat at, in the order they came; empty before the last one.
        seed: The demo's seed.
    """
    random = Random(f"{seed}/answers/{seat.number}")
    liked = {"A": 0.7, "B": 0.25, "C": 0.45}
    lend = "yes" if random.random() < liked.get(seat.chair, 0.5) else random.choice(("only with somebody to ask", "no"))
    contents: list[Content] = [
        j.QuestionAnswered("lend", 0, None, lend),
        j.QuestionAnswered("missed", 0, None, random.choice(_MISSED)),
    ]
    if len(order) > 1:
        ranked = tuple(sorted(order, key=lambda letter: -liked.get(letter, 0.5) + random.uniform(-0.25, 0.25)))
        contents.append(j.PreferenceGiven(ranked, random.choice(("it was calm", "I found things", "it waits for me"))))
    return contents


def of_its_kind(seat: Seat, entries: list[Entry], seed: int) -> list[Entry]:
    """A sitting's journal with the entries that make it one of its kind."""
    weave: dict[int, Callable[[list[Entry], Random], list[Entry]]] = {
        RECORDED: _recorded,
        WATCHED: _watched,
        CORRECTED: _corrected,
        REFUSED: _refused,
    }
    kind = weave.get(seat.number)
    return entries if kind is None else kind(entries, Random(f"{seed}/kind/{seat.number}"))


def _recorded(entries: list[Entry], _: Random) -> list[Entry]:
    opened = j.RecordingOpened(RECORDING, RECORDING_OFFSET)
    return _put(entries, [(2, _moved(entries[1].moment, 0), "moderator", opened)])


def _watched(entries: list[Entry], random: Random) -> list[Entry]:
    """The second observer marks most of the moderator's marks, a little later, and hears more."""
    found: list[tuple[int, Moment, str, Content]] = [
        (2, _moved(entries[1].moment, 20), OBSERVER, j.ObserverJoined()),
    ]
    quotes = list(_QUOTES)
    for index, entry in enumerate(entries):
        content: Content | None = None
        if isinstance(entry.content, j.WrongPlace) and random.random() < 0.8:
            content = j.WrongPlace()
        elif isinstance(entry.content, j.Helped) or (isinstance(entry.content, j.SnagSeen) and random.random() < 0.7):
            content = j.Marked("hesitates")
        elif isinstance(entry.content, j.WaitEnded) and quotes:
            content = j.QuoteTaken(quotes.pop(0))
        elif isinstance(entry.content, j.SaidDone):
            content = j.SaidDone()
        after = entries[index + 1].moment if index + 1 < len(entries) else entry.moment
        room = (after.ticks_ns - entry.moment.ticks_ns) / SECOND
        if content is not None and room > 0.5:
            found.append(
                (index + 1, _moved(entry.moment, min(random.uniform(0.3, 2.0), room * 0.8)), OBSERVER, content)
            )
    judged = [entry.content.outcome for entry in entries if isinstance(entry.content, j.OutcomeJudged)]
    # The observer judges each attempt afterwards, and sees one of them otherwise.
    for number, outcome in enumerate(judged, start=1):
        seen = j.OutcomeSeen(number, Outcome.HELPED if number == SEEN_OTHERWISE else outcome)
        found.append((len(entries), _moved(entries[-1].moment, 60 + 20 * number), OBSERVER, seen))
    return _put(entries, found)


def _corrected(entries: list[Entry], _: Random) -> list[Entry]:
    """In the evening the reviewer looks back: one mark moved, one struck, one added."""
    evening = _moved(entries[-1].moment, 5 * 3600)
    snag = next(entry for entry in entries if isinstance(entry.content, j.SnagSeen))
    wrong = next(entry for entry in entries if isinstance(entry.content, j.WrongPlace))
    started = next(entry for entry in entries if isinstance(entry.content, j.AttemptStarted))
    seconds = (started.moment.ticks_ns - entries[0].moment.ticks_ns) / SECOND + 6
    contents: list[Content] = [
        j.MarkMoved(snag.id, 6, "pressed late: I was handing over the card"),
        j.Struck(wrong.id, "she was reading the card again, not looking for it"),
        j.AddedLate("quote", round(seconds, 1), "shall I just press things", "heard it on the recording of the room"),
    ]
    last = len(entries)
    judged = [index for index, entry in enumerate(entries) if isinstance(entry.content, j.OutcomeJudged)]
    at = judged[ROUND_ABOUT - 1]
    told: Content = j.OutcomeTold(route="only with a workaround")
    evening_marks = [(last, _moved(evening, 40 * step), "moderator", content) for step, content in enumerate(contents)]
    return _put(entries, [*evening_marks, (at + 1, entries[at].moment, "moderator", told)])


def _refused(entries: list[Entry], _: Random) -> list[Entry]:
    after = _moved(entries[-1].moment, 300)
    refused = j.BenchmarkRefused(2, "the telephone rang in the middle of it")
    return _put(entries, [(len(entries), after, "moderator", refused)])


def _moved(moment: Moment, seconds: float) -> Moment:
    passed = round(seconds * SECOND)
    return Moment(moment.ticks_ns + passed, moment.boot, moment.wall_ns + passed)


def _put(entries: list[Entry], found: list[tuple[int, Moment, str, Content]]) -> list[Entry]:
    """Put entries in before places of the list, and number all anew."""
    whole: list[Entry] = []
    for index in range(len(entries) + 1):
        for step, (before, moment, author, content) in enumerate(found):
            if before == index:
                whole.append(Entry(f"{entries[0].id[:8]}-{step:02}", 0, moment, author, content))
        if index < len(entries):
            whole.append(entries[index])
    return [replace(entry, number=number) for number, entry in enumerate(whole, start=1)]
