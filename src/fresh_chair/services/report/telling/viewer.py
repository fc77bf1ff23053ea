"""The document for viewers of a recorded walk or sitting: chapters, talking points, cautions."""

from collections.abc import Iterator

from fresh_chair.core.evidence.kinds import OWN
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting.state.sitting import Remark, Sitting
from fresh_chair.core.sitting.walked import StepLine, step_lines
from fresh_chair.core.text import legible
from fresh_chair.core.words.walks import ending_words
from fresh_chair.services.evidence.later import later_of
from fresh_chair.services.judgement.verdicts import verdict_lines
from fresh_chair.services.report.telling.conditions import disclosures
from fresh_chair.services.report.telling.decider import verdict_text
from fresh_chair.services.report.telling.next_time import next_time
from fresh_chair.services.report.telling.open_points import open_section
from fresh_chair.services.report.telling.quotes import choices_of, may_quote
from fresh_chair.services.report.telling.told import ToldStudy, clock
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.tell.document.model import Block, Document, Listing, Paragraph, Run, Section, Text

# Kinds of marks that a viewer is told of.
_TOLD = ("snag", "delight", "quote", "warning", "note", "question", "line")


@frozen
class Chapter:
    """A stretch of a recording with its title, in seconds from the beginning of the recording."""

    begin_seconds: float
    end_seconds: float
    title: str


def recorded_seats(opened: StudyReading) -> list[Seat]:
    """The sittings a viewer's document can be of: those with a recording, and every walk."""
    return [
        opened.study.seat(number)
        for number, sitting in sorted(opened.sittings.items())
        if sitting.recording is not None or sitting.walk is not None
    ]


def chapters_of(told: ToldStudy, number: int) -> list[Chapter]:
    """The chapters of a sitting: its steps or its cards, in the order of the recording; the first begins at 0."""
    sitting = told.opened.sittings[number]
    offset = sitting.recording[1] if sitting.recording is not None else 0.0
    cards = told.study.card_by_id
    begins = [(step.opened_seconds, step.title) for step in step_lines(sitting)]
    begins += [
        (attempt.started_ns / 1e9, cards[attempt.card].title if attempt.card in cards else attempt.card)
        for attempt in sitting.tried
    ]
    begins.sort()
    starts: list[tuple[float, str]] = []
    for seconds, title in begins:
        # Two that begin within a second are one chapter to anybody who watches.
        if not starts or offset + seconds - starts[-1][0] >= 1.0:
            starts.append((offset + seconds, title))
    if starts and starts[0][0] >= 1.0:
        starts.insert(0, (0.0, told.words.say("Beginning")))
    end = offset + sitting.at_ns / 1e9
    ends = [seconds for seconds, _ in starts[1:]] + [max(end, starts[-1][0] + 1.0)] if starts else []
    return [Chapter(begin, until, title) for (begin, title), until in zip(starts, ends, strict=True)]


def web_vtt(chapters: list[Chapter], title: str) -> str:
    """Chapters as WebVTT, the open format of players and browsers."""
    lines = [f"WEBVTT {legible(title).replace('-->', '→')}", ""]
    for number, chapter in enumerate(chapters, start=1):
        words = legible(chapter.title).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        lines += [str(number), f"{_stamp(chapter.begin_seconds)} --> {_stamp(chapter.end_seconds)}", words, ""]
    return "\n".join(lines)


def _stamp(seconds: float) -> str:
    thousandths = round(seconds * 1000)
    hours, rest = divmod(thousandths, 3_600_000)
    minutes, rest = divmod(rest, 60_000)
    return f"{hours:02d}:{minutes:02d}:{rest // 1000:02d}.{rest % 1000:03d}"


def viewer_document(told: ToldStudy, number: int) -> Document:
    """The document of a recording: chapters, talking points, disclosure, verdicts, promises.

    Args:
        told: The study.
        number: The sitting; 0 for a study without any that is recorded.
    """
    say = told.words.say
    seat = told.study.seat(number) if number else None
    chair = told.titles[seat.chair] if seat is not None else ""
    sections = [*told.foreword()]
    if seat is not None:
        sitting = told.opened.sittings[number]
        sections += [
            Section("chapters", say("Chapters"), tuple(_chapters(told, number, sitting))),
            Section("points", say("Talking points"), tuple(_points(told, seat, sitting))),
            Section("careful", say("To be careful with"), tuple(_careful(told, sitting))),
        ]
    letter = seat.chair if seat is not None else ""
    sections += [
        Section("disclosure", say("Disclosure"), tuple(_disclosure(told, letter, number))),
        Section("verdict", say("The verdict, by audience"), tuple(_verdicts(told, letter))),
        Section("promised", say("Promised for later"), tuple(_promised(told, letter))),
        *open_section(told, chair=letter, study=True),
        next_time(told, chair=letter),
    ]
    subtitle = say("For those who watch")
    if number:
        subtitle = say("For those who watch: sitting {number}, {chair}", number=number, chair=chair)
    return Document(
        "viewer",
        f"viewer-{number}" if number else "viewer",
        told.study.title,
        subtitle,
        told.words.language,
        tuple(map(told.with_own, sections)),
        footer=told.prose.say("Times are those of the recording, in minutes and seconds."),
    )  # fmt: skip


def _chapters(told: ToldStudy, number: int, sitting: Sitting) -> Iterator[Block]:
    if sitting.recording is None:
        yield Paragraph(told.prose.say("There is no recording; times are from the beginning of the sitting."), "quiet")
    items = [(Run(clock(each.begin_seconds), "quiet"), Run(f" {each.title}")) for each in chapters_of(told, number)]
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("Nothing was gone through."))


def _points(told: ToldStudy, seat: Seat, sitting: Sitting) -> Iterator[Block]:
    """Points to say and to show, in the order of the recording; of the reviewer's own evidence alone."""
    offset = sitting.recording[1] if sitting.recording is not None else 0.0
    points: list[tuple[float, Text]] = [
        (each.opened_seconds, _step_point(told, each)) for each in step_lines(sitting) if each.own and each.ending
    ]
    cards = told.study.card_by_id
    for attempt in sitting.tried:
        if attempt.outcome is not None:
            title = cards[attempt.card].title if attempt.card in cards else attempt.card
            said = (Run(title, "strong"), Run(f": {told.words.say(attempt.outcome.words)}"))
            points.append((attempt.started_ns / 1e9, said))
    points += [
        (remark.at_ns / 1e9, _remark_point(told, sitting, remark))
        for remark in _remarks(told, seat, sitting)
        if remark.evidence in OWN
    ]
    points.sort(key=lambda each: each[0])
    items = [(Run(clock(offset + seconds), "quiet"), Run(" "), *said) for seconds, said in points]
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("Nothing was written down."))


def _step_point(told: ToldStudy, step: StepLine) -> Text:
    return (Run(step.title, "strong"), Run(f": {ending_words(step, told.words)}"))


def _remarks(told: ToldStudy, seat: Seat, sitting: Sitting) -> list[Remark]:
    chosen = choices_of(told)
    return [
        remark
        for remark in sitting.remarks.values()
        if remark.kind in _TOLD
        and remark.words
        and chosen.get(f"mark:{remark.entry}") != "left out"
        and (remark.kind != "quote" or may_quote(told.opened, seat.participant))
    ]


def _remark_point(told: ToldStudy, sitting: Sitting, remark: Remark) -> Text:
    spans: list[Run] = [Run(f"{told.words.say(remark.kind)}: ", "quiet"), Run(remark.words)]
    shown = [each.attachment.name for each in sitting.attachments if each.about == remark.entry]
    if shown:
        spans += told.prose.say("; show {files}", files=", ".join(shown))
    if remark.revises:
        spans += told.prose.say("; a changed mind, say so")
    if remark.revised_by:
        spans += told.prose.say("; revised later")
    return tuple(spans)


def _careful(told: ToldStudy, sitting: Sitting) -> Iterator[Block]:
    """Statements that were read about, heard, remembered or expected, and so not tried."""
    offset = sitting.recording[1] if sitting.recording is not None else 0.0
    found: list[tuple[float, Text]] = [
        (remark.at_ns / 1e9, (Run(f"{told.words.say(remark.evidence)}: ", "strong"), Run(remark.words)))
        for remark in sitting.remarks.values()
        if remark.evidence not in OWN and remark.words
    ]
    found += [
        (step.opened_seconds, (Run(f"{told.words.say(step.evidence)}: ", "strong"), Run(step.title)))
        for step in step_lines(sitting)
        if not step.own
    ]
    found.sort(key=lambda each: each[0])
    if not found:
        yield Paragraph(told.prose.say("Everything said here was done, seen or measured."))
        return
    yield Paragraph(told.prose.say("Say of these how they are known; they were not tried."))
    yield Listing(tuple((Run(clock(offset + at), "quiet"), Run(" "), *said) for at, said in found))


def _disclosure(told: ToldStudy, letter: str, number: int) -> Iterator[Block]:
    yield Paragraph(told.prose.say("Paid for by: {who}", who=told.study.sheet.paid_by or told.words.say("not said")))
    letters = [letter] if letter else list(told.titles)
    items = [line for each in letters for line in disclosures(told, each, number)]
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("On which terms it was had is not said."))


def _verdicts(told: ToldStudy, letter: str) -> Iterator[Block]:
    items: list[Text] = []
    for line in verdict_lines(told.opened):
        verdict = line.verdict
        if line.state == "revised" or (letter and verdict.chair not in ("", letter)):
            continue
        whom = verdict.audience or told.words.say("everyone")
        chair = f"{told.titles[verdict.chair]}, " if verdict.chair in told.titles and not letter else ""
        why = (Run(f": {verdict.why}"),) if verdict.why else ()
        items.append((Run(f"{chair}{whom}: "), *verdict_text(told, verdict), *why))
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("The reviewer has given no verdict."))


def _promised(told: ToldStudy, letter: str) -> Iterator[Block]:
    items: list[Text] = []
    for line in later_of(told.opened):
        if line.sort == "promised" and line.chair in ("", letter or line.chair):
            whom = told.prose.say(" (to {whom})", whom=line.whom) if line.whom else ()
            due = told.prose.say(", until {day}", day=told.words.day(line.due)) if line.due else ()
            items.append((Run(line.what), *whom, *due))
    yield Listing(tuple(items)) if items else Paragraph(told.prose.say("Nothing was promised."))
