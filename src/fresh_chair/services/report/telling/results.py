"""Results as sections that several documents have: by task, over all tasks, findings, walks, contests, left out."""

from collections.abc import Iterator

from fresh_chair.core.figures.cell import CellFigures
from fresh_chair.core.figures.estimate import Estimate, Proportion
from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.sitting.contests import contests_of
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.figures import figure_words, time_words
from fresh_chair.core.words.findings import finding_sentences
from fresh_chair.core.words.overall import overall_lines, overall_words
from fresh_chair.core.words.reasons import reason_words
from fresh_chair.core.words.thresholds import threshold_heading, threshold_lines
from fresh_chair.core.words.walks import better_words, contest_counts, contest_turns, step_words
from fresh_chair.services.report.telling.pictures import pictures_of
from fresh_chair.services.report.telling.quotes import may_quote, quoted
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Figure, Listing, Paragraph, Quotation, Run, Section, Table, Text


def rate_text(told: ToldStudy, rate: Proportion, number: str) -> Text:
    """A rate with its count and its interval, as a number with an id."""
    if rate.low is None or rate.high is None:
        return (Run(told.words.say("none yet"), "quiet"),)
    interval = told.words.interval(rate.low, rate.high, of=100)
    return (told.rate(rate.x, rate.n, number), Run(f" ({interval} %)"))


def estimate_text(told: ToldStudy, estimate: Estimate, number: str, *, shape: str = ".1f", unit: str = "") -> Text:
    """A figure with its interval and n; the reason where there is none."""
    if estimate.value is None:
        return (Run(reason_words(estimate.note, told.words) if estimate.note else told.words.say("none"), "quiet"),)
    value = told.number(estimate.value, shape, number, unit=unit)
    if estimate.low is None:
        return (value, Run(f" (n {estimate.n})"))
    return (value, Run(f" ({told.words.interval(estimate.low, estimate.high, shape)}; n {estimate.n})"))


def charts_of(told: ToldStudy, *names: str) -> Iterator[Figure]:
    """Charts by name, each with its description in words."""
    titles = {
        "outcomes": told.words.say("Outcomes by task and chair"),
        "times": told.words.say("Time on task by chair"),
        "overall": told.words.say("Chairs compared over all tasks"),
        "tasks": told.words.say("Every pair on every task"),
        "paired_times": told.words.say("Each person's times"),
        "fared_better": told.words.say("Who fared better"),
        "waits": told.words.say("The machine's share"),
        "routes": told.words.say("The ways people went"),
        "findings": told.words.say("Findings by chair"),
        "discovery": told.words.say("Discovery"),
        "hunches": told.words.say("Foreseen, and what happened"),
    }
    for name in names:
        alt = told.words.say("{title}, drawn; the numbers stand in the tables of this section.", title=titles[name])
        yield Figure(name, titles[name], alt)


def task_section(told: ToldStudy, card: str) -> Section:
    """One task at every chair: the card, the sentences its figures allow, and the figures."""
    study, said = told.study, figure_words(told.weighing, told.words).said
    asked = study.card_by_id[card]
    blocks: list[Block] = [Quotation((Run(quoted(asked.goal, told.words)),))]
    blocks += [Paragraph((Run(sentence),)) for sentence in said.get(card, ())]
    heads = (
        told.words.say("chair"),
        told.words.say("completed"),
        told.words.say("unaided"),
        time_words(told.weighing.choice.times, told.words),
        told.words.say("ease 1-7"),
        told.words.say("said done, was not"),
    )
    rows = tuple(_cell_row(told, told.weighing.cells[card, letter]) for letter in told.titles)
    blocks.append(Table(tuple((Run(head),) for head in heads), rows))
    return Section(f"task-{card}", asked.title, tuple(blocks))


def _cell_row(told: ToldStudy, cell: CellFigures) -> tuple[Text, ...]:
    at = f"{cell.card}/{cell.chair}"
    completed = rate_text(told, cell.lenient, f"completion/{at}")
    if cell.by_workaround:
        completed += told.prose.say(" ({count} by a workaround)", count=cell.by_workaround)
    seconds = estimate_text(told, cell.default_seconds, f"time/{at}", shape=".0f", unit=" s")
    if cell.n and not cell.everyone_completed:
        seconds += told.prose.say(", all attempts")
    return (
        (Run(told.titles[cell.chair]),),
        completed,
        rate_text(told, cell.strict, f"unaided/{at}"),
        seconds,
        estimate_text(told, cell.ease, f"ease/{at}"),
        (Run(str(cell.said_done_was_not), id=f"said-done/{at}"),),
    )


def threshold_blocks(told: ToldStudy) -> Iterator[Block]:
    """The thresholds, and whether each chair meets them."""
    lines = threshold_lines(told.weighing, told.words)
    if not lines:
        return
    heads = ((Run(threshold_heading(told.weighing, told.words)),), *((Run(t),) for t in told.titles.values()))
    rows = []
    for number, line in enumerate(lines, start=1):
        cells: list[Text] = [(Run(line.threshold),)]
        by_chair = {letter: (state, figure) for letter, _, state, figure in line.chairs}
        for letter in told.titles:
            state, figure = by_chair.get(letter, ("", ""))
            number_id = f"threshold/{number}/{letter}"
            cells.append((Run(state, "strong"), Run(" ("), Run(figure, id=number_id), Run(")")) if state else ())
        rows.append(tuple(cells))
    yield Table(heads, tuple(rows))


def overall_blocks(told: ToldStudy, *, figures: bool = True) -> Iterator[Block]:
    """Chairs compared over all tasks: notes first, then a sentence a pair with its figures."""
    overall = overall_words(told.weighing, told.words)
    yield from (Paragraph((Run(note),)) for note in overall.notes)
    if not overall.sentences:
        yield Paragraph(told.prose.say("It takes two chairs to compare."))
    for heading, sentence in overall_lines(overall.sentences):
        if heading:
            yield Paragraph((Run(heading, "strong"),))
        number = f"overall/{sentence.measure.replace(' ', '-')}/{sentence.first}-{sentence.second}"
        verdict = Run(sentence.verdict, "strong", id=number)
        yield Paragraph((verdict, Run(f" {sentence.seen}" if sentence.seen else "")))
        if figures:
            yield Paragraph((Run(sentence.figures),), "quiet")


def finding_section(told: ToldStudy, view: FindingView, *, marks: int = 1000) -> Section:
    """A finding: severity, its sentences, who met it where, and its marks."""
    sort = "" if view.finding.sort == "problem" else f" ({told.words.say(view.finding.sort)})"
    return Section(
        f"finding-F{view.finding.number}",
        f"{view.finding.name} {view.title}{sort}",
        tuple(_finding_blocks(told, view, marks)),
    )


def _finding_blocks(told: ToldStudy, view: FindingView, marks: int) -> Iterator[Block]:
    number = f"severity/F{view.finding.number}"
    if view.severity is not None:
        yield Paragraph(
            (
                *told.prose.say(
                    "Severity {severity} of 4, {words}:",
                    severity=Run(str(view.severity), id=number),
                    words=told.words.say(SEVERITY_WORDS[view.severity]),
                ),
                Run(f" {view.reason}"),
            )
        )
    elif view.finding.sort == "problem":
        yield Paragraph(told.prose.say("Severity not judged yet."), "quiet")
    yield from (Paragraph((Run(sentence),)) for sentence in finding_sentences(view, told.words))
    items = [_spread(told, view, index) for index, each in enumerate(view.spread) if each.share.n or each.others]
    if items:
        yield Listing(tuple(items))
    if view.typed:
        typed = ", ".join(map(str, view.typed))
        yield Paragraph(told.prose.say("Typed at once: severity {typed}.", typed=typed), "quiet")
    yield from _seen(told, view, marks)
    if told.reader is not None:
        # The short report goes with nothing but its charts.
        yield from pictures_of(told, view)


def _spread(told: ToldStudy, view: FindingView, index: int) -> Text:
    each = view.spread[index]
    spans: list[Run] = [Run(f"{told.titles[each.chair]}: ")]
    if each.share.n:
        rate = rate_text(told, each.share, f"finding/F{view.finding.number}/{each.chair}")
        spans += filled_rate(told, rate)
        if each.people:
            spans.append(Run(f" - {', '.join(each.people)}"))
        judged = view.finding.severity_in(Scope(chair=each.chair))
        if judged is not None and each.people:
            there = Run(str(judged.severity), id=f"severity/F{view.finding.number}/{each.chair}")
            spans += told.prose.say("; severity {severity} there", severity=there)
    if each.others:
        people = ", ".join(each.others)
        if each.share.n:
            spans += [Run("; "), *told.prose.say("also by {people}, never counted", people=people)]
        else:
            spans += told.prose.say("met only by {people}, never counted", people=people)
    return tuple(spans)


def filled_rate(told: ToldStudy, rate: Text) -> Text:
    """By how many of how many a thing was met."""
    return told.prose.say("met by {rate}", rate=rate)


def _seen(told: ToldStudy, view: FindingView, marks: int) -> Iterator[Block]:
    shown = [each for each in view.observations if each.words]
    shown = [each for each in shown if each.kind != "quote" or may_quote(told.opened, each.participant)]
    items: list[Text] = []
    for each in shown[:marks]:
        if not each.sitting:
            items.append(
                (*told.prose.say("On record about {chair}:", chair=told.titles[each.chair]), Run(f" {each.words}"))
            )
            continue
        who = told.prose.say(
            "{person} at {chair}, sitting {sitting}, {at}:",
            person=each.participant, chair=told.titles[each.chair], sitting=each.sitting, at=Run(each.at),
        )  # fmt: skip
        items.append((*who, Run(f" {each.words}"), *told.known(each.evidence, walked=each.walked)))
    if items:
        yield Listing(tuple(items))


def loose_paragraph(told: ToldStudy) -> Paragraph:
    """How many snags are not sorted yet."""
    loose = len(told.found.loose)
    return Paragraph(told.prose.count("{count} snag not sorted yet.", "{count} snags not sorted yet.", loose))


def carried_section(told: ToldStudy) -> Iterator[Section]:
    """Findings of earlier studies that came with a chair."""
    items = []
    for each in told.found.carried:
        spans = [Run(f"{told.titles[each.chair]}: {each.title} ("), *told.prose.say("in {study}", study=each.source)]
        if each.tried:
            spans += told.prose.say("; met by {met} of {tried} then", met=each.seen_by, tried=each.tried)
        if each.severity is not None:
            spans += told.prose.say("; severity {severity} then", severity=each.severity)
        items.append((*spans, Run(")")))
    if items:
        yield Section("carried", told.words.say("Carried over from earlier studies"), (Listing(tuple(items)),))


def walk_sections(told: ToldStudy) -> Iterator[Section]:
    """Each walk with its steps, its marks and the cards not looked at; evidence of one reviewer, in no figure."""
    from fresh_chair.core.evidence.kinds import OWN
    from fresh_chair.core.sitting.walked import step_lines
    from fresh_chair.core.words.walks import remark_words, turn_words

    for seat in told.walked:
        sitting = told.opened.sittings[seat.number]
        walk = sitting.walk
        blocks: list[Block] = []
        if walk is not None and walk.declared:
            blocks.append(
                Paragraph(told.prose.say("Logged otherwise and declared a walk: {why}", why=walk.declared), "quiet")
            )
        steps = [step for step in step_lines(sitting) if step.own or not told.own]
        lines = []
        for step in steps:
            turn = f" ({turn_words(walk.turns[step.turn - 1], told.words)})" if walk is not None and step.turn else ""
            number = Run(step.title, id=f"step/{seat.number}/{step.number}")
            lines.append((number, Run(f": {step_words(step, told.words)}{turn}")))
        marks = []
        for remark in sitting.remarks.values():
            if remark.words and (remark.evidence in OWN or not told.own):
                known = remark_words(remark, told.words)
                kind = f"{told.words.say(remark.kind)}{f' ({known})' if known else ''}: "
                marks.append((Run(kind, "quiet"), Run(remark.words)))
        blocks += [Listing(tuple(each)) for each in (lines, marks) if each]
        if sitting.attachments:
            count = len(sitting.attachments)
            blocks.append(
                Paragraph(told.prose.count("{count} file is attached.", "{count} files are attached.", count), "quiet")
            )
        touched = {step.card for step in steps}
        untouched = [told.study.card_by_id[card].title for card in seat.cards if card not in touched] if steps else []
        if untouched:
            blocks.append(Paragraph(told.prose.say("Not looked at: {titles}.", titles="; ".join(untouched))))
        title = told.words.say(
            "Sitting {number}: {code} walks through {chair}",
            number=seat.number, code=seat.participant, chair=told.titles[seat.chair],
        )  # fmt: skip
        yield Section(f"walk-{seat.number}", title, tuple(blocks))


def contest_sections(told: ToldStudy) -> Iterator[Section]:
    """Each contest: the same steps at several chairs, and which was better."""
    for index, view in enumerate(contests_of(told.study, told.opened.sittings), start=1):
        heads = (
            (Run(told.words.say("step")),),
            *((Run(f"{letter} {told.titles[letter]}"),) for letter in view.chairs),
            (Run(told.words.say("better")),),
        )
        rows = tuple(
            (
                (Run(row.title),),
                *(
                    (Run(step_words(cell, told.words)) if cell else Run(told.words.say("not gone through"), "quiet"),)
                    for cell in row.cells
                ),
                (Run(better_words(row.judgement, told.words)),),
            )
            for row in view.rows
        )
        counts = told.prose.say("Better: {counts}.", counts=contest_counts(view, told.words))
        turns: list[Block] = [Paragraph((Run(said),)) for said in contest_turns(view, told.words)]
        title = told.words.say("Contest: {name}", name=view.name)
        yield Section(f"contest-{index}", title, (Table(heads, rows), Paragraph(counts), *turns))


def void_blocks(told: ToldStudy) -> Iterator[Block]:
    """Every void attempt with its reason."""
    voids = [fact for fact in told.weighing.facts if fact.outcome is Outcome.VOID]
    items = []
    for fact in voids:
        title = told.study.card_by_id[fact.card].title if fact.card in told.study.card_by_id else fact.card
        said = told.prose.say(
            "{card}, {person} at {chair}: void,", card=title, person=fact.participant, chair=told.titles[fact.chair]
        )
        items.append((*said, Run(f" {fact.reason}")))
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("Nothing was void."))
