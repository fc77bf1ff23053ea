"""The method of a study: participants, context of use, tasks, procedure, design, measures, deviations."""

from collections import Counter
from collections.abc import Iterator
from datetime import UTC, datetime

from fresh_chair.core.clock import SECOND
from fresh_chair.core.plan.balance import balance_of
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.figures import interval_name, time_words
from fresh_chair.core.words.overall import measure_words
from fresh_chair.core.words.thresholds import threshold_heading, threshold_words
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.report.telling import results
from fresh_chair.services.report.telling.brief import before_comparing
from fresh_chair.services.report.telling.quotes import quoted
from fresh_chair.services.report.telling.told import ToldStudy, clock
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Quotation, Run, Section, Table, Text


def method_sections(told: ToldStudy) -> Iterator[Section]:
    """The method, as far as there is one: a study of walks has no participants and no design of theirs."""
    say = told.words.say
    if not told.walks_only:
        yield Section("participants", say("Participants"), tuple(_participants(told)))
    yield Section("context", say("Context of use"), tuple(_context(told)))
    yield Section("tasks", say("Tasks and instructions"), (), tuple(_task(told, c) for c in told.study.cards))
    yield Section("procedure", say("Procedure"), tuple(_procedure(told)))
    if not told.walks_only:
        yield Section("design", say("Design"), tuple(_design(told)))
        yield Section("measures", say("Measures"), tuple(_measures(told)))
    yield Section("deviations", say("What was changed on the way, and what was left out"), tuple(_deviations(told)))


def _participants(told: ToldStudy) -> Iterator[Block]:
    """Everyone who takes part, by code; of their background only counts."""
    people = [person for person in told.study.people if person.role != "reviewer"]
    rows = []
    for person in people:
        seats = [seat for seat in told.study.seats if seat.participant == person.code]
        order = " ".join(f"{seat.chair}" for seat in sorted(seats, key=lambda seat: seat.position))
        run = sum(seat.number in told.opened.begun for seat in seats)
        rows.append(
            (
                (Run(person.code),),
                (Run(told.words.say(person.role)),),
                (Run(person.group),),
                (Run(order),),
                (Run(str(run), id=f"sittings/{person.code}"),),
                (Run(_standing(told, person)),),
            )
        )
    say = told.words.say
    heads = (say("code"), say("role"), say("group"), say("order of chairs"), say("sittings begun"), say("note"))
    yield Table(tuple((Run(head),) for head in heads), tuple(rows))
    newcomers = [person for person in people if person.counts]
    comfort = Counter(person.comfort for person in newcomers if person.comfort is not None)
    if comfort:
        listed = ", ".join(f"{level}: {comfort[level]}" for level in sorted(comfort))
        yield Paragraph(told.prose.say("At ease with computers, 1 to 5: {counts}.", counts=listed))
    linux = Counter(person.linux for person in newcomers if person.linux)
    if linux:
        listed = ", ".join(f"{told.words.say(name)}: {count}" for name, count in sorted(linux.items()))
        yield Paragraph(told.prose.say("Experience with such systems: {counts}.", counts=listed))
    screener = [(Run(each.ask), *_accepted(told, each.accept)) for each in told.study.sheet.screener]
    if screener:
        yield Paragraph(told.prose.say("Asked before they were invited:"))
        yield Listing(tuple(screener))


def _accepted(told: ToldStudy, accept: tuple[str, ...]) -> Text:
    return told.prose.say(" (takes part with: {answers})", answers=", ".join(accept)) if accept else ()


def _standing(told: ToldStudy, person: Participant) -> str:
    parts = []
    if person.left:
        parts.append(told.words.say("left"))
    if person.replaces:
        parts.append(told.words.say("takes the place of {code}", code=person.replaces))
    if person.erased:
        parts.append(told.words.say("erased on {day}", day=told.words.day(person.erased)))
    if not person.counts:
        parts.append(told.words.say("counted nowhere"))
    return ", ".join(parts)


def _context(told: ToldStudy) -> Iterator[Block]:
    """Machines with their known faults, the bench, the place."""
    rows = []
    say = told.words.say
    for machine in told.study.machines:
        letters = " ".join(c.letter for c in told.study.chairs if c.machine == machine.id)
        faults = "; ".join(fault.what for fault in machine.faults)
        kind = say(machine.kind) if machine.kind else ""
        cells = (machine.name, letters, kind, machine.processor, machine.memory, machine.disk, machine.display, faults)
        rows.append(tuple((Run(cell),) for cell in cells))
    heads = (
        say("machine"),
        say("chairs"),
        say("kind"),
        say("processor"),
        say("memory"),
        say("disk"),
        say("display"),
        say("known faults"),
    )
    if rows:
        yield Table(tuple((Run(head),) for head in heads), tuple(rows))
    bench = list(dict.fromkeys(fixture for card in told.study.cards for fixture in card.fixtures))
    if bench:
        yield Paragraph(told.prose.say("On the bench: {things}", things="; ".join(bench)))
    if told.study.sheet.timetable.place:
        yield Paragraph(told.prose.say("Place: {place}", place=told.study.sheet.timetable.place))


def _task(told: ToldStudy, card: TaskCard) -> Section:
    """A card as it is read aloud, with the moderator's notes on it."""
    say = told.prose.say
    items: list[Text] = []
    if card.start:
        items.append(say("begins with: {start}", start=card.start))
    items.append(say("done when: {criterion}", criterion=card.success))
    items += [say("partly: {criterion}", criterion=each) for each in card.partly]
    if card.question:
        items.append(say("asked after it: {question}", question=card.question))
    items.append(say("limit: {time}", time=clock(card.limit_seconds)))
    for letter, seconds in sorted(card.benchmark_seconds.items()):
        number = Run(told.words.number(seconds, ".0f"), id=f"benchmark/{card.id}/{letter}")
        items.append(
            say("one who knows it, at {chair}: {seconds} s", chair=told.titles.get(letter, letter), seconds=number)
        )
    items += [say("the machine is asked: {check}", check=check) for check in card.checks]
    goal = Quotation((Run(quoted(card.goal, told.words)),))
    return Section(f"script-{card.id}", card.title, (goal, Listing(tuple(items))))


def _procedure(told: ToldStudy) -> Iterator[Block]:
    sheet, say = told.study.sheet, told.prose.say
    if told.walks_only:
        yield Paragraph(
            say("A reviewer went through each chair alone, in any order, and said of each thing how it is known.")
        )
        return
    if sheet.greeting:
        yield Paragraph(say("Read aloud to everyone:"))
        yield Quotation((Run(quoted(sheet.greeting, told.words)),))
    yield Paragraph(
        say(
            "One person at one chair, a moderator beside them. A sitting was promised to take {minutes} minutes, of "
            "which {apart} without any card. Times are taken at the key, in three lanes: hands, the machine's waits, "
            "asides.",
            minutes=sheet.minutes_per_sitting,
            apart=sheet.minutes_apart,
        )
    )
    yield Paragraph(
        say(
            "Completed is unaided or with help; a card that was read again and a kind word are no help. Blocked is the "
            "machine's doing; void is the test's, and counts nowhere."
        )
    )
    asked = [say("after each card: how easy it was, 1 to 7")]
    if sheet.ask_expectation:
        asked.append(say("before each card: how easy it is expected to be, 1 to 7"))
    asked.append(say("after the last card: the System Usability Scale"))
    if sheet.ask_preference:
        asked.append(say("after the last chair: which they would rather have"))
    asked += [(Run(question.ask),) for question in sheet.questions]
    yield Paragraph(say("Asked:"))
    yield Listing(tuple(asked))
    yield from before_comparing(told)


def _design(told: ToldStudy) -> Iterator[Block]:
    """Who sat at which chair in which place, and how even the orders are."""
    yield Paragraph(
        told.prose.say(
            "Everyone sits at several chairs, in orders drawn with the seed {seed}; cards in their own order each.",
            seed=Run(str(told.study.seed), id="seed"),
        )
    )
    for balance in balance_of(told.study, told.study.seats).chairs:
        most = max((len(row) for row in balance.positions.values()), default=0)
        if most < 2:
            continue
        heads = (told.words.say("chair"), *(told.words.say("in place {place}", place=n) for n in range(1, most + 1)))
        rows = []
        for letter, row in balance.positions.items():
            rows.append(
                (
                    (Run(told.titles[letter]),),
                    *((Run(str(n), id=f"place/{i}/{letter}"),) for i, n in enumerate(row, 1)),
                )
            )
        title = told.words.say("How often each chair stands in each place")
        if balance.group:
            title = told.words.say("How often each chair stands in each place: {group}", group=balance.group)
        yield Table(tuple((Run(head),) for head in heads), tuple(rows), title)
        pairs = [
            f"{told.titles[one]} › {told.titles[other]}: {count}" for (one, other), count in balance.neighbours.items()
        ]
        if pairs:
            yield Paragraph(told.prose.say("One directly after the other: {pairs}.", pairs="; ".join(pairs)))


def _measures(told: ToldStudy) -> Iterator[Block]:
    """The measures that were decided on, their margins, and the thresholds."""
    comparing, say, words = told.study.sheet.comparing, told.prose.say, told.words
    main = measure_words(main_measure(told.weighing), words, told.weighing.choice.times)
    if comparing.primary:
        yield Paragraph(say("Primary measure: {measure}.", measure=Run(main, "strong")))
    margins = (
        (words.say("who fared better"), f"{words.number(100 * comparing.margin_fared, '.0f')} %"),
        (words.say("time"), words.say("{ratio}-fold", ratio=words.number(comparing.margin_time))),
        (
            words.say("completion"),
            words.say("{points} points of 100", points=words.number(comparing.margin_completion)),
        ),
        (words.say("ease"), words.number(comparing.margin_ease)),
        (words.say("System Usability Scale"), words.number(comparing.margin_satisfaction)),
    )
    heads = ((Run(words.say("measure")),), (Run(words.say("smallest difference that matters")),))
    yield Table(heads, tuple(((Run(name),), (Run(value),)) for name, value in margins))
    choice = told.weighing.choice
    yield Paragraph(
        say(
            "Times: {times}. Intervals of completion: {interval}.",
            times=time_words(choice.times, words), interval=interval_name(choice.interval, words),
        )
    )  # fmt: skip
    if told.study.sheet.thresholds:
        yield Paragraph((Run(threshold_heading(told.weighing, words), "strong"),))
        yield Listing(
            tuple(
                (Run(threshold_words(each, words)), *((Run(f" ({each.why})", "quiet"),) if each.why else ()))
                for each in told.study.sheet.thresholds
            )
        )


def _deviations(told: ToldStudy) -> Iterator[Block]:
    """Changes of the plan after the first sitting, and everything that is not counted, with its reason."""
    say = told.prose.say
    changes = [change for change in told.opened.plans.changes() if change.sittings]
    # Of people only their parts are told, never who they are.
    public = [c for c in changes if not c.path.startswith("person.") or c.path.count(".") == 1]
    items = [
        (
            Run(told.words.day(_day(change.wall_ns)), "quiet"),
            Run(f" {change.path}: {change.before or '–'} › {change.after or '–'} "),
            *told.prose.count("({count} sitting begun)", "({count} sittings begun)", change.sittings),
        )
        for change in public
    ]
    if items:
        yield Paragraph(say("The plan was changed after the first sitting:"))
        yield Listing(tuple(items))
    else:
        yield Paragraph(say("The plan was not changed after the first sitting."))
    if told.weighing.decided_late:
        yield Paragraph(say("How chairs are compared was decided, or changed, after the first sitting."), "open")
    yield from results.void_blocks(told)
    later = sum(not fact.first_try and fact.outcome is not Outcome.VOID for fact in told.weighing.facts)
    if later:
        yield Paragraph(say("{count} later tries of a person at one card and chair stand apart.", count=later))
    broken = [
        (number, sitting.broken_reason)
        for number, sitting in sorted(told.opened.sittings.items())
        if sitting.broken_reason
    ]
    if broken:
        yield Paragraph(say("Broken off:"))
        yield Listing(tuple(say("sitting {number}: {why}", number=number, why=why) for number, why in broken))
    late = [hunch for hunch in told.opened.hunches if hunch.late]
    if late:
        yield Paragraph(
            told.prose.count(
                "{count} hunch was written after somebody had sat there, and is no prediction.",
                "{count} hunches were written after somebody had sat there, and are no predictions.",
                len(late),
            )
        )


def _day(wall_ns: int) -> str:
    return datetime.fromtimestamp(wall_ns / SECOND, UTC).date().isoformat()
