"""A journal with an entry that cannot be read goes on without it, and nothing that hangs on it is counted."""

from dataclasses import replace

import pytest

from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.rules import permit
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import Sitting
from tests.builders import Script, small_study

CARDS = ("card-1", "card-2")


def two_attempts() -> list[Entry]:
    script = Script()
    script.at(0, j.SittingBegan())
    for card in CARDS:
        script.at(5, j.AttemptStarted(card))
        script.at(5, j.WaitBegan())
        script.at(5, j.WaitEnded())
        script.at(1, j.Helped())
        snag = script.at(1, j.SnagSeen("a snag"))
        script.at(1, j.SnagRated(snag, 3))
        script.at(5, j.AttemptStopped(), j.OutcomeJudged(Outcome.HELPED), j.EaseRated(5))
    script.at(1, j.UsabilityDeclined(), j.SittingEnded())
    return script.entries


def without(entries: list[Entry], place: int) -> list[Entry]:
    entry = entries[place]
    raw = entry.content
    spoilt = Unreadable(raw.kind, f"Sitting 1, entry {entry.number} cannot be read.", getattr(raw, "card", ""))
    return [*entries[:place], replace(entry, content=spoilt), *entries[place + 1 :]]


@pytest.mark.parametrize("place", range(len(two_attempts())))
def test_whichever_entry_cannot_be_read_the_rest_is_there_and_the_attempt_it_lies_in_is_not_counted(place: int) -> None:
    entries = two_attempts()
    whole = replay(1, CARDS, entries)
    sitting = replay(1, CARDS, without(entries, place), lenient=True)
    assert sitting.phase is Phase.ENDED
    assert entries[place].id in sitting.left_out
    assert [a.card for a in sitting.tried] == list(CARDS)
    study = small_study()
    seat = next(seat for seat in study.seats if seat.number == 1)
    study = replace(study, seats=(replace(seat, cards=CARDS),))
    counted = [fact for fact in facts_of(study, {1: sitting}) if fact.outcome.counts]
    inside = [
        attempt.number
        for attempt, begin, end in ((whole.attempts[0], 1, 9), (whole.attempts[1], 10, 18))
        if begin <= place <= end and entries[place].content.kind != "ease_rated"
    ]
    assert [fact.attempt for fact in counted] == [n for n in (1, 2) if n not in inside]


def test_what_refers_to_an_unreadable_entry_is_left_out_with_it() -> None:
    entries = two_attempts()
    snag = next(index for index, entry in enumerate(entries) if entry.content.kind == "snag")
    sitting = replay(1, CARDS, without(entries, snag), lenient=True)
    assert set(sitting.left_out) == {entries[snag].id, entries[snag + 1].id}
    assert "speaks of an entry that cannot be read" in sitting.left_out[entries[snag + 1].id]


def test_an_entry_that_cannot_follow_is_listed_where_it_lies_on_disk_and_refused_where_it_is_new() -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    script.at(1, j.WaitBegan())
    assert list(replay(1, CARDS, script.entries, lenient=True).left_out) == ["e2"]
    with pytest.raises(JournalError):
        replay(1, CARDS, script.entries)
    assert replay(1, CARDS, script.entries, aside={"e2"}).phase is Phase.READING


def test_none_is_ever_permitted() -> None:
    script = Script()
    script.at(0, j.SittingBegan())
    with pytest.raises(Refused):
        permit(replay(1, CARDS, script.entries), Unreadable("helped", "why"))
    with pytest.raises(Refused):
        permit(Sitting(1, CARDS), Unreadable("sitting_began", "why"))
