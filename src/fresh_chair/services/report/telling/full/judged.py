"""Records of the chairs, predictions, verdicts, scorecards, and contradictions."""

from collections.abc import Iterator

from fresh_chair.core.judgement.scorecard import Scorecard, score_words
from fresh_chair.core.text import slug
from fresh_chair.core.words.reasons import label_words, reason_words
from fresh_chair.core.words.scorecards import firmness_sentences, rule_words
from fresh_chair.services.findings.forecasts import forecast_lines
from fresh_chair.services.judgement.across import AcrossRow, across
from fresh_chair.services.judgement.contradictions import contradictions
from fresh_chair.services.judgement.firmness import firmness
from fresh_chair.services.judgement.scorecards import scorecards
from fresh_chair.services.judgement.verdicts import verdict_lines
from fresh_chair.services.report.telling import results
from fresh_chair.services.report.telling.decider import verdict_text
from fresh_chair.services.report.telling.open_points import open_section
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Figure, Listing, Paragraph, Run, Section, Table, Text


def foreseen_section(told: ToldStudy) -> Section:
    """Hunches and forecasts against their outcomes; those that were made too late are no predictions."""
    lines = [line for line in forecast_lines(told.opened) if not line.late]
    rows = []
    for number, line in enumerate(lines, start=1):
        rows.append(
            (
                (Run(line.what),),
                (Run(told.words.say(line.sort)),),
                (Run(reason_words(line.about, told.words)),),
                (Run(told.words.say(line.outcome), id=f"foreseen/{number}"),),
            )
        )
    if not rows:
        return Section("foreseen", told.words.say("Foreseen, and what happened"))
    say = told.words.say
    heads = tuple((Run(head),) for head in (say("foreseen"), say("kind"), say("about"), say("happened")))
    charts = () if told.walks_only else tuple(results.charts_of(told, "hunches"))
    return Section("foreseen", told.words.say("Foreseen, and what happened"), (*charts, Table(heads, tuple(rows))))


def chair_records(told: ToldStudy) -> Iterator[Section]:
    """Readings, claims, defaults, warnings, looks, changes: everything on record of the chairs, side by side."""
    rows = across(told.opened).rows
    groups = list(dict.fromkeys(row.group for row in rows))
    parts = []
    for group in groups:
        heads = ((Run(""),), *((Run(f"{letter} {title}"),) for letter, title in told.titles.items()))
        table = tuple(_record_row(told, row) for row in rows if row.group == group and any(row.cells))
        if table:
            parts.append(Section(f"records-{slug(group)}", label_words(group, told.words), (Table(heads, table),)))
    if parts:
        yield Section("records", told.words.say("On record of the chairs"), (), tuple(parts))


def _record_row(told: ToldStudy, row: AcrossRow) -> tuple[Text, ...]:
    name = label_words(row.label, told.words)
    note = told.words.say("not under like conditions") if row.differing else ""
    if row.source:
        note = told.words.say("from {study}", study=row.source)
    if row.borrowed:
        note = told.borrowed_words(row.borrowed)
    head = (Run(name), *((Run(f" ({note})", "quiet"),) if note else ()))
    cells: list[Text] = []
    for letter, cell in zip(told.titles, row.cells, strict=True):
        number = f"record/{slug(row.group)}-{slug(row.label)}/{letter}"
        cells.append((Run(label_words(cell, told.words), id=number),) if cell else (Run("–"),))
    return (head, *cells)


def judgement_sections(told: ToldStudy) -> Iterator[Section]:
    """Verdicts, scorecards, and contradictions with the reviewer's answers."""
    parts = [
        Section("verdicts", told.words.say("Verdicts"), tuple(_verdicts(told))),
        *(_scorecard(told, card, number) for number, card in enumerate(scorecards(told.opened, told.weighing), 1)),
        Section("contradictions", told.words.say("What contradicts itself"), tuple(_contradictions(told))),
        *open_section(told),
    ]
    kept = tuple(part for part in parts if part.blocks)
    if kept:
        yield Section("judgement", told.words.say("The reviewer's judgement"), (), kept)


def _verdicts(told: ToldStudy) -> Iterator[Block]:
    """Every verdict, those that were revised too, with its reason and its ground."""
    items: list[Text] = []
    for line in verdict_lines(told.opened):
        verdict = line.verdict
        whom = verdict.audience or told.words.say("everyone")
        chair = told.titles.get(verdict.chair, told.words.say("all chairs"))
        spans: list[Run] = [Run(f"{chair}, {whom}: "), *verdict_text(told, verdict)]
        if verdict.why:
            spans += told.prose.say("; because {why}", why=verdict.why)
        if verdict.relative_to:
            spans += told.prose.say("; against {what}", what=verdict.relative_to)
        if verdict.on:
            spans.append(Run(f"; {told.words.day(verdict.on)}", "quiet"))
        if line.state == "revised":
            spans += told.prose.say("; revised since")
        if line.state == "open again":
            spans += told.prose.say("; open again, for its condition was met")
        if line.rests_on:
            spans += told.prose.say("; rests on {things}", things=", ".join(end.other_words for end in line.rests_on))
        items.append(tuple(spans))
    if items:
        yield Listing(tuple(items))


def _scorecard(told: ToldStudy, card: Scorecard, number: int) -> Section:
    """A scorecard with each score's ground, its sums, and how firm the ranking is."""
    say = told.words.say
    heads = ((Run(say("criterion")),), (Run(say("weight")),), *((Run(t),) for t in told.titles.values()))
    rows = []
    for row in card.rows:
        name = (Run(row.criterion.name), Run(f" ({rule_words(row.criterion, told.words)})", "quiet"))
        by_chair = {cell.chair: cell for cell in row.cells}
        cells: list[Text] = []
        for letter in told.titles:
            value = by_chair[letter].value if letter in by_chair else None
            shown = score_words(row.criterion, value) if value is not None else say("missing")
            cells.append((Run(shown, id=f"score/{slug(card.name)}/{slug(row.criterion.name)}/{letter}"),))
        rows.append((name, (Run(told.words.number(row.criterion.weight)),), *cells))
    totals = {total.chair: total for total in card.totals}
    sums: list[Text] = [(Run(say("of 100, weighted"), "strong"),), ()]
    places: list[Text] = [(Run(say("place"), "strong"),), ()]
    for letter in told.titles:
        total = totals.get(letter)
        weighted = total.weighted if total is not None else None
        sums.append((told.number(weighted, ".0f", f"total/{slug(card.name)}/{letter}"),))
        places.append((Run(str(total.rank) if total is not None and total.rank else "–"),))
    firm = firmness_sentences(card, firmness(told.weighing, card), told.titles, told.words)
    title = say("Scorecard {name}, for {audience}", name=card.name, audience=card.audience or say("everyone"))
    chart = Figure(
        f"scorecard_{number}",
        title,
        say("{title}, drawn; the numbers stand in the tables of this section.", title=title),
    )
    facts = "; ".join(reason_words(each, told.words) for each in card.twice)
    twice = (Paragraph(told.prose.say("Counted twice: {facts}.", facts=facts), "open"),) if facts else ()
    blocks = (
        chart,
        Table(heads, (*rows, tuple(sums), tuple(places))),
        *twice,
        Listing(tuple((Run(f),) for f in firm)),
    )
    return Section(f"scorecard-{number}", title, blocks)


def _contradictions(told: ToldStudy) -> Iterator[Block]:
    for each in contradictions(told.opened, told.weighing, told.turning, told.words):
        # Those without an answer stand under what is still open.
        if each.answer is not None:
            answer = told.words.say(each.answer.answer)
            yield Paragraph(
                told.prose.say(
                    "{what}. The reviewer: {answer}; {why}", what=each.words, answer=answer, why=each.answer.because
                )
            )
