"""The document for people who decide: two pages, in plain words."""

from collections.abc import Iterator, Sequence

from fresh_chair.core.evidence.judged import ChairVerdict
from fresh_chair.core.figures.overall.estimates import MeasureOverall, OverallVerdict, PairEstimate, VerdictKind
from fresh_chair.core.words.completion import completion_sentences
from fresh_chair.core.words.overall import FEW, SEEN, common_words, longer_words, overstated_words
from fresh_chair.core.words.plain import (
    people_needed,
    plain_figure,
    plain_measure,
    plain_reach,
    plain_threshold,
    plain_turning,
    plain_verdict,
)
from fresh_chair.core.words.thresholds import held_words, threshold_heading
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.judgement.verdicts import EVERYONE, verdict_matrix
from fresh_chair.services.report.telling.chair_points import chair_points
from fresh_chair.services.report.telling.conditions import plain_conditions
from fresh_chair.services.report.telling.next_time import next_time
from fresh_chair.services.report.telling.open_points import open_section
from fresh_chair.services.report.telling.row_table import chair_columns, row_table
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.report.telling.walk_answers import walk_answer, walk_table
from fresh_chair.tell.document.model import Block, Document, Listing, Paragraph, Run, Section, Table, Text
from fresh_chair.tell.document.prose import joined

FULL_REPORT = "researcher"
# So many things to come back to are named on two pages.
_FEW = 4
# Of more machines than that, two pages would be too small to read.
_TWO_PAGES = 3
# More pairs than the six of four machines are not told one by one, where the same is to be said of them.
_MOST_PAIRS = 6


def decider_document(told: ToldStudy) -> Document:
    """The two pages for a school, a tool library, anybody who must choose."""
    say = told.words.say
    study = told.study
    sections = [
        *told.foreword(),
        Section("question", say("The question"), tuple(_question(told))),
        Section("answer", say("The answer"), tuple(walk_answer(told) if told.walks_only else _answer(told))),
        *_thresholds(told),
        Section("row", say("The machines in a row"), (walk_table(told) if told.walks_only else row_table(told),)),
        Section("for-whom", say("For whom which one"), tuple(_for_whom(told))),
        Section("points", say("Worst and best"), (), tuple(chair_points(told))),
        Section("surer", say("What it would take to be surer"), tuple(_surer(told))),
        *open_section(told, most=1),
        Section("differed", say("What differed between the machines"), plain_conditions(told)),
        next_time(told, most=_FEW),
    ]
    return Document(
        "decider",
        "decider",
        study.title,
        say("For those who decide"),
        told.words.language,
        tuple(map(told.with_own, sections)),
        footer=told.prose.say("Every number leads to the full report, which says how it was come by."),
        full=FULL_REPORT,
        pages=2 if len(told.titles) <= _TWO_PAGES else 3,
    )


def _question(told: ToldStudy) -> Iterator[Block]:
    study, said = told.study, told.prose.say
    if study.question:
        yield Paragraph((Run(study.question),), "lead")
    parts = []
    if study.audience:
        parts.append(said("For: {audience}.", audience=study.audience))
    parts.append(_basis(told))
    if study.sheet.paid_by:
        parts.append(said("Paid for by: {who}", who=study.sheet.paid_by))
    yield Paragraph(joined(parts, " "))


def _basis(told: ToldStudy) -> Text:
    if told.walks_only:
        return told.prose.count(
            "{count} walk by a reviewer; no newcomers sat down.",
            "{count} walks by a reviewer; no newcomers sat down.",
            len(told.walked),
        )
    people = len({fact.participant for fact in told.weighing.facts})
    tasks = sum(fact.outcome.counts for fact in told.weighing.facts)
    return told.prose.count(
        "{people} newcomer was given tasks, {tasks} in all.",
        "{people} newcomers were given tasks, {tasks} in all.",
        people,
        people=Run(str(people), id="people"),
        tasks=Run(str(tasks), id="tasks"),
    )


def _answer(told: ToldStudy) -> Iterator[Block]:
    found = told.weighing.overall.get(main_measure(told.weighing))
    if found is None or not found.verdicts:
        yield Paragraph(told.prose.say("There is no answer: it takes two machines to compare."), "lead")
        return
    counts = plain_measure(found.measure, told.words)
    if told.study.sheet.comparing.primary and not told.weighing.decided_late:
        yield Paragraph(
            told.prose.say("It was decided beforehand that this counts: {measure}.", measure=counts), "quiet"
        )
    elif told.study.sheet.comparing.primary:
        yield Paragraph(
            told.prose.say(
                "What counts here was changed after the first person had sat down, so it is no decision beforehand: "
                "{measure}.",
                measure=counts,
            ),
            "quiet",
        )
    else:
        yield Paragraph(
            told.prose.say("What counts here was not decided beforehand: {measure}.", measure=counts), "quiet"
        )
    settled = [v for v in found.verdicts if v.said is not VerdictKind.CANNOT_TELL]
    if not settled:
        yield Paragraph(
            told.prose.say("There is no answer yet: no machine can be said to serve people better."), "lead"
        )
    together = (VerdictKind.ALIKE, VerdictKind.CANNOT_TELL) if len(found.verdicts) > _MOST_PAIRS else ()
    for index, verdict in enumerate(found.verdicts):
        if verdict.said not in together:
            yield Paragraph(_pair(told, found, index), "lead" if verdict in settled else "plain")
    for kind in together:
        yield from _pairs_together(told, found, kind)
    yield from _hangs_on(told)


def _pairs_together(told: ToldStudy, found: MeasureOverall, kind: VerdictKind) -> Iterator[Block]:
    """The pairs of many machines of which the same is to be said, in one paragraph."""
    verdicts = [each for each in found.verdicts if each.said is kind]
    if not verdicts:
        return
    margin = told.study.sheet.comparing.margin_completion / 100
    if kind is VerdictKind.ALIKE:
        said = told.prose.say("These served people alike; any difference is smaller than was decided to matter:")
    else:
        said = told.prose.say("Of these it cannot be said yet which served people better:")
    named = [
        told.prose.say(
            "{first} and {second} (people at both: {people})",
            first=told.titles[pair.first],
            second=told.titles[pair.second],
            people=Run(str(pair.people), id=_number(found, pair)),
        )
        for pair in (each.estimate for each in verdicts)
    ]
    # How much was completed belongs to each pair, however many there are.
    beside = [
        (Run(sentence),)
        for each in verdicts
        for sentence in completion_sentences(found.measure, each, told.titles, margin, told.words)
    ]
    yield Paragraph(joined([said, (*joined(named, "; "), Run(".")), *beside], " "))


def _number(found: MeasureOverall, pair: PairEstimate) -> str:
    return f"overall/{found.measure.replace(' ', '-')}/{pair.first}-{pair.second}"


def _pair(told: ToldStudy, found: MeasureOverall, index: int) -> Text:
    verdict = found.verdicts[index]
    pair, flip = verdict.estimate, found.flips[index]
    first, second = told.titles[pair.first], told.titles[pair.second]
    parts: list[Text] = [(Run(plain_verdict(found.measure, verdict, first, second, told.words), "strong"),)]
    margin = told.study.sheet.comparing.margin_completion / 100
    counted = flip.first + flip.second + flip.even
    if counted:
        people = Run(str(counted), id=_number(found, pair))
        parts.append(
            told.prose.say(
                SEEN[found.measure], people=people, x=flip.first, y=flip.second, first=first, second=second,
                even=flip.even,
            )
        )  # fmt: skip
    beside = [
        plain_reach(found.measure, verdict, first, second, told.words),
        common_words(pair, told.words),
        *completion_sentences(found.measure, verdict, told.titles, margin, told.words),
        longer_words(verdict, told.titles, told.words),
        overstated_words(pair, told.words) if verdict.winner and pair.people < FEW else "",
    ]
    parts += [(Run(sentence),) for sentence in beside if sentence]
    return joined(parts, " ")


def _hangs_on(told: ToldStudy) -> Iterator[Block]:
    if told.turning is None or not told.turning.turned:
        return
    ways = [(way.way, way.person) for way in told.turning.ways if way.turned]
    said = plain_turning(told.weighing, ways, told.words)
    if said:
        yield Paragraph(told.prose.say("It would be another answer {ways}.", ways="; ".join(said)))


def _thresholds(told: ToldStudy) -> Iterator[Section]:
    """The thresholds at each chair; a walk alone meets none of them and misses none."""
    held = told.weighing.thresholds
    if not held or told.walks_only:
        return
    thresholds = list(dict.fromkeys(each.threshold for each in held))
    heads = ((Run(told.words.say("It is good enough when")),), *((Run(t),) for t in told.titles.values()))
    rows = []
    for number, threshold in enumerate(thresholds, start=1):
        here = {each.chair: each for each in held if each.threshold == threshold}
        cells: list[Text] = [(Run(plain_threshold(next(iter(here.values())), told.words)),)]
        for letter in told.titles:
            each = here.get(letter)
            if each is None:
                cells.append((Run("–"),))
                continue
            figure = plain_figure(each, told.words)
            state = Run(held_words(each.held, told.words), "strong")
            number_id = f"threshold/{number}/{letter}"
            cells.append((state, *((Run(" ("), Run(figure, id=number_id), Run(")")) if figure else ())))
        rows.append(tuple(cells))
    late = (Paragraph((Run(threshold_heading(told.weighing, told.words)),)),) if told.weighing.thresholds_late else ()
    table = Table(heads, tuple(rows), wide=chair_columns(told))
    yield Section("good-enough", told.words.say("Good enough?"), (*late, table))


def _for_whom(told: ToldStudy) -> Iterator[Block]:
    matrix = verdict_matrix(told.opened)
    if matrix.cells:
        heads = ((Run(told.words.say("for whom")),), *((Run(t),) for t in told.titles.values()))
        rows = []
        for audience in matrix.audiences:
            own = any((audience, letter) in matrix.cells for letter in told.titles)
            if not own and any(each[0] == EVERYONE for each in matrix.cells):
                # What is said for everyone stands once.
                continue
            name = told.words.say("everyone") if audience == EVERYONE else audience
            row: list[Text] = [(Run(name),)]
            for letter in told.titles:
                line = matrix.cells.get((audience, letter)) or matrix.cells.get((EVERYONE, letter))
                row.append(
                    verdict_text(told, line.verdict)
                    if line is not None
                    else (Run(told.words.say("no verdict"), "quiet"),)
                )
            rows.append(tuple(row))
        yield Table(heads, tuple(rows), wide=(0.7, *chair_columns(told)[1:]))
    for line in matrix.whole:
        yield Paragraph((*verdict_text(told, line.verdict), *_because(line.verdict)))
    if matrix.cells or matrix.whole:
        yield Paragraph(told.prose.say("These are the reviewer's own verdicts, on the grounds above."), "quiet")
    else:
        yield Paragraph(told.prose.say("The reviewer has given no verdict."))


def verdict_text(told: ToldStudy, verdict: ChairVerdict) -> Text:
    """A verdict in a few words, with its condition and whether it is meant to stay."""
    parts = [Run(told.words.say(verdict.says), "strong")]
    if verdict.condition:
        parts.append(Run(f" {verdict.condition}"))
    parts.append(Run(f" ({told.words.say(verdict.firm)})", "quiet"))
    return tuple(parts)


def _because(verdict: ChairVerdict) -> Text:
    return (Run(f": {verdict.why}"),) if verdict.why else ()


def _surer(told: ToldStudy) -> Iterator[Block]:
    """Everything that is missing for an answer, or for a surer one."""
    said, items = told.prose.say, list[Text]()
    if told.walks_only:
        items.append(said("Newcomers: this is what one reviewer met, and says nothing of how others fare."))
    found = told.weighing.overall.get(main_measure(told.weighing))
    if found is not None and not told.walks_only:
        items += _more_people(told, found.verdicts)
    stale = {fact.sitting for fact in told.weighing.facts if fact.chair_found != "fresh"}
    if stale:
        items.append(
            told.prose.count(
                "{count} sitting began at a machine that nobody had proved to be as at its first start.",
                "{count} sittings began at machines that nobody had proved to be as at their first start.",
                len(stale),
            )
        )
    if told.found.loose:
        items.append(
            told.prose.count(
                "{count} trouble that was seen is not sorted yet.",
                "{count} troubles that were seen are not sorted yet.",
                len(told.found.loose),
            )
        )
    unjudged = sum(v.severity is None and v.finding.sort == "problem" for v in told.found.findings)
    if unjudged:
        items.append(said("How bad they are is not judged yet for {count} of the troubles.", count=unjudged))
    if len({chair.machine for chair in told.study.chairs}) > 1:
        items.append(said("The same kind of machine under all of them."))
    missing = verdict_matrix(told.opened).missing
    if missing:
        items.append(said("Verdicts where none was given: {count}.", count=missing))
    yield Listing(tuple(items)) if items else Paragraph(said("Nothing that is known of."))


def _more_people(told: ToldStudy, verdicts: Sequence[OverallVerdict]) -> Iterator[Text]:
    """How many people it would take; pairs that take as many stand in one sentence."""
    pairs: dict[tuple[int | None, int], list[str]] = {}
    for each in verdicts:
        if each.said is VerdictKind.CANNOT_TELL:
            first, second = told.titles[each.estimate.first], told.titles[each.estimate.second]
            named = told.words.say("{first} and {second}", first=first, second=second)
            pairs.setdefault((people_needed(each), each.estimate.people), []).append(named)
    for (needed, people), names in pairs.items():
        listed = "; ".join(names)
        if needed is None:
            yield told.prose.say("More people at both of: {pairs}.", pairs=listed)
        else:
            yield told.prose.say(
                "About {needed} people at both of: {pairs}; there were {people}, and all are taken to differ as "
                "these did.",
                needed=needed,
                pairs=listed,
                people=people,
            )
