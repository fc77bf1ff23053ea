"""The full report, in the order of ISO/IEC 25062: product, objectives, method, results, appendices."""

from collections.abc import Iterator

from fresh_chair.services.report.telling import results
from fresh_chair.services.report.telling.brief import footer
from fresh_chair.services.report.telling.conditions import disclosures
from fresh_chair.services.report.telling.full.appendices import appendix_sections
from fresh_chair.services.report.telling.full.judged import chair_records, foreseen_section, judgement_sections
from fresh_chair.services.report.telling.full.method import method_sections
from fresh_chair.services.report.telling.full.overall_results import (
    agreement_section,
    overall_section,
    satisfaction_section,
)
from fresh_chair.services.report.telling.full.summary import summary_section
from fresh_chair.services.report.telling.makers.maker import build_of
from fresh_chair.services.report.telling.next_time import next_time
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Document, Listing, Paragraph, Run, Section, Table, Text


def researcher_document(told: ToldStudy) -> Document:
    """Everything, for those who check."""
    say = told.words.say
    sections = [
        *told.foreword(),
        summary_section(told),
        Section("product", say("The chairs"), tuple(_product(told))),
        Section("objectives", say("What it is for"), tuple(_objectives(told))),
        *method_sections(told),
        *_results(told),
        Section("findings", say("Findings"), (), tuple(_findings(told))),
        agreement_section(told),
        foreseen_section(told),
        *chair_records(told),
        *judgement_sections(told),
        *_walks(told),
        *appendix_sections(told),
        next_time(told),
    ]
    return Document(
        "researcher",
        "researcher",
        told.study.title,
        say("The full report, for those who check"),
        told.words.language,
        tuple(told.with_own(section) for section in sections if section.blocks or section.sections),
        footer=footer(told),
    )


def _product(told: ToldStudy) -> Iterator[Block]:
    """Each chair as it was, and on which terms."""
    builds = {chair.letter: dict(build_of(told, chair)) for chair in told.study.chairs}
    names = list(dict.fromkeys(name for build in builds.values() for name in build))
    heads = ((Run(""),), *((Run(f"{chair.letter} {chair.title}"),) for chair in told.study.chairs))
    rows = []
    for name in names:
        rows.append(((Run(name),), *((Run(builds[c.letter].get(name, "–")),) for c in told.study.chairs)))
    yield Table(heads, tuple(rows))
    terms: list[Text] = [line for letter in told.titles for line in disclosures(told, letter)]
    if terms:
        yield Listing(tuple(terms))


def _objectives(told: ToldStudy) -> Iterator[Block]:
    study, say = told.study, told.words.say
    if study.question:
        yield Paragraph((Run(study.question),), "lead")
    audiences = [
        (Run(each.name, "strong"), *((Run(f": {each.needs}"),) if each.needs else ())) for each in study.sheet.audiences
    ]
    if audiences:
        yield Paragraph(told.prose.say("For whom."))
        yield Listing(tuple(audiences))
    yield Paragraph(told.prose.say("Paid for by: {who}", who=study.sheet.paid_by or say("not said")))


def _results(told: ToldStudy) -> Iterator[Section]:
    if told.walks_only:
        return
    tasks = tuple(results.task_section(told, card.id) for card in told.study.cards)
    charts = tuple(results.charts_of(told, "outcomes", "times", "tasks", "paired_times"))
    yield Section("results-tasks", told.words.say("Results by task"), charts, tasks)
    yield overall_section(told)
    yield satisfaction_section(told)


def _findings(told: ToldStudy) -> Iterator[Section]:
    charts = () if told.walks_only or not told.found.findings else tuple(results.charts_of(told, "findings"))
    yield Section("findings-all", "", (results.loose_paragraph(told), *charts))
    yield from (results.finding_section(told, view) for view in told.found.findings)
    yield from results.carried_section(told)


def _walks(told: ToldStudy) -> Iterator[Section]:
    if not told.walked:
        return
    say = told.prose.say
    about = say("Evidence of one reviewer alone at the chair.") if told.walks_only else say(
        "Evidence of one reviewer alone at the chair. It is in no figure above."
    )  # fmt: skip
    parts = (*results.walk_sections(told), *results.contest_sections(told))
    yield Section("walks", told.words.say("Walks"), (Paragraph(about),), tuple(parts))
