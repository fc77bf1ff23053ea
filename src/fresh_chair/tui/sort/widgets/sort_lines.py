"""The lines of Sort: a snag, a finding, a carried one, and the finding in hand. Pure drawing."""

from textwrap import wrap

from textual.content import Content

from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.sorted_snags import FindingView, Snag
from fresh_chair.core.plan.chairs import CarriedFinding
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import legible
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR, Signs, chair_colour


def snag_line(snag: Snag, signs: Signs, study: Study, width: int, *, taken_up: bool) -> Content:
    """A snag with its severity as typed, its chair, who met it, and its words."""
    words = f"{legible(snag.words) if snag.words else '(words to come)'}{snag.known}"
    who = f"{legible(snag.participant)} "
    rated = f"{signs.severities[snag.severity]} " if snag.severity is not None else ""
    return Content.assemble(
        (signs.here if taken_up else " ", "bold $lamp"),
        (rated, SEVERITY_COLOUR[snag.severity or 0]),
        (f"{snag.chair} ", chair_colour(study.chair_by_letter[snag.chair])),
        (who, "$thread"),
        (_hanging(words, width, 3 + len(who) + len(rated)), "$lamp" if taken_up else "$chalk"),
    )


def finding_line(finding: FindingView, signs: Signs, width: int) -> Content:
    """A finding with its severity and how many people met it."""
    people = {code for spread in finding.spread for code in spread.people}
    return Content.assemble(
        _severity(finding.severity, signs),
        (f" {len(people):>2} ", "$thread"),
        (_hanging(legible(finding.title), width, 5), "$chalk"),
    )


def carried_line(finding: CarriedFinding, signs: Signs, study: Study, width: int) -> Content:
    """A finding of an earlier study, with where it comes from."""
    words = f"{legible(finding.title)} ({legible(finding.words)})"
    return Content.assemble(
        _severity(finding.severity, signs),
        (f" {finding.chair} ", chair_colour(study.chair_by_letter[finding.chair])),
        (_hanging(words, width, 5), "$thread"),
    )


def finding_detail(finding: FindingView, signs: Signs, study: Study) -> Content:
    """The finding in hand: its severity with the reason, and who met it at each chair."""
    parts = [Content.styled(legible(finding.title), "bold $chalk")]
    if finding.severity is None:
        parts.append(Content.styled("no severity yet (v)", "$clay"))
    else:
        judged = (
            f"{signs.severities[finding.severity]} severity {finding.severity}, {SEVERITY_WORDS[finding.severity]}: "
        )
        parts.append(Content.assemble((judged, SEVERITY_COLOUR[finding.severity]), (legible(finding.reason), "$chalk")))
    for spread in finding.spread:
        who = " ".join(legible(code) for code in spread.people)
        hue = chair_colour(study.chair_by_letter[spread.chair])
        parts.append(Content.assemble((f"{spread.chair} ", hue), legible(spread.words), (f"  {who}", "$thread")))
    if finding.typed:
        parts.append(Content.styled(f"typed at once: {', '.join(map(str, finding.typed))}", "$thread"))
    return Content("\n").join(parts)


def _severity(severity: int | None, signs: Signs) -> tuple[str, str]:
    return ("?", "$thread") if severity is None else (signs.severities[severity], SEVERITY_COLOUR[severity])


def _hanging(text: str, width: int, indent: int) -> str:
    """The text wrapped so that its further lines stand under its first."""
    return ("\n" + " " * indent).join(wrap(text, max(width - indent, 16)))
