"""The lines of Sort: an observation, a finding, a carried one, and the one in hand. Pure drawing."""

from textual.content import Content

from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import EVERYWHERE
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.life import CarriedLife
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR, Signs, chair_colour

_KIND_COLOUR = {"delight": "$moss", "quote": "$plum", "warning": "$tide"}
_SORT_LETTER = {"problem": " ", "strength": "+", "oddity": "o", "matter of taste": "~", "request": ">"}


def observation_line(each: Observation, signs: Signs, study: Study, width: int, *, taken_up: bool) -> Content:
    """An observation in one row: taken up, severity as typed, chair, person, kind, words."""
    words = f"{legible(each.words) if each.words else '(words to come)'}{each.known}"
    kind = "" if each.kind == "snag" else f"{each.kind} "
    who = f"{legible(each.participant)} " if each.participant else ""
    chair = study.chair_by_letter.get(each.chair)
    rated = signs.severities[each.severity] if each.severity is not None else " "
    used = 5 + len(who) + len(kind) + (3 if each.findings else 0)
    return Content.assemble(
        (signs.here if taken_up else " ", "bold $lamp"),
        (f"{rated} ", SEVERITY_COLOUR[each.severity or 0]),
        (f"{each.chair} ", "$thread" if chair is None else chair_colour(chair)),
        (who, "$thread"),
        (kind, _KIND_COLOUR.get(each.kind, "$thread")),
        (f"{signs.tied} " if each.findings else "", "$tide"),
        (clipped(words, max(width - used, 8)), "$lamp" if taken_up else "$chalk"),
    )


def finding_line(view: FindingView, signs: Signs, study: Study, width: int, *, merging: bool, blind: bool) -> Content:
    """A finding in one row: severity, number, who met it, name, and the chairs it was met at."""
    finding = view.finding
    unknown = "?" if finding.sort == "problem" or blind else " "
    severity = unknown if finding.severity is None or blind else signs.severities[finding.severity]
    colour = SEVERITY_COLOUR[finding.severity or 0] if not blind else "$thread"
    met = {each.chair for each in view.spread if each.people or each.others}
    indent = "  " if finding.under else ""
    excused = signs.severities[finding.excused] if finding.excused is not None and not blind else " "
    room = max(width - 14 - len(study.chairs), 8)
    title = clipped(f"{indent}{legible(view.title)}", room)
    return Content.assemble(
        (signs.here if merging else " ", "bold $lamp"),
        (severity, colour),
        (excused, "$thread"),
        (f" F{finding.number:<3}", "$thread"),
        (f"{len(view.people):>2} ", "$thread"),
        (f"{_SORT_LETTER[finding.sort]} ", "$moss" if finding.sort == "strength" else "$tide"),
        (f"{title.ljust(room)} ", "$chalk"),
        # Each chair has its column, so that one sees down the list where a chair stands out.
        *((chair.letter if chair.letter in met else " ", chair_colour(chair)) for chair in study.chairs),
    )


def carried_line(life: CarriedLife, signs: Signs, study: Study, width: int) -> Content:
    """A finding of an earlier study, with its state here and where it comes from."""
    carried = life.carried
    severity = "?" if carried.severity is None else signs.severities[carried.severity]
    state = life.state or "as it came"
    colour = {"gone": "$moss", "back again": "$clay"}.get(life.state, "$thread")
    used = 7 + len(state)
    return Content.assemble(
        (f" {severity}  ", SEVERITY_COLOUR[carried.severity or 0]),
        (f"{carried.chair} ", chair_colour(study.chair_by_letter[carried.chair])),
        (f"{state} ", colour),
        (clipped(f"{legible(carried.title)} ({legible(carried.words)})", max(width - used, 8)), "$thread"),
    )


def observation_detail(each: Observation, study: Study, fed: list[FindingView], near: list[FindingView]) -> Content:
    """The observation in hand: its words in full, the findings it feeds, and those that look alike."""
    card = study.card_by_id.get(each.card)
    where = (
        f"{legible(each.participant)} at {each.chair}, {each.at}" if each.sitting else f"{each.kind} of {each.chair}"
    )
    title = f"; {legible(card.title)}" if card is not None else ""
    by = f"; noted by {legible(each.author)}" if each.author else ""
    parts = [
        Content.styled(f"{where}{title}{by}", "$thread"),
        Content.styled(f"{legible(each.words) or '(words to come)'}{each.known}", "$chalk"),
    ]
    parts += [Content.styled(f"in F{view.finding.number} {legible(view.title)}", "$tide") for view in fed]
    parts += [Content.styled(f"looks like F{view.finding.number} {legible(view.title)}", "$lamp") for view in near]
    return Content("\n").join(parts)


def finding_detail(view: FindingView, signs: Signs, study: Study, state: str, *, blind: bool) -> Content:
    """The finding in hand: severity with its reason, who met it at each chair, its causes in a word."""
    finding = view.finding
    tags = f"  {' '.join(f'#{legible(tag)}' for tag in finding.tags)}" if finding.tags else ""
    life = f"  {state}" if state else ""
    head = f"{finding.name} {legible(view.title)}"
    sort = "" if finding.sort == "problem" else f"  {finding.sort}"
    parts = [Content.assemble((head, "bold $chalk"), (f"{sort}{tags}{life}", "$tide"))]
    if not blind:
        parts += _judged(view, signs)
    for spread in view.spread:
        who = " ".join(legible(code) for code in spread.people)
        hue = chair_colour(study.chair_by_letter[spread.chair])
        parts.append(Content.assemble((f"{spread.chair} ", hue), legible(spread.words), (f"  {who}", "$thread")))
    if view.typed:
        parts.append(Content.styled(f"typed at once: {', '.join(map(str, view.typed))}", "$thread"))
    return Content("\n").join(parts)


def _judged(view: FindingView, signs: Signs) -> list[Content]:
    finding, parts = view.finding, []
    if finding.severity is None:
        suggested = view.suggestion.severity
        said = "no severity yet (v)" + (f"; the marks suggest {suggested}" if suggested is not None else "")
        parts.append(Content.styled(said, "$clay"))
    else:
        severity = finding.severity
        said = f"{signs.severities[severity]} severity {severity}, {SEVERITY_WORDS[severity]}: "
        parts.append(Content.assemble((said, SEVERITY_COLOUR[severity]), (legible(finding.reason), "$chalk")))
    if finding.excused is not None:
        parts.append(Content.styled(f"excused {finding.excused}", "$moss"))
    narrower = [(s, j) for s, j in finding.severities.items() if s != EVERYWHERE]
    if narrower:
        parts.append(Content.styled("; ".join(f"{j.severity} {s.words}" for s, j in narrower), "$thread"))
    return parts
