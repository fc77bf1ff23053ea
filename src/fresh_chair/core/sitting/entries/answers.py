"""Outcomes of attempts, and answers of the person: ease, expectation, the usability scale, the study's questions."""

import re
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le
from fresh_chair.core.codec import encoded
from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry, Typed
from fresh_chair.core.plan.sheet import MOST_POINTS
from fresh_chair.core.sitting.entries.base import OPEN, READING, Happening, Ordinal, Told, in_hand
from fresh_chair.core.sitting.entries.ratings import EASE_MOST
from fresh_chair.core.sitting.entries.syntax import (
    Reader,
    TimedContent,
    card_and,
    kept,
    number,
    number_text,
    one,
    shown,
    words_meant,
)
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import QuestionAnswer, Sitting
from fresh_chair.core.text import clipped

Route = Literal["", "expected", "another", "only with a workaround"]
GaveUpWhy = Literal["", "not found", "not there"]
_NAME = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
ENDINGS = {outcome.words: outcome for outcome in Outcome} | {outcome.value: outcome for outcome in Outcome}


@frozen
class OutcomeJudged(Happening):
    """How the attempt ended, as the moderator judges it."""

    outcome: Outcome
    reason: Typed = ""
    kind: Literal["outcome_judged"] = "outcome_judged"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.JUDGING})

    def objection(self, sitting: Sitting) -> str:
        missing = self.outcome.needs_reason and not self.reason.strip()
        return f"“{self.outcome.words}” needs a reason." if missing else ""

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = in_hand(sitting)
        attempt.outcome, attempt.reason, attempt.judged_by = self.outcome, self.reason, entry.id
        attempt.closed_ns = None if self.outcome.counts else at_ns
        sitting.done.add(attempt.card)

    def sentence(self, told: Told) -> str:
        known = next((a.evidence for a in told.sitting.attempts if a.judged_by == told.entry.id), BESIDE_A_NEWCOMER)
        how = "" if known == BESIDE_A_NEWCOMER else f" ({known})"
        return f"{self.outcome.words}{how}{': ' if self.reason else ''}{self.reason}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"ended {self.outcome.words}{f': {kept(self.reason)}' if self.reason else ''}"


@frozen
class OutcomeTold(Happening):
    """More about how the last attempt ended; empty fields were not said.

    Args:
        grade: How far it got, of the card's grades on the way, from 1.
        route: By which way.
        why: What giving up was about: not found is not the same as not there.
    """

    grade: Ordinal | None = None
    route: Route = ""
    why: GaveUpWhy = ""
    kind: Literal["outcome_told"] = "outcome_told"
    phases: ClassVar[frozenset[Phase]] = OPEN
    afterwards: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        attempt = sitting.latest
        return "" if attempt is not None and attempt.outcome is not None else "No attempt was judged yet."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = in_hand(sitting)
        attempt.grade = self.grade if self.grade is not None else attempt.grade
        attempt.route = self.route or attempt.route
        attempt.why = self.why or attempt.why

    def sentence(self, told: Told) -> str:
        grade = f"grade {self.grade}" if self.grade is not None else ""
        route = f"by {self.route} way" if self.route in ("expected", "another") else self.route
        return "; ".join(part for part in (grade, route, self.why) if part) or "nothing more said"

    def line(self, numbers: Mapping[str, int]) -> str:
        parts = [f"route {self.route}"] if self.route else []
        parts += [f"got as far as {self.grade}"] if self.grade is not None else []
        parts += [f"because {self.why}"] if self.why else []
        # Several at once, or none, have no words of their own.
        return parts[0] if len(parts) == 1 else f"entry {encoded(self)}"


@frozen
class EaseRated(Happening):
    """The Single Ease Question, 1 (very hard) to 7 (very easy); None where it was not answered."""

    score: Annotated[int, Ge(1), Le(7)] | None
    kind: Literal["ease_rated"] = "ease_rated"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.EASE})

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        attempt = in_hand(sitting)
        attempt.ease, attempt.ease_asked, attempt.closed_ns = self.score, True, at_ns

    def sentence(self, told: Told) -> str:
        return "ease not given" if self.score is None else f"ease {self.score} of 7"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"ease {number_text(self.score)}"


@frozen
class ExpectationGiven(Happening):
    """How easy the person expects a card to be, before the clock starts: 1 to 7, None where it was not answered."""

    card: str
    score: Annotated[int, Ge(1), Le(7)] | None
    kind: Literal["expectation_given"] = "expectation_given"
    phases: ClassVar[frozenset[Phase]] = READING

    def objection(self, sitting: Sitting) -> str:
        return "" if self.card == sitting.card else f"The card in hand is {sitting.card}, not {self.card}."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.expectations[self.card] = self.score

    def sentence(self, told: Told) -> str:
        return "expectation not given" if self.score is None else f"expects an ease of {self.score} of 7"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"expects {self.card} {number_text(self.score)}"


@frozen
class UsabilityAnswered(Happening):
    """One answer of the System Usability Scale, 1 to 5; None where the item was left out. The last one holds."""

    item: Annotated[int, Ge(1), Le(10)]
    score: Annotated[int, Ge(1), Le(5)] | None
    kind: Literal["usability_answered"] = "usability_answered"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.USABILITY, Phase.CLOSING})

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.usability[self.item] = self.score

    def sentence(self, told: Told) -> str:
        return f"usability {self.item}: {'left out' if self.score is None else self.score}"

    def line(self, numbers: Mapping[str, int]) -> str:
        return f"usability {self.item} {number_text(self.score)}"


@frozen
class UsabilityDeclined(Happening):
    """The System Usability Scale was not asked, or not wanted."""

    kind: Literal["usability_declined"] = "usability_declined"
    phases: ClassVar[frozenset[Phase]] = frozenset({Phase.USABILITY})
    said: ClassVar[str] = "usability scale not asked"
    typed: ClassVar[str] = "usability not asked"

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.usability_declined = True


@frozen
class QuestionAnswered(Happening):
    """An answer to one of the study's own questions.

    Args:
        question: Its id.
        attempt: The attempt it was asked after; 0 where it is of the whole sitting.
        score: For a scale, None where it was left out.
        words: For a choice or free words; empty where it was left out.
    """

    question: str
    attempt: Annotated[int, Ge(0), Le(99)] = 0
    score: Annotated[int, Ge(0), Le(MOST_POINTS)] | None = None
    words: Typed = ""
    kind: Literal["question_answered"] = "question_answered"
    phases: ClassVar[frozenset[Phase]] = OPEN

    def objection(self, sitting: Sitting) -> str:
        return "" if self.attempt <= len(sitting.attempts) else "There is no such attempt."

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.asked[self.question, self.attempt] = QuestionAnswer(self.score, self.words)

    def sentence(self, told: Told) -> str:
        question = next((q for q in told.study.sheet.questions if q.id == self.question), None)
        most = EASE_MOST if question is None else question.points
        answer = self.words if self.score is None else f"{self.score} of {most}"
        return f"{clipped(self.question if question is None else question.ask, 60)} {answer or 'no answer'}"

    def line(self, numbers: Mapping[str, int]) -> str:
        if not self._plain:
            return f"entry {encoded(self)}"
        of = f" of {self.attempt}" if self.attempt else ""
        return f"answer {self.question}{of}: {kept(self.words) if self.words else number_text(self.score)}"

    @property
    def _plain(self) -> bool:
        """Whether it can be written in words, and be read back as the same."""
        mixed = bool(self.words) and self.score is not None
        numeric = re.fullmatch(r"\d{1,2}|-", self.words.strip()) is not None
        return _NAME.fullmatch(self.question) is not None and not mixed and not numeric


@frozen
class PreferenceGiven(Happening):
    """Which chair the person would rather have, the best first; empty where they would not say.

    Args:
        order: Letters of chairs.
        words: Why.
    """

    order: tuple[str, ...]
    words: Typed = ""
    kind: Literal["preference_given"] = "preference_given"
    phases: ClassVar[frozenset[Phase]] = OPEN

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.preference, sitting.preference_words = self.order, self.words

    def sentence(self, told: Told) -> str:
        rather = f"would rather have {', then '.join(self.order)}" if self.order else "would not say which chair"
        return f"{rather}{': ' if self.words else ''}{self.words}"

    def line(self, numbers: Mapping[str, int]) -> str:
        if not all(map(str.isalpha, self.order)):
            return f"entry {encoded(self)}"
        return f"prefers {' '.join(self.order) or '-'}{f': {kept(self.words)}' if self.words else ''}"


def _ended(at_ns: int, rest: str) -> list[TimedContent]:
    words, _, reason = rest.partition(": ")
    outcome = ENDINGS.get(words.strip())
    if outcome is None:
        raise ValueError(f"{shown(words)} is no ending; these are: {', '.join(o.words for o in Outcome)}")
    return one(at_ns, OutcomeJudged, outcome=outcome.value, reason=words_meant(reason))


def _expects(at_ns: int, rest: str) -> list[TimedContent]:
    card, score = card_and(rest)
    return one(at_ns, ExpectationGiven, card=card, score=number(score.strip()))


def _usability(at_ns: int, rest: str) -> list[TimedContent]:
    item, _, score = rest.partition(" ")
    return one(at_ns, UsabilityAnswered, item=number(item), score=number(score.strip()))


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
    return one(at_ns, QuestionAnswered, **values)


def _prefers(at_ns: int, rest: str) -> list[TimedContent]:
    letters, _, words = rest.partition(":")
    order = [] if letters.strip() == "-" else letters.replace(",", " ").split()
    return one(at_ns, PreferenceGiven, order=order, words=words_meant(words.strip()))


ANSWERS = (UsabilityDeclined(),)
VERBS: dict[str, Reader] = {
    "ended": _ended,
    "route": lambda at, rest: one(at, OutcomeTold, route=rest),
    "got as far as": lambda at, rest: one(at, OutcomeTold, grade=number(rest)),
    "because": lambda at, rest: one(at, OutcomeTold, why=rest),
    "ease": lambda at, rest: one(at, EaseRated, score=number(rest)),
    "expects": _expects,
    "usability": _usability,
    "answer": _answer,
    "prefers": _prefers,
}
