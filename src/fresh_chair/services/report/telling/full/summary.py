"""The summary of the full report: its basis and its results on half a page."""

from collections.abc import Iterator

from fresh_chair.core.words.overall import overall_words
from fresh_chair.core.words.turning import turning_sentences
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.report.telling.results import threshold_blocks
from fresh_chair.services.report.telling.row_table import row_table
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.report.telling.walk_answers import walk_answer, walk_table
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Section
from fresh_chair.tell.document.prose import joined


def summary_section(told: ToldStudy) -> Section:
    """The basis and the results."""
    return Section("summary", told.words.say("Summary"), tuple(_walked(told) if told.walks_only else _summary(told)))


def _walked(told: ToldStudy) -> Iterator[Block]:
    yield from walk_answer(told)
    yield walk_table(told)


def _summary(told: ToldStudy) -> Iterator[Block]:
    facts = [fact for fact in told.weighing.facts if fact.outcome.counts]
    count, people = told.prose.count, len({fact.participant for fact in facts})
    chairs, cards, attempts = len(told.study.chairs), len(told.study.cards), len(facts)
    parts = (
        count("{people} newcomer", "{people} newcomers", people, people=Run(str(people), id="people")),
        count("{chairs} chair", "{chairs} chairs", chairs, chairs=Run(str(chairs), id="chairs")),
        count("{cards} card", "{cards} cards", cards, cards=Run(str(cards), id="cards")),
        count(
            "{attempts} attempt that counts", "{attempts} attempts that count", attempts,
            attempts=Run(str(attempts), id="tasks"),
        ),
    )  # fmt: skip
    yield Paragraph((*joined(list(parts), ", "), Run(".")))
    main = main_measure(told.weighing)
    items = [
        (Run(each.verdict, "strong"), Run(f" {each.seen}" if each.seen else ""))
        for each in overall_words(told.weighing, told.words).sentences
        if each.measure == main
    ]
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("It takes two chairs to compare."))
    if told.turning is not None:
        said = turning_sentences(told.weighing, told.turning, told.words)
        yield from (Paragraph((Run(each),)) for each in said[:3])
    yield from threshold_blocks(told)
    yield row_table(told)
