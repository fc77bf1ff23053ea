"""A finding's page: everything about one finding, as sections of lines that a screen, a paper or a command draws."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import UTC, datetime
from typing import Literal

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.figures.discovery import Discovery, discovery
from fresh_chair.core.findings.controls import Control, controls_of
from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.related import RelatedHint, related_to
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.findings.state.finding import EVERYWHERE, JudgedSeverity, Scope, Version
from fresh_chair.core.findings.state.parts import Cause, Excuse, Trial, Workaround
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import condition_of
from fresh_chair.services.evidence.targets import LinkEnd, links_of
from fresh_chair.services.findings.life import again_list, life_line
from fresh_chair.services.findings.observations import closeness, sorted_findings_of
from fresh_chair.services.study.snapshot import StudyReading

Tone = Literal["plain", "quiet", "good", "bad", "now", "machine", "quote"]
SectionName = Literal[
    "seen", "who met it", "severity", "excuses", "raters", "comes and goes", "cause", "trials", "controls",
    "way round", "life line", "tied", "may belong to",
]  # fmt: skip


@frozen
class PageLine:
    """One line of a page.

    Attributes:
        part: What of the finding it is, for a key that changes it: an id within its section; empty for none.
        target: The observation it shows, which opens to its moment.
        chair: The chair whose colour it has.
    """

    words: str
    tone: Tone = "plain"
    part: str = ""
    target: str = ""
    chair: str = ""


@frozen
class PageSection:
    """A part of a page under its name; an empty one has no lines."""

    name: SectionName
    lines: tuple[PageLine, ...]


@frozen
class FindingPage:
    """Everything about one finding."""

    view: FindingView
    sections: tuple[PageSection, ...]

    def section(self, name: SectionName) -> PageSection:
        """One of its sections."""
        return next(each for each in self.sections if each.name == name)


def finding_page(opened: StudyReading, finding: str, *, rater: str = "") -> FindingPage:
    """The page of a finding; with `rater`, without any other's judgement while ratings cannot be seen.

    Raises:
        KeyError: Where there is no such finding.
    """
    found = sorted_findings_of(opened)
    view = found.by_id[finding]
    blind = bool(rater) and not opened.findings.settling
    sections = (
        PageSection("seen", tuple(_seen(opened, view))),
        PageSection("who met it", tuple(_met(view))),
        PageSection("severity", tuple(_rated(view, rater)) if blind else tuple(_severity(view))),
        PageSection("excuses", () if blind else tuple(_excuses(view))),
        PageSection("raters", tuple(_raters(opened, view, rater))),
        PageSection("comes and goes", tuple(_occurrence(view))),
        PageSection("cause", () if blind else tuple(_causes(opened, view))),
        PageSection("trials", () if blind else tuple(_trials(view))),
        PageSection("controls", tuple(_controls(controls_of(opened.study, view, opened.facts())))),
        PageSection("way round", tuple(_ways(opened, view))),
        PageSection("life line", tuple(_life(opened, view, found))),
        PageSection("tied", tuple(_links(links_of(opened, f"finding:{view.id}")))),
        PageSection("may belong to", tuple(_related(found, related_to(opened.study, view, found.findings, closeness)))),
    )
    return FindingPage(view, sections)


def _seen(opened: StudyReading, view: FindingView) -> Iterator[PageLine]:
    for each in view.observations:
        yield PageLine(observation_words(each), _TONES.get(each.kind, "plain"), "", each.target, each.chair)
    missing = len(view.finding.evidence) - len(view.observations)
    if missing:
        yield PageLine(f"{missing} more that were struck or erased", "quiet")
    if not view.finding.evidence:
        yield PageLine("stands on nothing yet", "bad")


_TONES: dict[str, Tone] = {"delight": "good", "quote": "quote", "warning": "machine"}


def observation_words(each: Observation) -> str:
    """An observation in one line: who, when, and the words."""
    where = f"{each.participant} {each.at}" if each.sitting else f"{each.kind} of {each.chair}"
    kind = "" if each.kind == "snag" or not each.sitting else f"{each.kind}: "
    return f"{where}  {kind}{each.words or '(no words yet)'}{each.known}"


def _met(view: FindingView) -> Iterator[PageLine]:
    for each in view.spread:
        people = f"  {' '.join(each.people)}" if each.people else ""
        yield PageLine(f"{each.chair} {each.words}{people}", "plain" if each.tried else "quiet", "", "", each.chair)


def _severity(view: FindingView) -> Iterator[PageLine]:
    finding = view.finding
    if finding.severity is None:
        yield PageLine("not judged yet", "bad", "everywhere")
    for scope, judged in sorted(finding.severities.items(), key=lambda each: each[0] != EVERYWHERE):
        said = "as met" if scope == EVERYWHERE else scope.words
        settled = ", settled" if judged.settled else ""
        tone: Tone = "now" if scope == EVERYWHERE else "plain"
        yield PageLine(f"{judged.severity} {said}{settled}: {judged.reason}", tone, scope_part(scope))
    if finding.excused is not None and finding.severity is not None:
        yield PageLine(f"{finding.excused} excused", "good")
    suggestion = view.suggestion
    said = "none" if suggestion.severity is None else f"{suggestion.severity}, {SEVERITY_WORDS[suggestion.severity]}"
    yield PageLine(f"suggested by the marks: {said}", "machine", "suggested")
    yield PageLine("  " + "; ".join(suggestion.steps), "quiet")
    for factor in suggestion.factors:
        why = f"corrected: {factor.corrected}" if factor.corrected else factor.ground
        said = f"  {factor.name}: {factor.value or 'none'}{f' ({why})' if why else ''}"
        yield PageLine(said, "now" if factor.corrected else "quiet", f"factor:{factor.name}")
    if view.typed:
        yield PageLine(f"typed at once: {', '.join(map(str, view.typed))}", "quiet")
    for scope, judged in reversed(finding.earlier_severities):
        said = f"before, {scope.words}, {_day(judged.moment)}: {judged.severity}, {judged.reason}"
        yield PageLine(said, "quiet")


def scope_part(scope: Scope) -> str:
    """A scope as the part of a line: the argument of the key that changes it."""
    if scope == EVERYWHERE:
        return "everywhere"
    return "|".join((scope.chair, scope.audience, "known" if scope.workaround_known else ""))


def scope_of(part: str) -> Scope:
    """The scope that `scope_part` wrote.

    >>> scope_of(scope_part(Scope("B", "school", True)))
    Scope(chair='B', audience='school', workaround_known=True)
    """
    if part in ("", "everywhere"):
        return EVERYWHERE
    chair, audience, known = part.split("|")
    return Scope(chair, audience, known == "known")


def _rated(view: FindingView, rater: str) -> Iterator[PageLine]:
    """One rater's own severity, before the others' can be seen; the marks are there to judge by."""
    mine = view.finding.ratings.get(rater)
    said = "not rated yet" if mine is None else f"{mine.severity}: {mine.reason}"
    yield PageLine(f"your rating: {said}", "bad" if mine is None else "now", "rating")
    yield PageLine("the others' are seen once the moderator opens the settling view", "quiet")


def _raters(opened: StudyReading, view: FindingView, rater: str) -> Iterator[PageLine]:
    ratings = view.finding.ratings
    if not opened.findings.settling:
        if ratings and not rater:
            yield PageLine(f"rated by {len(ratings)}; seen once the settling view is open", "quiet")
        return
    for each in ratings.values():
        late = "" if each.blind else ", having seen the others"
        yield PageLine(f"{each.rater} {each.severity}: {each.reason}{late}")
    values = [each.severity for each in ratings.values()]
    if len(values) > 1:
        yield PageLine(f"spread {max(values) - min(values)}", "quiet")


def _excuses(view: FindingView) -> Iterator[PageLine]:
    for part in view.finding.held("excuse"):
        if isinstance(part, Excuse):
            again = f"; look again when {condition_of(part.again)}" if part.again else ""
            by = f" ({part.by})" if part.by else ""
            to = "" if part.severity is None else f", to {part.severity}"
            yield PageLine(f"{part.sort}{to}: {part.reason}{by}{again}", "good", part.id)


def _occurrence(view: FindingView) -> Iterator[PageLine]:
    occurrence = view.finding.occurrence
    note = f": {occurrence.note}" if occurrence.note else ""
    tone: Tone = "quiet" if occurrence.how == "not said" else "plain"
    yield PageLine(f"{occurrence.words}{note}", tone, "occurrence")


def _causes(opened: StudyReading, view: FindingView) -> Iterator[PageLine]:
    finding = view.finding
    for part in finding.held("cause"):
        if not isinstance(part, Cause):
            continue
        out = f", ruled out by {part.ruled_out_by}" if part.ruled_out_by else ""
        tone: Tone = "quiet" if part.sure == "ruled out" else "now" if part.sure in ("likely", "shown") else "plain"
        yield PageLine(f"{part.sure}: {part.words} ({part.lies}){out}", tone, part.id)
        yield PageLine(f"  because {part.reason}" if part.reason else "  a guess, without a reason yet", "quiet")
        for end in links_of(opened, f"cause:{finding.id}/{part.id}"):
            gone = " (gone)" if end.gone else ""
            yield PageLine(f"  {end.words} {end.other_words}{gone}", "quiet")
        yield from _history(finding.versions("cause", part.id)[:-1])


def _history(versions: Sequence[Version]) -> Iterator[PageLine]:
    for version in reversed(versions):
        if isinstance(version.part, Cause):
            was = f"  until then, {_day(version.moment)}: {version.part.sure}, {version.part.lies}"
            yield PageLine(f"{was}: {version.part.reason}", "quiet")


def _trials(view: FindingView) -> Iterator[PageLine]:
    tones: dict[str, Tone] = {"helped": "good", "changed nothing": "plain", "made it worse": "bad"}
    causes = {part.id: part.words for part in view.finding.held("cause") if isinstance(part, Cause)}
    for part in view.finding.held("trial"):
        if isinstance(part, Trial):
            of = f" (of: {causes[part.cause]})" if part.cause in causes else ""
            who = ", ".join(filter(None, (part.when, part.by)))
            yield PageLine(f"{part.result}: {part.tried}{of}{f'; {who}' if who else ''}", tones[part.result], part.id)


def _controls(controls: Iterable[Control]) -> Iterator[PageLine]:
    for each in controls:
        yield PageLine(each.words, "now" if each.points else "quiet")


def _ways(opened: StudyReading, view: FindingView) -> Iterator[PageLine]:
    for part in view.finding.held("workaround"):
        if not isinstance(part, Workaround):
            continue
        tone: Tone = "good" if part.known_to_newcomers else "plain"
        yield PageLine(f"{part.steps} ({part.skill}; helped: {part.helped})", tone, part.id)
        told = (
            ("takes", part.takes), ("rights", part.rights), ("risk", part.risk),
            ("lasts", "" if part.lasts == "not known" else part.lasts), ("tried by", part.tried_by),
        )  # fmt: skip
        more = "; ".join(f"{name} {value}" for name, value in told if value)
        if more:
            yield PageLine(f"  {more}", "quiet")
        for end in links_of(opened, f"workaround:{view.id}/{part.id}"):
            yield PageLine(f"  {end.words} {end.other_words}", "quiet")


def _life(opened: StudyReading, view: FindingView, found: SortedFindings) -> Iterator[PageLine]:
    tones: dict[str, Tone] = {"gone": "good", "back again": "bad", "new": "bad"}
    for each in life_line(opened, view):
        source = f", in {each.source}" if each.source and each.source not in each.words else ""
        yield PageLine(
            f"{each.where}  {each.state or 'first seen'}: {each.words}{source}", tones.get(each.state, "plain")
        )
    for line in again_list(opened, found):
        if line.finding == view.id:
            waits = f"; waits for {line.waits_for}" if line.waits_for else ""
            yield PageLine(f"test again: {line.why}{waits}", "now")


def _links(ends: Iterable[LinkEnd]) -> Iterator[PageLine]:
    for end in ends:
        yield PageLine(f"{end.words} {end.other_words}", "quiet" if end.gone else "machine")


def _related(found: SortedFindings, hints: Sequence[RelatedHint]) -> Iterator[PageLine]:
    by_id = found.by_id
    for hint in hints[:5]:
        other = by_id[hint.finding]
        yield PageLine(f"F{other.finding.number} {other.title} ({', '.join(hint.why)})", "quiet", hint.finding)


def _day(moment: Moment) -> str:
    return datetime.fromtimestamp(moment.wall_ns / SECOND, UTC).date().isoformat()


def discovery_of(opened: StudyReading, found: SortedFindings) -> Discovery:
    """How many problems the newcomers have met, and how many are likely still unseen."""
    people = {fact.participant for fact in opened.facts()}
    problems = [view.people for view in found.findings if view.finding.sort == "problem"]
    return discovery(sorted(people), problems)


def judged_words(judged: JudgedSeverity | None) -> str:
    """A severity in a word or two."""
    return "not judged" if judged is None else f"{judged.severity} {SEVERITY_WORDS[judged.severity]}"
