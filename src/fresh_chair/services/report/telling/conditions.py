"""Differences between the chairs, and the terms on which each was had."""

from fresh_chair.core.evidence.records import Disclosure, Terms
from fresh_chair.core.words.catalogue import Words
from fresh_chair.core.words.figures import figure_words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Text


def plain_conditions(told: ToldStudy) -> tuple[Block, ...]:
    """The differences besides the distribution, and the terms on which each chair was had."""
    conditions = figure_words(told.weighing, told.words).conditions
    items: list[Text] = [(Run(each),) for each in conditions]
    items += [each for letter in told.titles for each in disclosures(told, letter)]
    if not items:
        return (Paragraph(told.prose.say("Nothing that is on record.")),)
    return (Listing(tuple(items)),)


def terms_words(terms: Terms, words: Words) -> str:
    """The terms on which a chair was had, in words."""
    return {
        "not said": words.say("on terms that are not said"),
        "paid": words.say("the reviewer was paid"),
        "lent": words.say("lent to the reviewer"),
        "given": words.say("given to the reviewer"),
        "none": words.say("nothing was given or lent for it"),
    }[terms]


def disclosures(told: ToldStudy, letter: str, sitting: int = 0) -> list[Text]:
    """The terms on which a chair was had, or a walk through it was made."""
    found: list[Text] = []
    for held in evidence_of_kind(told.opened, "disclosure"):
        each = held.record
        if not isinstance(each, Disclosure) or each.chair != letter or each.sitting not in (0, sitting):
            continue
        parts = [f"{told.titles[letter]}: {terms_words(each.terms, told.words)}"]
        if each.price:
            parts.append(told.words.say("price: {price}", price=each.price))
        if each.worth:
            parts.append(told.words.say("said to be worth: {worth}", worth=each.worth))
        if each.note:
            parts.append(each.note)
        found.append((Run("; ".join(parts)),))
    return found
