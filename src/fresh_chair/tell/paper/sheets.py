"""The moderator's papers: running sheets, the consent form, the list for the bench."""

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, HRFlowable, KeepTogether, PageBreak, Spacer, Table, TableStyle

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.fixtures import Fixture
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.catalogue import Words
from fresh_chair.tell.paper.style import INK, PLAIN, RULE, labelled, paragraph

_BOX = "□"
# Spaces in a row would be taken for one.
_GAP = "\u00a0" * 4 + " "
_LINES = TableStyle(
    [
        ("FONTNAME", (0, 0), (-1, -1), PLAIN),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -1), 0.5, RULE),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 6),
        ("TOPPADDING", (0, 0), (-1, -1), 4),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 5),
    ]
)


def running_sheets(study: Study, seats: Sequence[Seat], words: Words) -> list[Flowable]:
    """One sheet for each sitting: its cards in its order, with room to write."""
    pages: list[Flowable] = []
    numbers = {card.id: number for number, card in enumerate(study.cards, start=1)}
    for seat in seats:
        pages += [*_running_sheet(study, seat, numbers, words), PageBreak()]
    return pages[:-1]


def _running_sheet(study: Study, seat: Seat, numbers: dict[str, int], words: Words) -> list[Flowable]:
    chair, person = study.chair_by_letter[seat.chair], study.person_by_code[seat.participant]
    role = "" if person.role == "participant" else " " + words.say("({role}, not counted)", role=words.say(person.role))
    head = words.say(
        "Sitting {number}: {code} at {chair}",
        number=seat.number,
        code=seat.participant + role,
        chair=f"{chair.letter} {chair.title}",
    )
    before = [words.say("consent"), words.say("chair is fresh"), words.say("fixtures"), words.say("greeting read")]
    parts: list[Flowable] = [
        paragraph(head, 15, bold=True),
        paragraph(study.title, 9, quiet=True),
        Spacer(0, 3 * mm),
    ]
    if person.aids:
        parts.append(labelled(words.say("aids needed:"), person.aids))
    parts += [labelled(words.say("altered:"), alteration) for alteration in chair.alterations]
    parts += [labelled(words.say("standing fault:"), f"{f.what}. {f.excuses}") for f in study.machine_of(chair).faults]
    parts += [
        labelled(words.say("before:"), _GAP.join(f"{_BOX} {what}" for what in before)),
        Spacer(0, 2 * mm),
        HRFlowable(width="100%", thickness=1, color=INK, spaceAfter=3 * mm),
    ]
    for index, name in enumerate(seat.cards, start=1):
        parts.append(KeepTogether(_card_block(study.card_by_id[name], seat.chair, index, numbers[name], words)))
    return parts


def _card_block(card: TaskCard, letter: str, place: int, number: int, words: Words) -> list[Flowable]:
    limit = clock_text(card.limit_seconds * SECOND)
    expert = card.benchmark_seconds.get(letter)
    times = words.say("limit {limit}", limit=limit)
    if expert:
        times = words.say("limit {limit}, expert {seconds} s", limit=limit, seconds=f"{expert:g}")
    rows: list[Flowable] = [
        paragraph(f"{place}.  {card.title}{_GAP}({words.say('card {number}', number=number)})", 10.5, bold=True),
        paragraph(card.goal, 10.5),
    ]
    notes = [
        (words.say("start:"), card.start),
        (words.say("done means:"), card.success),
        (words.say("partly:"), "; ".join(grade.rstrip(".") for grade in card.partly)),
        (words.say("ask:"), card.question),
        (words.say("route here:"), " > ".join(card.routes.get(letter, ()))),
        (words.say("note:"), card.notes.get(letter, "")),
        (words.say("put back:"), "; ".join(step.rstrip(".") for step in card.put_back)),
    ]
    rows += [labelled(label, text, 8.5) for label, text in notes if text]
    blanks = (
        words.say("time ________"),
        words.say("wait ________"),
        words.say("ease  {scale}", scale="\u00a0\u00a0".join("1234567")),
    )
    outcomes = _GAP.join(f"{outcome.sign} {words.say(outcome.words).removeprefix('completed ')}" for outcome in Outcome)
    rows += [
        Spacer(0, 1.5 * mm),
        paragraph(outcomes, 8.5),
        paragraph(_GAP.join((times, *blanks)), 8.5),
        Spacer(0, 9 * mm),
        HRFlowable(width="100%", thickness=0.5, color=RULE, spaceAfter=2 * mm),
    ]
    return rows


def consent_form(study: Study, words: Words) -> list[Flowable]:
    """The form a participant reads and signs; their name stays on this paper and goes nowhere else."""
    parts: list[Flowable] = [
        paragraph(words.say("Taking part"), 22, bold=True),
        paragraph(study.title, 12, quiet=True),
        Spacer(0, 6 * mm),
    ]
    minutes = study.sheet.minutes_per_sitting
    said = [
        words.say(
            "We look at how easily people find their way on computers they have not seen before. We test the "
            "computers, not you: whatever you cannot do tells us something about them."
        ),
        words.say(
            "You will be asked to do some everyday things. One sitting takes about {minutes} minutes.", minutes=minutes
        ),
        words.say("You may stop at any time, skip anything, and need not say why."),
        words.say(
            "We write down what happens under a code, not under your name. You may have all of it erased later: "
            "tell us the code."
        ),
    ]
    if study.question:
        said.insert(1, words.say("What we want to know: {question}", question=study.question))
    if study.sheet.paid_by:
        said.append(words.say("Who pays for it: {payer}", payer=study.sheet.paid_by))
    for sentence in said:
        parts += [paragraph(sentence, 11.5), Spacer(0, 2.5 * mm)]
    parts += [Spacer(0, 3 * mm), paragraph(words.say("I agree"), 13, bold=True), Spacer(0, 1 * mm)]
    consents = [(consent.words, consent.needed) for consent in study.sheet.consents]
    consents = consents or [(words.say("to take part, and to what I do being written down under a code"), True)]
    for sentence, needed in consents:
        parts += [
            paragraph(f"{_BOX}\u00a0 {sentence}{'' if needed else _GAP + words.say('(as you like)')}", 11.5),
            Spacer(0, 2 * mm),
        ]
    parts += [
        Spacer(0, 14 * mm),
        paragraph(f"{words.say('date')} {'_' * 14}{_GAP}{words.say('signature')} {'_' * 30}", 11.5),
        Spacer(0, 8 * mm),
        paragraph(f"{words.say('code (filled in by us)')} {'_' * 12}", 11.5),
    ]
    return parts


def fixture_list(study: Study, fixtures: Sequence[Fixture], words: Words) -> list[Flowable]:
    """Everything for the bench, to tick off on the day."""
    parts: list[Flowable] = [
        paragraph(words.say("On the bench"), 22, bold=True),
        paragraph(study.title, 12, quiet=True),
        Spacer(0, 5 * mm),
    ]
    if not fixtures:
        return [*parts, paragraph(words.say("No card asks for anything."), 11.5)]
    rows = [
        [
            paragraph(_BOX, 12),
            paragraph(each.name, 11),
            paragraph(words.say("for: {cards}", cards="; ".join(each.cards)), 9, quiet=True),
        ]
        for each in fixtures
    ]
    table = Table(rows, colWidths=[9 * mm, 78 * mm, None], repeatRows=0)
    table.setStyle(_LINES)
    return [*parts, table]
