"""Drawing a contest: its steps down, its chairs across, which was better at the right; empty cells are seen at once."""

from collections.abc import Mapping
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.sitting.contests import ContestRow, ContestView
from fresh_chair.core.sitting.walked import StepLine
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.walks import contest_counts, contest_turns
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour

_LEAST_TITLE, _LEAST_CELL, _BETTER = 14, 8, 12
_HEAD_ROWS = 5


def contest_panel(
    view: ContestView, chairs: Mapping[str, Chair], here: str, signs: Signs, width: int, rows: int
) -> Content:
    """The grid of a contest, the newest steps where not all fit; reasons under their steps where there is room.

    Args:
        view: The contest.
        chairs: The study's chairs by their letters.
        here: The chair in hand.
        signs: The signs to draw with.
        width, rows: The room there is.
    """
    title = max((width - _BETTER) * 4 // 10, _LEAST_TITLE)
    cell = max((width - title - _BETTER) // len(view.chairs), _LEAST_CELL)
    head: list[Content | tuple[str, str]] = [("".ljust(title), "$thread")]
    for letter in view.chairs:
        chair = chairs.get(letter)
        mark = signs.here if letter == here else " "
        name = legible(chair.name) if chair is not None else ""
        colour = "$chalk" if chair is None else chair_colour(chair)
        head += [(mark, "$lamp"), (clipped(f"{letter} {name}", cell - 2).ljust(cell - 1), f"bold {colour}")]
    head.append(("better", "$thread"))
    room = max(rows - _HEAD_ROWS, 2)
    reasons = 2 * len(view.rows) <= room
    parts = [Content.assemble(*head)]
    hidden = len(view.rows) - room
    if hidden > 0:
        parts.append(Content.styled(f"{signs.more} {hidden} before these", "$thread"))
    for row in view.rows[-room:]:
        lines = wrap(legible(row.title), title - 2)[:2] if reasons else [legible(row.title)]
        parts.append(_row(row, lines[0], view.chairs, signs, title, cell))
        if reasons:
            said = legible(row.judgement.reason) if row.judgement is not None else ""
            more = lines[1] if len(lines) > 1 else ""
            reason = (clipped(said, width - title - 1), "$thread")
            parts.append(Content.assemble((f"{more:<{title + 1}}", "$chalk"), reason))
    counts = [Content.styled(line, "$thread") for line in wrap(f"better: {contest_counts(view)}", width)]
    for said in contest_turns(view):
        counts += [Content.styled(line, "$tide") for line in wrap(legible(said), width)]
    return Content("\n").join([*parts, Content(""), *counts])


def _row(row: ContestRow, words: str, chairs: tuple[str, ...], signs: Signs, title: int, cell: int) -> Content:
    parts: list[tuple[str, str]] = [(clipped(words, title - 2).ljust(title), "$chalk")]
    for at_chair in row.cells:
        words, colour = _cell(at_chair, signs, cell - 2)
        parts.append((clipped(f" {words}", cell - 1).ljust(cell), colour))
    said = row.judgement
    better, colour = ("not said", "$lamp") if said is None else (said.better, "$thread")
    if said is not None and said.better in chairs:
        better, colour = f"{said.better} better", "$moss"
    parts.append((better, colour))
    return Content.assemble(*parts)


def _cell(step: StepLine | None, signs: Signs, room: int) -> tuple[str, str]:
    """The words of one cell and their colour, with a time where it fits; an empty one is loud."""
    if step is None:
        return f"{signs.dash} not yet", "$clay"
    time = f" {clock_text(round(step.hands_seconds * SECOND))}" if step.timed and not step.in_hand else ""
    if step.ending is None:
        words, colour = (f"{signs.here}in hand" if step.in_hand else f"{signs.hollow} open"), "$lamp"
    elif step.ending.outcome is None:
        words, colour = f"{signs.closings.get(step.ending.value, '')} {step.ending.words}", "$thread"
    else:
        outcome = step.ending.outcome
        words = f"{signs.outcomes[outcome]} {outcome.words.removeprefix('completed ')}"
        colour = OUTCOME_COLOUR[outcome]
    return (f"{words}{time}" if len(words) + len(time) <= room else words), colour
