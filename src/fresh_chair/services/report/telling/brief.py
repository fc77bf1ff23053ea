"""The short report for everyone: its basis, the comparison, each task, the findings, the walks."""

from collections.abc import Iterator
from functools import reduce

from fresh_chair import __version__
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.words.figures import figure_words, interval_name, time_words
from fresh_chair.core.words.thresholds import threshold_heading, threshold_words
from fresh_chair.services.report.telling import results
from fresh_chair.services.report.telling.next_time import next_time
from fresh_chair.services.report.telling.open_points import open_section
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Document, Listing, Paragraph, Run, Section, Table, Text


def brief_document(told: ToldStudy) -> Document:
    """The short report."""
    say = told.words.say
    tasks = () if told.walks_only else tuple(results.task_section(told, card.id) for card in told.study.cards)
    findings = tuple(results.finding_section(told, view) for view in told.found.findings)
    sections = [
        *told.foreword(),
        Section("basis", say("What it stands on"), tuple(_basis(told))),
        *(() if told.walks_only else _compared(told, tasks)),
        Section(
            "findings",
            say("Findings"),
            () if findings else (Paragraph(told.prose.say("None has been sorted yet.")),),
            (*findings, Section("loose", "", (results.loose_paragraph(told),)), *results.carried_section(told)),
        ),
        *_walks(told),
        *results.contest_sections(told),
        *open_section(told),
        Section("left-out", say("Left out"), tuple(results.void_blocks(told))),
        next_time(told),
    ]
    return Document(
        "brief",
        "report",
        told.study.title,
        "",
        told.words.language,
        tuple(map(told.with_own, sections)),
        footer=footer(told),
    )


def footer(told: ToldStudy) -> Text:
    """How the figures were come by, in a few sentences."""
    choice, words = told.weighing.choice, told.words
    parts = [] if told.walks_only else [
        words.say(
            "Hands time is elapsed time less waits and asides. Completed attempts: geometric mean; wherever an attempt "
            "was not completed: Kaplan-Meier median of all attempts. Comparisons: same people, paired, Holm over all "
            "tasks."
        ),
        words.say(
            "Times: {times}. Intervals of completion: {interval}.",
            times=time_words(choice.times, words), interval=interval_name(choice.interval, words),
        ),
    ]  # fmt: skip
    parts.append(words.say("Made with Fresh Chair {version}.", version=__version__))
    return (Run(" ".join(parts)),)


def _basis(told: ToldStudy) -> Iterator[Block]:
    study, say = told.study, told.words.say
    for name, value in (
        (say("Question."), study.question),
        (say("For whom."), study.audience),
        (say("Paid for by."), study.sheet.paid_by or say("not said")),
    ):
        if value:
            yield Paragraph((Run(f"{name} ", "strong"), Run(value)))
    if study.sheet.thresholds:
        yield Paragraph((Run(threshold_heading(told.weighing, told.words), "strong"),))
        items = [
            (Run(threshold_words(each, told.words)), *((Run(f" ({each.why})", "quiet"),) if each.why else ()))
            for each in study.sheet.thresholds
        ]
        yield Listing(tuple(items))
    if not told.walks_only:
        yield Paragraph((Run(say("Basis."), "strong"), Run(" "), *_counts(told)))
        yield from before_comparing(told)
    yield chairs_table(told)


def _counts(told: ToldStudy) -> Text:
    """Sittings run, broken off and to come; attempts and those that are void."""
    opened, prose = told.opened, told.prose
    walked = {seat.number for seat in told.walked}
    counted = [s for s in told.study.seats if told.study.counted(s.participant) and s.number not in walked]
    phases = [opened.phase(seat.number) for seat in counted]
    voids = sum(fact.outcome is Outcome.VOID for fact in told.weighing.facts)
    uncounted = sum(
        not told.study.counted(s.participant) and s.number in opened.begun and s.number not in walked
        for s in told.study.seats
    )
    parts = [
        prose.count("{count} sitting run", "{count} sittings run", phases.count(Phase.ENDED)),
        prose.say(
            ", {broken} broken off, {left} still to come; ",
            broken=phases.count(Phase.BROKEN_OFF), left=phases.count(Phase.EMPTY),
        ),
        prose.count("{count} attempt", "{count} attempts", len(told.weighing.facts)),
        prose.say(", of which {count} void.", count=voids),
    ]  # fmt: skip
    if uncounted:
        parts.append((Run(" "),))
        parts.append(
            prose.count(
                "{count} sitting of pilots or the expert counted nowhere.",
                "{count} sittings of pilots or the expert counted nowhere.",
                uncounted,
            )
        )
    parts += [(Run(" "),), prose.say("Intervals are 95 %.")]
    return reduce(lambda one, other: one + other, parts, ())


def before_comparing(told: ToldStudy) -> Iterator[Block]:
    """How many sittings began at a fresh chair, whether order mattered, and the differences between the chairs."""
    walked = {seat.number for seat in told.walked}
    found = {"fresh": 0, "not fresh": 0, "not checked": 0}
    for number, sitting in told.opened.sittings.items():
        if told.study.counted(told.study.seat(number).participant) and number not in walked:
            found[sitting.chair_found] += 1
    yield Paragraph(
        told.prose.say(
            "{fresh} of {all} sittings began at a chair that was proved fresh; {stale} at one that was not, {open} at "
            "one that nobody had checked.",
            fresh=Run(str(found["fresh"]), id="fresh"), all=sum(found.values()), stale=found["not fresh"],
            open=found["not checked"],
        )
    )  # fmt: skip
    said = figure_words(told.weighing, told.words)
    yield Paragraph((Run(said.positions, id="order"),))
    if said.conditions:
        yield Listing(tuple((Run(condition),) for condition in said.conditions))


def chairs_table(told: ToldStudy) -> Table:
    """The chairs: desktop, stage, machine, and the usability scale where anybody answered it."""
    say = told.words.say
    heads = [say("chair"), say("desktop"), say("stage"), say("machine")]
    means = {each.chair: each.mean for each in told.weighing.satisfaction} if not told.walks_only else {}
    rows = []
    for chair in told.study.chairs:
        row: list[Text] = [
            (Run(f"{chair.letter} {chair.title}"),),
            (Run(chair.desktop),),
            (Run(told.words.say(chair.stage) if chair.stage else ""),),
            (Run(told.study.machine_of(chair).name),),
        ]
        if means:
            row.append(results.estimate_text(told, means[chair.letter], f"satisfaction/{chair.letter}", shape=".0f"))
        rows.append(tuple(row))
    if means:
        heads.append(told.words.say("System Usability Scale"))
    return Table(tuple((Run(head),) for head in heads), tuple(rows), told.words.say("Chairs"))


def _compared(told: ToldStudy, tasks: tuple[Section, ...]) -> Iterator[Section]:
    charts = tuple(results.charts_of(told, "outcomes", "times"))
    overall = (*results.threshold_blocks(told), *results.overall_blocks(told))
    yield Section("overall", told.words.say("Over all tasks"), overall)
    yield Section("outcomes", told.words.say("Outcomes"), charts, tasks)


def _walks(told: ToldStudy) -> Iterator[Section]:
    if told.walked:
        about = Paragraph(told.prose.say("Evidence of one reviewer alone at the chair. It is in no figure above."))
        if told.walks_only:
            about = Paragraph(told.prose.say("Evidence of one reviewer alone at the chair."))
        yield Section("walks", told.words.say("Walks"), (about,), tuple(results.walk_sections(told)))
