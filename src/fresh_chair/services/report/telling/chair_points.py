"""The three worst and the three best points of each chair, each with a quote."""

from collections.abc import Iterator

from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.sitting.state.sitting import Remark
from fresh_chair.services.report.telling.quotes import as_said, choices_of, quote_source, shown_observations
from fresh_chair.services.report.telling.told import ToldStudy, clock
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Section, Text

MOST = 3


def chair_points(told: ToldStudy) -> Iterator[Section]:
    """A section a chair: its worst and its best points."""
    for letter, title in told.titles.items():
        blocks = tuple(point_blocks(told, letter))
        nothing = Paragraph(told.prose.say("Nothing was met there that stands out."))
        yield Section(f"points-{letter}", title, blocks or (nothing,))


def point_blocks(told: ToldStudy, letter: str) -> Iterator[Block]:
    """The worst points of a chair, then its best; nothing where there is none."""
    for name, points in (
        (told.words.say("Worst:"), worst_points(told, letter)),
        (told.words.say("Best:"), best_points(told, letter)),
    ):
        if points:
            yield Paragraph((Run(name, "quiet"),))
            yield Listing(tuple(points))


def worst_points(told: ToldStudy, letter: str, most: int = MOST) -> list[Text]:
    """The worst problems met at a chair; of walks alone, the reviewer's gravest remarks where none was sorted."""
    met = [view for view in told.found.findings if view.finding.sort == "problem" and met_at(view, letter)]
    met.sort(key=lambda view: (-(_severity(view, letter) or 0), -met_at(view, letter)))
    points = [_point(told, view, letter) for view in met[:most]]
    return points or [_remark(told, number, each) for number, each in _remarks(told, letter, "snag")[:most]]


def best_points(told: ToldStudy, letter: str, most: int = MOST) -> list[Text]:
    """The strengths met at a chair, then the delights that are in none."""
    met = [view for view in told.found.findings if view.finding.sort == "strength" and met_at(view, letter)]
    met.sort(key=lambda view: -met_at(view, letter))
    points = [_point(told, view, letter) for view in met[:most]]
    held = {target for view in met for target in view.finding.evidence}
    pleased = [each for each in _remarks(told, letter, "delight") if f"mark:{each[1].entry}" not in held]
    return points + [_remark(told, number, each) for number, each in pleased[: most - len(points)]]


def met_at(view: FindingView, letter: str) -> int:
    """How many people met a finding at a chair, those that are not counted included."""
    return sum(len(each.people) + len(each.others) for each in view.spread if each.chair == letter)


def met_words(told: ToldStudy, view: FindingView, letter: str) -> Text:
    """Who met a finding at a chair, of how many; whether only a reviewer, a pilot or the expert did."""
    spread = next(each for each in view.spread if each.chair == letter)
    number = f"finding/F{view.finding.number}/{letter}"
    if spread.people:
        return told.prose.say("{rate} people met it", rate=told.rate(len(spread.people), len(spread.tried), number))
    walked = any(each.walked for each in view.observations if each.chair == letter)
    return (
        told.prose.say("met on the reviewer's walk") if walked else told.prose.say("met by the expert or a pilot only")
    )


def _severity(view: FindingView, letter: str) -> int | None:
    judged = view.finding.severity_in(Scope(chair=letter))
    return None if judged is None else judged.severity


def _point(told: ToldStudy, view: FindingView, letter: str) -> Text:
    severity = _severity(view, letter)
    spans: list[Run] = [Run(view.title, "strong"), Run(" ("), *met_words(told, view, letter)]
    if view.finding.sort == "problem":
        number = f"severity/F{view.finding.number}/{letter}"
        if severity is None:
            spans += told.prose.say("; how bad is not judged")
        else:
            spans += told.prose.say("; how bad: {severity} of 4", severity=Run(str(severity), id=number))
    spans.append(Run(")"))
    shown = shown_observations(told, view, chair=letter)
    if shown:
        words = Run(as_said(told, shown[0]), "quote" if shown[0].kind == "quote" else "plain")
        spans += [Run(": "), words, Run(" ("), *_whose(told, shown[0]), Run(")")]
    return tuple(spans)


def _whose(told: ToldStudy, each: Observation) -> Text:
    """Whose words a mark is; without its time for those who decide, whom the number beside leads to it."""
    if told.reader != "decider" or not each.sitting or each.walked:
        return quote_source(told, each)
    who = Run(each.participant)
    source = (who,) if each.kind == "quote" else told.prose.say("beside {person}", person=who)
    return (*source, *told.known(each.evidence))


def _remarks(told: ToldStudy, letter: str, kind: str) -> list[tuple[int, Remark]]:
    """Marks of a kind at a chair, the gravest first; of newcomers' sittings no trouble that was not sorted."""
    chosen = choices_of(told)
    found = []
    for number, sitting in sorted(told.opened.sittings.items()):
        seat = told.study.seat(number)
        if seat.chair != letter or (kind == "snag" and sitting.walk is None):
            continue
        for remark in sitting.remarks.values():
            shown = chosen.get(f"mark:{remark.entry}") != "left out" and not remark.revised_by
            fits = remark.kind == kind or (sitting.walk is not None and kind == "snag" and remark.kind == "warning")
            if fits and shown and remark.words:
                found.append((number, remark))
    found.sort(key=lambda each: (chosen.get(f"mark:{each[1].entry}") != "shown first", -(each[1].severity or 0)))
    return found


def _remark(told: ToldStudy, number: int, remark: Remark) -> Text:
    seat = told.study.seat(number)
    walked = told.opened.sittings[number].walk is not None
    who = told.prose.say("the reviewer, at {time}", time=clock(remark.at_ns / 1e9))
    if not walked and told.reader == "decider":
        who = told.prose.say("beside {person}", person=seat.participant)
    elif not walked:
        who = told.prose.say(
            "written down beside {person}, at {time}", person=seat.participant, time=clock(remark.at_ns / 1e9)
        )
    known = told.known(remark.evidence, walked=walked)
    return (Run(remark.words), Run(" ("), *who, *known, Run(")"))
