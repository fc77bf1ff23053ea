"""A task card as it will be read, and its remarks. Pure drawing."""

from collections.abc import Sequence
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.plan.card_lint import LintRemark
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.readability import aloud_seconds, reading_grade
from fresh_chair.core.text import legible
from fresh_chair.tui.widgets.signs import Signs


def as_read(card: TaskCard, signs: Signs, width: int, *, airy: bool) -> Content:
    """The card at reading size, with the moderator's notes under it.

    Args:
        card: The card.
        signs: The glyphs to draw with.
        width: Cells to set it in.
        airy: Whether there is room for air between the lines.
    """
    lines = wrap(legible(card.goal), min(max(width - 4, 20), 64), break_on_hyphens=False)
    goal = ("\n\n" if airy else "\n").join(lines)
    told = f"{aloud_seconds(card.goal):.0f} s aloud {signs.dot} reading grade {max(reading_grade(card.goal), 0):.0f}"
    told += f" {signs.dot} limit {clock_text(card.limit_seconds * SECOND)} {signs.dot} priority {card.priority}"
    parts = [
        Content.styled(f"{legible(card.title)}  {signs.dot}  {legible(card.area)}", "$thread"),
        Content(""),
        Content.styled(goal, "bold $chalk"),
        Content(""),
        Content.styled(told, "$thread"),
        Content(""),
    ]
    rows = (
        ("ask", card.question),
        ("before", card.start),
        ("done means", card.success),
        ("partly", _listed(card.partly)),
        ("bench", _listed(card.fixtures)),
        ("needs", ", ".join(card.needs)),
        ("uses up", ", ".join(card.uses_up)),
        ("put back", _listed(card.put_back)),
        ("the chair", "; ".join(card.checks)),
    )
    for label, text in rows:
        if text:
            hung = wrap(legible(text), max(width - 13, 20))
            parts.append(Content.assemble((label.ljust(12), "$thread"), (f"\n{' ' * 12}".join(hung), "$chalk")))
    if card.once:
        parts.append(Content.styled("Can be seen once per installation.", "$lamp"))
    return Content("\n").join(parts)


def _listed(things: Sequence[str]) -> str:
    return "; ".join(thing.rstrip(".") for thing in things)


def remark_lines(remarks: Sequence[LintRemark], signs: Signs) -> list[Content]:
    """The remarks on a card: reason and remedy, numbered; overruled ones stand last, with their reason."""
    if not remarks:
        return [Content.styled(f"{signs.states['ready']} Nothing gives the answer away.", "$moss")]
    parts = [Content.styled("what is wrong with it", "$thread")]
    for number, remark in enumerate(remarks, start=1):
        if remark.overruled:
            parts.append(
                Content.styled(
                    f"\n{number}  {legible(remark.why)}\n   overruled: {legible(remark.overruled)}", "$thread"
                )
            )
            continue
        state, colour = ("wrong", "$clay") if remark.grave else ("open", "$lamp")
        parts.append(
            Content.assemble(
                (f"\n{number}  {signs.states[state]} ", colour),
                (legible(remark.why), "$chalk"),
                (f"\n   {legible(remark.advice)}", "$thread"),
            )
        )
    return parts
