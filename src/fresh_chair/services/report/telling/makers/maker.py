"""The document for the makers of one chair's desktop, and a file a finding."""

from collections.abc import Iterator, Mapping

from fresh_chair.core.chair.records import Claim, evidence_of
from fresh_chair.core.evidence.records import Advice
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.core.evidence.telling import MakersReply
from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.findings.state.parts import Excuse
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.text import slug
from fresh_chair.core.words.reasons import label_words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.report.telling.chair_points import best_points, met_at, point_blocks
from fresh_chair.services.report.telling.conditions import disclosures
from fresh_chair.services.report.telling.makers.maker_finding import finding_blocks, reply_paragraph, since_release
from fresh_chair.services.report.telling.next_time import next_time
from fresh_chair.services.report.telling.open_points import open_section
from fresh_chair.services.report.telling.quotes import quote_source
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.report.telling.walk_answers import walk_table
from fresh_chair.tell.document.model import Block, Document, Listing, Paragraph, Run, Section, Table, Text

# So many remarks that are in no finding are told one by one.
_MOST_LOOSE = 30


def maker_document(told: ToldStudy, *, until: str = "") -> Document:
    """Everything that the makers of a chair's desktop can mend, and its strengths.

    Args:
        told: The study; `chair` is theirs.
        until: Of a draft, the day until when they may answer.
    """
    say, chair = told.words.say, told.study.chair_by_letter[told.chair]
    problems = [view for view in findings_at(told, chair.letter) if view.finding.sort != "strength"]
    sections = [
        *told.foreword(),
        Section("about", say("What this is"), tuple(_about(told, chair, until))),
        Section("short", say("In short"), tuple(_short(told, chair))),
        Section(
            "findings",
            say("What people met"),
            () if problems else (Paragraph(told.prose.say("No finding was made at it.")),),
            tuple(_finding(told, view) for view in problems),
        ),
        *_loose(told, chair),
        Section("strengths", say("What is well made"), tuple(_strengths(told, chair))),
        *_promised(told, chair),
        *_advice(told, chair),
        *_excused(told, chair),
        *_answered(told, chair),
        *open_section(told, chair=chair.letter, most=1),
        next_time(told, chair=chair.letter),
    ]
    return Document(
        "maker",
        f"maker-{chair.letter}",
        chair.title,
        say("For its makers: what newcomers met") if not told.walks_only else say("For its makers: what a walk met"),
        told.words.language,
        tuple(map(told.with_own, sections)),
        status=say("Draft, to be answered until {day}", day=told.words.day(until)) if until else "",
        footer=told.prose.say("{study}. Nothing is said here of other machines.", study=told.study.title),
    )


def findings_at(told: ToldStudy, letter: str) -> list[FindingView]:
    """The findings met at a chair, the gravest there first."""
    met = [view for view in told.found.findings if met_at(view, letter)]

    def severity(view: FindingView) -> int:
        judged = view.finding.severity_in(Scope(chair=letter))
        return -1 if judged is None else judged.severity

    return sorted(met, key=lambda view: (-severity(view), -met_at(view, letter), view.finding.number))


def names_another(told: ToldStudy, text: str) -> bool:
    """Whether a text speaks of another chair's distribution or desktop by its name."""
    own = told.study.chair_by_letter[told.chair]
    others = {
        name.casefold()
        for chair in told.study.chairs
        if chair.letter != told.chair
        for name in (chair.name, chair.desktop.rstrip("0123456789. "))
        if name.casefold() not in (own.name.casefold(), own.desktop.casefold())
    }
    return any(name in text.casefold() for name in others if len(name) > 2)


def _about(told: ToldStudy, chair: Chair, until: str) -> Iterator[Block]:
    said = told.prose.say
    people = len({fact.participant for fact in told.weighing.facts if fact.chair == chair.letter})
    walks = sum(seat.chair == chair.letter for seat in told.walked)
    if people:
        yield Paragraph(
            told.prose.count(
                "{people} newcomer sat down at {chair} as it is at its first start, was given ordinary tasks, and "
                "was watched. Every number below can be followed to what was written down at that moment.",
                "{people} newcomers sat down at {chair} as it is at its first start, were given ordinary tasks, and "
                "were watched. Every number below can be followed to what was written down at that moment.",
                people,
                people=Run(str(people), id=f"people/{chair.letter}"),
                chair=chair.title,
            )
        )
    elif walks:
        yield Paragraph(
            told.prose.count(
                "A reviewer went through {chair} alone, once, and wrote down what happened.",
                "A reviewer went through {chair} alone, {count} times, and wrote down what happened.",
                walks,
                chair=chair.title,
            )
        )
    else:
        yield Paragraph(said("Nobody has sat at {chair} yet.", chair=chair.title))
    if told.study.question:
        yield Paragraph(said("The study asks: {question}", question=told.study.question))
    yield Paragraph(said("Paid for by: {who}", who=told.study.sheet.paid_by or told.words.say("not said")))
    terms = disclosures(told, chair.letter)
    yield from ((Listing(tuple(terms)),) if terms else ())
    yield Table(
        ((Run(told.words.say("what")),), (Run(told.words.say("as it was")),)),
        tuple(((Run(name),), (Run(value),)) for name, value in build_of(told, chair)),
    )
    if until:
        yield Paragraph(
            said(
                "This is a draft. Say until {day} what is wrong in it, and it is looked at again; your answers are "
                "printed as you wrote them.",
                day=Run(told.words.day(until), "strong"),
            )
        )


def build_of(told: ToldStudy, chair: Chair) -> list[tuple[str, str]]:
    """The build of a chair: as the plan has it, then as it said itself where it was read."""
    say, machine = told.words.say, told.study.machine_of(chair)
    stated = [
        (say("release"), f"{chair.title} {chair.edition}".strip()),
        (say("stage"), f"{say(chair.stage)} {chair.snapshot}".strip() if chair.stage else ""),
        (say("desktop"), chair.desktop),
        (say("base"), chair.base),
        (say("kernel"), chair.kernel),
        (say("package formats"), ", ".join(chair.package_formats)),
        (say("installed as"), chair.installed),
        (say("altered"), "; ".join(chair.alterations)),
        (say("machine"), f"{machine.name}, {say('virtual')}" if machine.virtual else machine.name),
    ]
    identity = told.opened.known_chairs.of(chair.letter).identity
    read = (
        []
        if identity is None
        else [(label_words(f"{fact.name} ({fact.source})", told.words), fact.value) for fact in identity[1].facts]
    )
    return [(name, value) for name, value in (*stated, *read) if value]


def _short(told: ToldStudy, chair: Chair) -> Iterator[Block]:
    letter = chair.letter
    if told.walks_only:
        yield walk_table(told, (letter,))
    rates = [cell.lenient for key, cell in told.weighing.cells.items() if key[1] == letter]
    if sum(rate.n for rate in rates):
        yield Paragraph(
            told.prose.say(
                "Of the tasks that were tried, {rate} were done, alone or with help.",
                rate=told.rate(sum(r.x for r in rates), sum(r.n for r in rates), f"completed/{letter}", "strong"),
            )
        )
    yield from point_blocks(told, letter)


def _finding(told: ToldStudy, view: FindingView, name: str = "") -> Section:
    if view.id not in told.finding_texts:
        told.finding_texts[view.id] = tuple(finding_blocks(told, view, names_another))
    title = f"{view.finding.name} {view.title}"
    return Section(name or f"finding-F{view.finding.number}", title, told.finding_texts[view.id])


def _loose(told: ToldStudy, chair: Chair) -> Iterator[Section]:
    """Marks made there that are in no finding, as they were written down."""
    here = [each for each in told.found.loose if each.chair == chair.letter and each.words]
    items = [(Run(each.words), Run(" ("), *quote_source(told, each), Run(")")) for each in here[:_MOST_LOOSE]]
    if len(here) > _MOST_LOOSE:
        items.append(told.prose.say("And {count} more.", count=len(here) - _MOST_LOOSE))
    if items:
        yield Section("loose", told.words.say("Seen, and in no finding yet"), (Listing(tuple(items)),))


def _strengths(told: ToldStudy, chair: Chair) -> Iterator[Block]:
    points = best_points(told, chair.letter, most=20)
    yield Listing(tuple(points)) if points else Paragraph(told.prose.say("Nothing that pleased is on record."))


def _promised(told: ToldStudy, chair: Chair) -> Iterator[Section]:
    """Each claim of theirs with its answer."""
    claims = [held.record for held in told.opened.known_chairs.of(chair.letter).held("claim")]
    rows = tuple(
        ((Run(each.promised),), (Run(told.words.say(each.answer)), *told.known(evidence_of(each))), (Run(each.note),))
        for each in claims
        if isinstance(each, Claim) and not names_another(told, each.note)
    )
    say = told.words.say
    heads = tuple((Run(head),) for head in (say("promised"), say("found"), say("note")))
    if rows:
        yield Section("promised", told.words.say("What was promised, and what was found"), (Table(heads, rows),))


def advice_for(told: ToldStudy, letter: str) -> list[Advice]:
    """The advice to makers that comes from something at this chair alone, or at it among others."""
    found = []
    for held in evidence_of_kind(told.opened, "advice"):
        each = held.record
        if isinstance(each, Advice) and each.to == "makers" and letter in chairs_of_target(told, each.of):
            found.append(each)
    return found


def chairs_of_target(told: ToldStudy, target: str) -> set[str]:
    """The chairs that a target is of; none where it is of no chair."""
    sort, name = target_parts(target)
    if sort == "chair":
        return {name}
    if sort == "record":
        return {name.partition("/")[0]}
    if sort == "finding":
        return {each.chair for view in told.found.findings if view.id == name for each in view.observations}
    if sort in ("mark", "step"):
        for number, sitting in told.opened.sittings.items():
            steps = sitting.walk.steps if sitting.walk is not None else ()
            if name in sitting.remarks or any(step.entry == name for step in steps):
                return {told.study.seat(number).chair}
    return set()


def _advice(told: ToldStudy, chair: Chair) -> Iterator[Section]:
    items = []
    for each in advice_for(told, chair.letter):
        if names_another(told, each.what):
            continue
        parts: list[Run] = [Run(each.what)]
        if each.told:
            parts += told.prose.say("; told by {way}", way=each.told)
        if each.answer:
            parts += told.prose.say("; they answered: {answer}", answer=each.answer)
        items.append(tuple(parts))
    if items:
        yield Section("advice", told.words.say("Advice"), (Listing(tuple(items)),))


def _excused(told: ToldStudy, chair: Chair) -> Iterator[Section]:
    """The excuses, and when each finding will be looked at again."""
    items: list[Text] = []
    for view in findings_at(told, chair.letter):
        for part in view.finding.held("excuse"):
            if isinstance(part, Excuse) and not names_another(told, part.reason):
                again = part.again or told.words.say("no day or release is set")
                items.append(
                    told.prose.say(
                        "{finding}: {why} ({reason}); to be looked at again: {again}",
                        finding=Run(f"F{view.finding.number} {view.title}"),
                        why=told.words.say(part.sort),
                        reason=part.reason,
                        again=again,
                    )
                )
    if items:
        yield Section("excused", told.words.say("Excused, and looked at again"), (Listing(tuple(items)),))


def _answered(told: ToldStudy, chair: Chair) -> Iterator[Section]:
    """The makers' answers to a draft as a whole; answers to a finding stand at it."""
    blocks: list[Block] = []
    for held in evidence_of_kind(told.opened, "reply"):
        each = held.record
        if isinstance(each, MakersReply) and each.chair == chair.letter and not each.of:
            blocks.append(reply_paragraph(told, each))
    if blocks:
        yield Section("answers", told.words.say("What its makers answer"), tuple(blocks))


def finding_files(told: ToldStudy) -> Iterator[tuple[str, Mapping[str, object], Section]]:
    """A file a finding met at the chair: its name, its head, and its text."""
    chair = told.study.chair_by_letter[told.chair]
    for view in findings_at(told, chair.letter):
        finding, spread = view.finding, next(each for each in view.spread if each.chair == chair.letter)
        judged = finding.severity_in(Scope(chair=chair.letter))
        known = finding.severity_in(Scope(chair=chair.letter, workaround_known=True))
        head: dict[str, object] = {
            "number": f"F{finding.number}",
            "title": view.title,
            "kind": finding.sort,
            "severity": None if judged is None else judged.severity,
            "severity_words": None if judged is None else SEVERITY_WORDS[judged.severity],
            "severity_with_workaround": None if known is None else known.severity,
            "chair": chair.title,
            "build": dict(build_of(told, chair)),
            "packages": list(chair.package_formats),
            "met_by": len(spread.people),
            "of": len(spread.tried),
            "occurs": finding.occurrence.words,
            "since": since_release(told, view, chair.letter),
            "sample_data": told.study.sample,
        }
        name = f"F{finding.number:02d}-{slug(view.title)[:60].strip('-')}.md"
        yield name, head, _finding(told, view, "finding")
