"""Verdicts of a study: a matrix of audience and chair with the verdict that holds in each cell, and the gaps."""

from fresh_chair.core.evidence.judged import ChairVerdict
from fresh_chair.core.frozen import frozen
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.evidence.targets import LinkEnd, links_of
from fresh_chair.services.study.snapshot import StudyReading

EVERYONE = "everyone"


@frozen
class VerdictLine:
    """One verdict as it stands.

    Attributes:
        state: Holds, revised by a later one, or open again because its condition was met.
        revised_by: The later one's id; empty for none.
        rests_on: The links of the verdict.
    """

    verdict: ChairVerdict
    state: str
    revised_by: str
    rests_on: tuple[LinkEnd, ...]

    @property
    def words(self) -> str:
        """The verdict in a few words."""
        verdict = self.verdict
        said = f"{verdict.says} {verdict.condition}".strip() if verdict.condition else verdict.says
        return f"{said} ({verdict.firm})"


@frozen
class VerdictMatrix:
    """Audiences against chairs; a cell without a verdict is empty.

    Attributes:
        audiences: Names, everyone last where it is spoken of.
        cells: The verdicts that hold, by audience and chair.
        whole: Verdicts that are of no single chair.
        missing: How many cells have none.
    """

    audiences: tuple[str, ...]
    cells: dict[tuple[str, str], VerdictLine]
    whole: tuple[VerdictLine, ...]
    missing: int


def verdict_lines(opened: StudyReading) -> list[VerdictLine]:
    """Every verdict, those that were revised too, in the order they came in."""
    held = [h.record for h in evidence_of_kind(opened, "verdict") if isinstance(h.record, ChairVerdict)]
    later = {each.revises.removeprefix("verdict:"): each.id for each in held if each.revises}
    found = []
    for verdict in held:
        revised = later.get(verdict.id, "")
        state = "revised" if revised else "open again" if verdict.met else "holds"
        found.append(VerdictLine(verdict, state, revised, tuple(links_of(opened, f"verdict:{verdict.id}"))))
    return found


def verdict_matrix(opened: StudyReading) -> VerdictMatrix:
    """The verdicts that hold; of several for one cell the last one."""
    lines = [line for line in verdict_lines(opened) if line.state != "revised"]
    named = [audience.name for audience in opened.study.sheet.audiences]
    spoken = dict.fromkeys(line.verdict.audience or EVERYONE for line in lines)
    audiences = [*named, *(each for each in spoken if each not in named)]
    if not audiences:
        audiences = [EVERYONE]
    cells = {(line.verdict.audience or EVERYONE, line.verdict.chair): line for line in lines if line.verdict.chair}
    whole = tuple(line for line in lines if not line.verdict.chair)
    letters = [chair.letter for chair in opened.study.chairs]
    # Said for everyone is said for each audience, unless that has a verdict of its own.
    missing = sum(
        (audience, letter) not in cells and (EVERYONE, letter) not in cells
        for audience in audiences
        for letter in letters
    )
    return VerdictMatrix(tuple(audiences), cells, whole, missing)
