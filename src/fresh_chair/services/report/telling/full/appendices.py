"""Appendices of the full report: questionnaires and consent words."""

from collections.abc import Iterator

from fresh_chair.core.sitting.entries.ratings import (
    AGREEMENT_ENDS,
    EASE,
    EASE_ENDS,
    EXPECTATION,
    PREFERENCE,
    USABILITY_ITEMS,
)
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Section, Text


def appendix_sections(told: ToldStudy) -> Iterator[Section]:
    """The questionnaires and the consents, in the words they are asked in."""
    if told.walks_only:
        return
    yield Section("questionnaires", told.words.say("Appendix: questionnaires"), tuple(_questionnaires(told)))
    consents = [
        (
            Run(each.words),
            Run(f" ({told.words.say('needed') if each.needed else told.words.say('not needed')})", "quiet"),
        )
        for each in told.study.sheet.consents
    ]
    if consents:
        agreed = Paragraph(told.prose.say("People agree:"))
        yield Section("consents", told.words.say("Appendix: consent"), (agreed, Listing(tuple(consents))))


def _questionnaires(told: ToldStudy) -> Iterator[Block]:
    say, sheet = told.words.say, told.study.sheet
    ends = f"1 {say(EASE_ENDS[0])} … 7 {say(EASE_ENDS[1])}"
    asked: list[Text] = [(Run(say(EASE)), Run(f" ({ends})", "quiet"))]
    if sheet.ask_expectation:
        asked.append((Run(say(EXPECTATION)), Run(f" ({ends})", "quiet")))
    if sheet.ask_preference:
        asked.append((Run(say(PREFERENCE)),))
    yield Paragraph(told.prose.say("After a card, and at the end:"))
    yield Listing(tuple(asked))
    agreement = f"1 {say(AGREEMENT_ENDS[0])} … 5 {say(AGREEMENT_ENDS[1])}"
    yield Paragraph((*told.prose.say("The System Usability Scale"), Run(f" ({agreement})", "quiet")))
    yield Listing(tuple((Run(say(item)),) for item in USABILITY_ITEMS), numbered=True)
    own: list[Text] = []
    for question in sheet.questions:
        more = ", ".join(question.choices) if question.kind == "choice" else ""
        if question.kind == "scale":
            more = f"1 {question.low} … {question.points} {question.high}".replace("  ", " ")
        own.append((Run(question.ask), *((Run(f" ({more})", "quiet"),) if more else ())))
    if own:
        yield Paragraph(told.prose.say("The study's own questions:"))
        yield Listing(tuple(own))
