"""A chair's freshness: the last comparison, its meaning for a sitting, and the way to put the chair back."""

from collections.abc import Sequence

from fresh_chair.core.chair.check_answers import names_of
from fresh_chair.core.chair.drift_words import Said
from fresh_chair.core.chair.ledger import NoiseLearnt, NoiseTakenBack
from fresh_chair.core.chair.state import SECTIONS
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.sitting.journal import ChairFound, Entry
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.study.open_study import OpenStudy

# A chair that stood for longer may have been touched by anybody.
HOLDS_HOURS = 12
_MOST_TOLD = 20


@frozen
class PutBack:
    """The part of a drift that a card may have caused, and its steps to put it back.

    Attributes:
        sure: True where a check of the card is about just what differs.
    """

    card: TaskCard
    words: tuple[str, ...]
    sure: bool


def found_at(opened: OpenStudy, letter: str, now: Moment) -> ChairFound:
    """The chair's freshness for a person who sits down there now."""
    read = opened.known_chairs.of(letter).proof
    if read is None:
        baseline = opened.known_chairs.of(letter).baseline
        return ChairFound("not checked", ("no comparison was made" if baseline else "it has no baseline",))
    moment, proof = read
    why = stale(opened, letter, moment, now)
    if why:
        return ChairFound("not checked", (why,), moment.wall_ns)
    if proof.freshness == "not checked":
        return ChairFound("not checked", ("nothing could be compared",), moment.wall_ns)
    return ChairFound(proof.freshness, proof.told[:_MOST_TOLD], moment.wall_ns)


def stale(opened: OpenStudy, letter: str, read: Moment, now: Moment) -> str:
    """Why a comparison says nothing about now; empty where it holds."""
    for seat in opened.study.seats:
        entries = opened.entries.get(seat.number)
        if seat.chair == letter and entries and left_at(entries).wall_ns > read.wall_ns:
            return "somebody has sat there since it was compared"
    hours = (now.wall_ns - read.wall_ns) / SECOND / 3600
    if hours > HOLDS_HOURS:
        return f"it was compared {count_of(round(hours), 'hour')} before"
    return ""


def left_at(entries: Sequence[Entry]) -> Moment:
    """The moment the last person got up from a chair; later words or corrections touched no chair."""
    ends = ("sitting_ended", "sitting_broken_off")
    return next((e.moment for e in reversed(entries) if e.content.kind in ends), entries[-1].moment)


def put_backs(opened: OpenStudy, letter: str, said: list[Said]) -> list[PutBack]:
    """The cards whose traces a drift may be, those that are sure first.

    A card is sure where one of its checks is about what differs; otherwise its area must fit, and somebody must have
    tried it there since the chair was last fresh.
    """
    tried = tried_since(opened, letter)
    found: list[PutBack] = []
    for card in opened.study.cards:
        asked = {
            name for line in card.check_lines if line.is_for(letter) for c in line.any_of for name in names_of(c.ask)
        }
        sure, likely = [], []
        for each in said:
            if any(difference.name in asked for difference in each.differences):
                sure.append(each.words)
            elif each.area and each.area == card.area and card.id in tried:
                likely.append(each.words)
        if card.put_back and (sure or likely):
            found.append(PutBack(card, tuple(sure or likely), bool(sure)))
    return sorted(found, key=lambda each: not each.sure)


def leave_out(opened: OpenStudy, letter: str, name: str, reason: str) -> None:
    """Leave a name out of drift from here on. Raises InputError where it has no reason or is none; NotSaved."""
    if not reason.strip():
        raise InputError("Leaving something out needs a reason.", "Nothing was changed.")
    if name.partition(":")[0] not in SECTIONS or not name.partition(":")[2]:
        raise InputError(
            f"{legible(clipped(name, 60))} is no name of a state.", "Names are such as settings:gsettings org.x.y key."
        )
    opened.note(letter, NoiseLearnt((name,), reason.strip()[:2000]))


def count_again(opened: OpenStudy, letter: str, name: str) -> None:
    """Count a name again that was left out. Raises InputError where it was not; NotSaved."""
    if name not in opened.known_chairs.of(letter).noise:
        raise InputError(f"{legible(clipped(name, 60))} is not left out at {letter}.", "Nothing was changed.")
    opened.note(letter, NoiseTakenBack((name,), "counts again"))


def tried_since(opened: OpenStudy, letter: str) -> set[str]:
    """Cards that were attempted at a chair since it was last fresh."""
    fresh = [moment.wall_ns for moment, proof in opened.known_chairs.of(letter).proofs if proof.freshness == "fresh"]
    since = fresh[-1] if fresh else 0
    return {
        attempt.card
        for seat in opened.study.seats
        if seat.chair == letter and (sitting := opened.sittings.get(seat.number)) is not None
        and sitting.attempts and left_at(opened.entries[seat.number]).wall_ns > since
        for attempt in sitting.attempts
    }  # fmt: skip
