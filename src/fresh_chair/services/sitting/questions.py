"""The questions to the person in a sitting, one after another, on the moderator's screen or handed over."""

from collections.abc import Callable
from typing import Literal

from fresh_chair.core.clock import Moment
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.ratings import (
    AGREEMENT_ENDS,
    AGREEMENT_MOST,
    EASE,
    EASE_ENDS,
    EASE_MOST,
    EXPECTATION,
    PREFERENCE,
    USABILITY_ITEMS,
)
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import clipped
from fresh_chair.services.sitting.live import LiveSitting

Part = Literal["before", "card", "sitting"]
NO_ANSWER = "-"
# Keys of a scale: one a number; those beyond nine are the next ones on the keyboard's upper row.
SCALE_KEYS = "1234567890+"


@frozen
class NextQuestion:
    """One question.

    Attributes:
        part: What it belongs to; what is handed over ends with its part.
        words: The question as it is asked.
        short: The same for a line at the bottom.
        answers: Keys with their words; empty where it is answered in free words.
        ends: What the first and the last key of a scale mean.
        then: The entry that an answer makes, or what is asked next before there is one.
    """

    part: Part
    words: str
    short: str
    answers: tuple[tuple[str, str], ...]
    then: "Callable[[str], j.Content | NextQuestion]"
    ends: tuple[str, str] = ("", "")

    @property
    def free(self) -> bool:
        """True where words are asked for."""
        return not self.answers


def next_ask(live: LiveSitting) -> NextQuestion | None:
    """The next question to the person; None where there is none."""
    state, sheet = live.state, live.opened.study.sheet
    newcomer = live.opened.study.person_by_code[live.seat.participant].is_newcomer
    if state.phase is Phase.EASE:
        return _ease()
    attempt = state.latest
    if attempt is not None and attempt.outcome is not None and attempt.outcome.counts and newcomer:
        for question in sheet.questions:
            if question.when == "after each card" and (question.id, attempt.number) not in state.asked:
                return _question(question, attempt)
    if state.phase is Phase.READING and sheet.ask_expectation and newcomer:
        card = state.card or ""
        return None if card in state.expectations else _expectation(card)
    if state.phase is Phase.USABILITY:
        return _usability(next(item for item in range(1, 11) if item not in state.usability))
    if state.phase is Phase.CLOSING and newcomer:
        return _of_the_sitting(live)
    return None


def answered(live: LiveSitting, ask: NextQuestion, key: str, moment: Moment) -> NextQuestion | None:
    """Put an answer into the journal; returns a question that has to come first, if there is one.

    Raises:
        Refused, NotSaved: As the journal does.
    """
    found = ask.then(key)
    if isinstance(found, NextQuestion):
        return found
    live.log(found, moment)
    return None


def _scale(most: int, ends: tuple[str, str]) -> tuple[tuple[str, str], ...]:
    named = {number: str(number) for number in range(10, most + 1)} | {1: ends[0], most: ends[1]}
    return tuple((SCALE_KEYS[number - 1], named.get(number, "")) for number in range(1, most + 1))


def _score(key: str) -> int | None:
    return None if key == NO_ANSWER else SCALE_KEYS.index(key) + 1


def _ease() -> NextQuestion:
    return NextQuestion(
        "card", EASE, "ease", _scale(EASE_MOST, EASE_ENDS), lambda key: j.EaseRated(_score(key)), EASE_ENDS
    )


def _expectation(card: str) -> NextQuestion:
    def then(key: str) -> j.Content:
        return j.ExpectationGiven(card, _score(key))

    return NextQuestion("before", EXPECTATION, "expected ease", _scale(EASE_MOST, EASE_ENDS), then, EASE_ENDS)


def _usability(item: int) -> NextQuestion:
    def then(key: str) -> j.Content:
        return j.UsabilityAnswered(item, _score(key))

    words = USABILITY_ITEMS[item - 1]
    return NextQuestion(
        "sitting", words, f"statement {item} of 10", _scale(AGREEMENT_MOST, AGREEMENT_ENDS), then, AGREEMENT_ENDS
    )


def _question(question: StudyQuestion, attempt: Attempt | None) -> NextQuestion:
    number = attempt.number if attempt is not None else 0
    part: Part = "sitting" if attempt is None else "card"
    short = clipped(question.ask, 60)
    if question.kind == "scale":
        ends = (question.low, question.high)
        return NextQuestion(
            part, question.ask, short, _scale(question.points, ends),
            lambda key: j.QuestionAnswered(question.id, number, _score(key)), ends,
        )  # fmt: skip
    if question.kind == "choice":
        keys = tuple((str(index), words) for index, words in enumerate(question.choices, start=1))
        words_of = dict(keys)

        def chosen(key: str) -> j.Content:
            return j.QuestionAnswered(question.id, number, None, words_of.get(key, ""))

        return NextQuestion(part, question.ask, short, keys, chosen)

    def said(words: str) -> j.Content:
        kept = "" if words == NO_ANSWER else clipped(words.strip(), j.MAX_WORDS)
        return j.QuestionAnswered(question.id, number, None, kept)

    return NextQuestion(part, question.ask, short, (), said)


def _of_the_sitting(live: LiveSitting) -> NextQuestion | None:
    state, study = live.state, live.opened.study
    for question in study.sheet.questions:
        if question.when == "after the sitting" and (question.id, 0) not in state.asked:
            return _question(question, None)
    if not study.sheet.ask_preference or state.preference is not None:
        return None
    seats = [seat for seat in study.seats if seat.participant == live.seat.participant]
    others = [seat for seat in seats if seat.number != live.seat.number]
    if any(live.opened.phase(seat.number) is Phase.EMPTY for seat in others):
        return None
    sat = [live.seat, *(seat for seat in others if live.opened.phase(seat.number) is Phase.ENDED)]
    letters = sorted({seat.chair for seat in sat})
    return _preference(live, tuple(letters), ()) if len(letters) > 1 else None


def _preference(live: LiveSitting, left: tuple[str, ...], chosen: tuple[str, ...]) -> NextQuestion:
    """The best of those that are left; then the next, until one is left over; then why."""
    chairs = live.opened.study.chair_by_letter
    places = dict(zip("123456789", left, strict=False))
    answers = tuple((key, f"{letter} {chairs[letter].title}") for key, letter in places.items())
    words = PREFERENCE if not chosen else "And which of the others?"

    def then(key: str) -> "j.Content | NextQuestion":
        if key == NO_ANSWER:
            return j.PreferenceGiven(chosen)
        order = (*chosen, places[key])
        rest = tuple(letter for letter in left if letter != places[key])
        if len(rest) > 1:
            return _preference(live, rest, order)
        return _why((*order, *rest))

    return NextQuestion("sitting", words, "rather have", answers, then)


def _why(order: tuple[str, ...]) -> NextQuestion:
    def then(words: str) -> j.Content:
        return j.PreferenceGiven(order, "" if words == NO_ANSWER else clipped(words.strip(), j.MAX_WORDS))

    return NextQuestion("sitting", "In a few words: why that one?", "why that one?", (), then)
