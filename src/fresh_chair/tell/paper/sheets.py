"""The moderator's papers: running sheets, the consent form, the list for the bench."""

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, HRFlowable, KeepTogether, PageBreak, Spacer, Table, TableStyle

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.fixtures import Fixture
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.tell.paper.style import INK, RULE, labelled, paragraph

_BOX = "□"
# Spaces in a row would be taken for one.
_GAP = "\u00a0" * 4 + " "
_LINES = TableStyle(
    [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -1), 0.5, RULE),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 6),
        ("TOPPADDING", (0, 0), (-1, -1), 4),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 5),
    ]
)


def running_sheets(study: Study, seats: Sequence[Seat]) -> list[Flowable]:
    """One sheet for each sitting: its cards in its order, with room to write."""
    pages: list[Flowable] = []
    numbers = {card.id: number for number, card in enumerate(study.cards, start=1)}
    for seat in seats:
        pages += [*_running_sheet(study, seat, numbers), PageBreak()]
    return pages[:-1]


def _running_sheet(study: Study, seat: Seat, numbers: dict[str, int]) -> list[Flowable]:
    chair, person = study.chair_by_letter[seat.chair], study.person_by_code[seat.participant]
    role = "" if person.role == "participant" else f" ({person.role}, not counted)"
    parts: list[Flowable] = [
        paragraph(f"Sitting {seat.number}: {seat.participant}{role} at {chair.letter} {chair.title}", 15, bold=True),
        paragraph(study.title, 9, quiet=True),
        Spacer(0, 3 * mm),
    ]
    if person.aids:
        parts.append(labelled("aids needed:", person.aids))
    parts += [labelled("altered:", alteration) for alteration in chair.alterations]
    parts += [labelled("standing fault:", f"{f.what}. {f.excuses}") for f in study.machine_of(chair).faults]
    parts += [
        labelled(
            "before:",
            _GAP.join(f"{_BOX} {what}" for what in ("consent", "chair is fresh", "fixtures", "greeting read")),
        ),
        Spacer(0, 2 * mm),
        HRFlowable(width="100%", thickness=1, color=INK, spaceAfter=3 * mm),
    ]
    for index, name in enumerate(seat.cards, start=1):
        parts.append(KeepTogether(_card_block(study.card_by_id[name], seat.chair, index, numbers[name])))
    return parts


def _card_block(card: TaskCard, letter: str, place: int, number: int) -> list[Flowable]:
    limit = clock_text(card.limit_seconds * SECOND)
    expert = card.benchmark_seconds.get(letter)
    times = f"limit {limit}" + (f", expert {expert:g} s" if expert else "")
    rows: list[Flowable] = [
        paragraph(f"{place}.  {card.title}{_GAP}(card {number})", 10.5, bold=True),
        paragraph(card.goal, 10.5),
    ]
    notes = [
        ("start:", card.start),
        ("done means:", card.success),
        ("partly:", "; ".join(grade.rstrip(".") for grade in card.partly)),
        ("ask:", card.question),
        ("route here:", " > ".join(card.routes.get(letter, ()))),
        ("note:", card.notes.get(letter, "")),
        ("put back:", "; ".join(step.rstrip(".") for step in card.put_back)),
    ]
    rows += [labelled(label, text, 8.5) for label, text in notes if text]
    outcomes = _GAP.join(f"{outcome.sign} {outcome.words.removeprefix('completed ')}" for outcome in Outcome)
    rows += [
        Spacer(0, 1.5 * mm),
        paragraph(outcomes, 8.5),
        paragraph(_GAP.join((times, "time ________", "wait ________", "ease  " + "\u00a0\u00a0".join("1234567"))), 8.5),
        Spacer(0, 9 * mm),
        HRFlowable(width="100%", thickness=0.5, color=RULE, spaceAfter=2 * mm),
    ]
    return rows


def consent_form(study: Study) -> list[Flowable]:
    """The form a participant reads and signs; their name stays on this paper and goes nowhere else."""
    parts: list[Flowable] = [
        paragraph("Taking part", 22, bold=True),
        paragraph(study.title, 12, quiet=True),
        Spacer(0, 6 * mm),
    ]
    minutes = study.sheet.minutes_per_sitting
    words = [
        "We look at how easily people find their way on computers they have not seen before. We test the computers, "
        "not you: whatever you cannot do tells us something about them.",
        f"You will be asked to do some everyday things. One sitting takes about {minutes} minutes.",
        "You may stop at any time, skip anything, and need not say why.",
        "We write down what happens under a code, not under your name. You may have all of it erased later: "
        "tell us the code.",
    ]
    if study.question:
        words.insert(1, f"What we want to know: {study.question}")
    if study.sheet.paid_by:
        words.append(f"Who pays for it: {study.sheet.paid_by}")
    for sentence in words:
        parts += [paragraph(sentence, 11.5), Spacer(0, 2.5 * mm)]
    parts += [Spacer(0, 3 * mm), paragraph("I agree", 13, bold=True), Spacer(0, 1 * mm)]
    consents = [(consent.words, consent.needed) for consent in study.sheet.consents]
    consents = consents or [("to take part, and to what I do being written down under a code", True)]
    for sentence, needed in consents:
        parts += [
            paragraph(f"{_BOX}\u00a0 {sentence}{'' if needed else f'{_GAP}(as you like)'}", 11.5),
            Spacer(0, 2 * mm),
        ]
    parts += [
        Spacer(0, 14 * mm),
        paragraph(f"date ______________{_GAP}signature ______________________________", 11.5),
        Spacer(0, 8 * mm),
        paragraph("code (filled in by us) ____________", 11.5),
    ]
    return parts


def fixture_list(study: Study, fixtures: Sequence[Fixture]) -> list[Flowable]:
    """Everything for the bench, to tick off on the day."""
    parts: list[Flowable] = [
        paragraph("On the bench", 22, bold=True),
        paragraph(study.title, 12, quiet=True),
        Spacer(0, 5 * mm),
    ]
    if not fixtures:
        return [*parts, paragraph("No card asks for anything.", 11.5)]
    rows = [
        [paragraph(_BOX, 12), paragraph(each.name, 11), paragraph(f"for: {'; '.join(each.cards)}", 9, quiet=True)]
        for each in fixtures
    ]
    table = Table(rows, colWidths=[9 * mm, 78 * mm, None], repeatRows=0)
    table.setStyle(_LINES)
    return [*parts, table]
