"""Rating forms: the participant ticks them after each card and at the end. Nothing of the study stands on them."""

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, PageBreak, Spacer, Table, TableStyle

from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.plan.study import Seat, Study
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
from fresh_chair.core.words.catalogue import Words
from fresh_chair.tell.paper.style import PLAIN, RULE, paragraph

_BOX = "□"
_GAP = "\u00a0" * 4 + " "
_TIGHT = TableStyle(
    [
        ("FONTNAME", (0, 0), (-1, -1), PLAIN),
        ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 4),
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
    ]
)


def rating_forms(study: Study, seats: Sequence[Seat], words: Words) -> list[Flowable]:
    """One form for each sitting: its cards by their numbers, in its order; then the scale and the study's questions."""
    pages: list[Flowable] = []
    numbers = {card.id: number for number, card in enumerate(study.cards, start=1)}
    for seat in seats:
        pages += [*_cards(study, seat, numbers, words), PageBreak(), *_sitting(study, seat, words), PageBreak()]
    return pages[:-1]


def _head(seat: Seat, title: str, words: Words) -> list[Flowable]:
    code = words.say("code {code}", code=seat.participant)
    sitting = words.say("sitting {number}", number=seat.number)
    return [
        paragraph(title, 18, bold=True),
        paragraph(f"{code}{_GAP}{sitting}", 10, quiet=True),
        Spacer(0, 5 * mm),
    ]


def _cards(study: Study, seat: Seat, numbers: dict[str, int], words: Words) -> list[Flowable]:
    parts = _head(seat, words.say("After each card"), words)
    after = [question for question in study.sheet.questions if question.when == "after each card"]
    ease_ends = words.say(EASE_ENDS[0]), words.say(EASE_ENDS[1])
    for name in seat.cards:
        block: list[Flowable] = [paragraph(words.say("card {number}", number=numbers[name]), 12, bold=True)]
        if study.sheet.ask_expectation:
            block += _scale(
                words.say("Before you begin: {question}", question=words.say(EXPECTATION)), EASE_MOST, ease_ends
            )
        block += _scale(words.say(EASE), EASE_MOST, ease_ends)
        for question in after:
            block += _question(question)
        parts.append(KeepTogether([*block, Spacer(0, 5 * mm)]))
    return parts


def _sitting(study: Study, seat: Seat, words: Words) -> list[Flowable]:
    low, high = AGREEMENT_ENDS
    parts = _head(seat, words.say("At the end"), words)
    agree = words.say(
        "How far do you agree? 1 is {low}, {most} is {high}.",
        low=words.say(low),
        most=AGREEMENT_MOST,
        high=words.say(high),
    )
    parts.append(paragraph(agree, 10.5))
    rows = [
        [paragraph(str(number), 10.5), paragraph(words.say(item), 10.5), paragraph(_boxes(AGREEMENT_MOST), 10.5)]
        for number, item in enumerate(USABILITY_ITEMS, start=1)
    ]
    table = Table(rows, colWidths=[8 * mm, None, 62 * mm])
    table.setStyle(_TIGHT)
    parts += [Spacer(0, 2 * mm), table, Spacer(0, 6 * mm)]
    for question in study.sheet.questions:
        if question.when == "after the sitting":
            parts.append(KeepTogether([*_question(question), Spacer(0, 4 * mm)]))
    if study.sheet.ask_preference:
        parts += [
            paragraph(words.say("When you have tried them all: {question}", question=words.say(PREFERENCE)), 11),
            Spacer(0, 6 * mm),
            paragraph(f"{'_' * 22}{_GAP}{words.say('because')} {'_' * 40}", 11),
        ]
    return parts


def _question(question: StudyQuestion) -> list[Flowable]:
    if question.kind == "scale":
        return _scale(question.ask, EASE_MOST, (question.low, question.high))
    if question.kind == "choice":
        choices = _GAP.join(f"{_BOX}\u00a0{choice}" for choice in question.choices)
        return [paragraph(question.ask, 11), paragraph(choices, 11), Spacer(0, 2 * mm)]
    return [paragraph(question.ask, 11), Spacer(0, 7 * mm), paragraph("_" * 70, 11), Spacer(0, 2 * mm)]


def _scale(words: str, most: int, ends: tuple[str, str]) -> list[Flowable]:
    low, high = ends
    return [
        paragraph(words, 11),
        paragraph(f"{low}{_GAP}{_boxes(most)}{_GAP}{high}", 11),
        Spacer(0, 2 * mm),
    ]


def _boxes(most: int) -> str:
    return "\u00a0\u00a0 ".join(f"{number}\u00a0{_BOX}" for number in range(1, most + 1))
