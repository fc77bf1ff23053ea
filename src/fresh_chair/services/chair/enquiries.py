"""Enquiries to a chair, and the questions of each."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Any

from platformdirs import user_data_path

from fresh_chair.core.chair.identity import Unread
from fresh_chair.core.chair.records import Claim
from fresh_chair.core.checks.meaning import CheckLine
from fresh_chair.core.checks.parser import read_check
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair.approvals import approved, is_approved
from fresh_chair.services.study.open_study import OpenStudy

if TYPE_CHECKING:
    from fresh_chair.probe.questions.framing import Question

IDENTITY, BASELINE, NOISE, FRESH, READINGS, DEFAULTS, CLAIMS, BEFORE, AFTER = ENQUIRIES = (
    "identity",
    "baseline",
    "noise",
    "fresh",
    "readings",
    "defaults",
    "claims",
    "before",
    "after",
)

# A baseline alone would call a chair not fresh because of a clock; the second look finds what moves at once by itself.
BASELINE_AND_LOOK = (BASELINE, NOISE)


def with_second_look(enquiries: Sequence[str]) -> tuple[str, ...]:
    """The same enquiries, a second look after each baseline."""
    return tuple(part for each in enquiries for part in (BASELINE_AND_LOOK if each == BASELINE else (each,)))


@dataclass(slots=True)
class Brought:
    """The report on an enquiry: sentences for a person, plain data for a program.

    Attributes:
        said: In the order in which they matter.
        unread: What could not be read, and why.
    """

    enquiry: str
    said: list[str] = field(default_factory=list)
    unread: list[Unread] = field(default_factory=list)
    data: dict[str, Any] = field(default_factory=dict)


def known_hosts() -> Path:
    """The file of the host keys that this user has confirmed."""
    return user_data_path("fresh-chair") / "known_hosts"


def questions_of(opened: OpenStudy, letter: str, enquiry: str, cards: Sequence[str] = ()) -> "list[Question]":
    """The questions an enquiry puts to a chair.

    Args:
        opened: The study.
        letter: The chair.
        enquiry: One of the enquiries.
        cards: For checks, the cards; all where none is named.

    Raises:
        InputError: Where there is no such chair, card or enquiry.
        Refused: Where something has to come first.
    """
    from fresh_chair.probe import witnessing
    from fresh_chair.probe.questions import readings as measuring
    from fresh_chair.probe.questions import state as questions

    chair_of(opened, letter)
    if enquiry in (NOISE, FRESH) and opened.known_chairs.of(letter).baseline is None:
        raise Refused(
            f"Chair {letter} has no baseline yet.", "Take one when it is fresh; everything is held against it."
        )
    match enquiry:
        case "identity":
            return [*questions.IDENTITY, questions.DEFAULTS, questions.PROGRAMS, questions.SOURCES]
        case "baseline" | "noise" | "fresh":
            return list(questions.STATE)
        case "readings":
            updates = [question for question in questions.IDENTITY if question.name == "updates"]
            return [*measuring.READINGS, *updates]
        case "defaults":
            return list(measuring.CONSENTS)
        case "claims" | "before" | "after":
            lines = lines_of(opened, letter, enquiry, cards)
            return witnessing.questions_for(witnessing.asks_of(lines))
    raise InputError(f"{legible(clipped(enquiry, 30))} is no enquiry.", f"These are: {', '.join(ENQUIRIES)}.")


def chair_of(opened: OpenStudy, letter: str) -> str:
    """The letter, where there is such a chair. Raises InputError where there is none."""
    if letter not in opened.study.chair_by_letter:
        raise InputError(f"There is no chair {legible(letter[:3])} in this study.", "Nothing was asked.")
    return letter


def lines_of(opened: OpenStudy, letter: str, enquiry: str, cards: Sequence[str] = ()) -> list[CheckLine]:
    """The check lines to ask at a chair, without those with commands that are not approved.

    Raises:
        InputError: Where a card is named that is not there.
    """
    known = approved(opened.study)
    lines = [read_check(c.check) for c in checked_claims(opened, letter)] if enquiry == CLAIMS else []
    if enquiry != CLAIMS:
        lines = [line for _, _, line in card_lines(opened, letter, cards)]
    return [line for line in lines if all(is_approved(command, known) for command in line.commands)]


def card_lines(opened: OpenStudy, letter: str, cards: Sequence[str] = ()) -> list[tuple[str, str, CheckLine]]:
    """Card id, title and line of every check that is for a chair."""
    for name in cards:
        if name not in opened.study.card_by_id:
            raise InputError(f"There is no card {legible(clipped(name, 40))} in this study.", "Nothing was asked.")
    return [
        (card.id, card.title, line)
        for card in opened.study.cards
        if not card.dropped and (not cards or card.id in cards)
        for line in card.check_lines
        if line.is_for(letter)
    ]


def checked_claims(opened: OpenStudy, letter: str) -> list[Claim]:
    """The claims about a chair that a check can answer."""
    held = [h.record for h in opened.known_chairs.of(letter).held("claim")]
    return [record for record in held if isinstance(record, Claim) and record.check]
