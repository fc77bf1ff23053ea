"""How often the rule would name the right chair, a line a number of people. Pure drawing."""

from collections.abc import Iterator, Mapping

from textual.content import Content

from fresh_chair.core.text import clipped
from fresh_chair.services.figures.rule_chances import STUDIES, Assumed, RuleChances, numbers_of
from fresh_chair.tui.widgets.signs import Signs

_BAR = 16
_NUMBERS = 48


def chances_panel(
    found: Assumed, known: Mapping[int, RuleChances], apart: str, signs: Signs, *, people: int, width: int
) -> Content:
    """The numbers of people that are worked out, from few to many; those still to come are said to be.

    Args:
        found: The plan that is simulated.
        known: As far as each number is worked out.
        apart: How the one chair differs, in words.
        signs: The glyphs to draw with.
        people: The number in hand.
        width: Cells.
    """
    bar = max(min(width - _NUMBERS, _BAR), 0)
    group = clipped(f"one {apart}", bar + 30)
    lines = [
        Content.styled("The verdict of the rule in % of drawn studies (standard error).", "$chalk"),
        Content(""),
        Content.styled(f"{'':8}{group:<{bar + 30}}{'all equal':>15}", "$lamp"),
        Content.assemble(
            ("people  ", "$thread"),
            (f"{'':<{bar}}{'right':>11}{'wrong':>7}{'alike':>6}{'open':>6}", "bold $thread"),
            (f"{'a winner':>9}{'alike':>6}", "bold $thread"),
        ),
    ]
    for number in sorted(numbers_of(found)):
        lines += _row(found, number, known.get(number), signs, bar, here=number == people)
    return Content("\n").join(lines)


def _row(
    found: Assumed, number: int, known: RuleChances | None, signs: Signs, bar: int, *, here: bool
) -> Iterator[Content]:
    planned = signs.point if number == found.planned else " "
    head = (f"{number:>4} {planned}  ", "bold $lamp" if here else "$lamp" if number == found.planned else "$chalk")
    if known is None:
        yield Content.assemble(head, (f"{'':<{bar}}      ...", "$thread"))
        return
    apart, alike = known.apart, known.alike
    right, error = apart.share(apart.right)
    filled = round(right * bar)
    yield Content.assemble(
        head,
        (signs.line * filled, "$moss"),
        (" " * (bar - filled), ""),
        (f"{f'{100 * right:.0f} ({100 * error:.1f})':>11}", "bold $moss"),
        (f"{100 * apart.share(apart.wrong)[0]:>7.1f}", "$clay"),
        (f"{100 * apart.share(apart.alike)[0]:>6.0f}", "$tide"),
        (f"{100 * apart.share(apart.open)[0]:>6.0f}", "$thread"),
        (f"{100 * alike.share(alike.wrong)[0]:>9.1f}", "$clay"),
        (f"{100 * alike.share(alike.alike)[0]:>6.0f}", "$tide"),
        ("" if known.settled else f"  {apart.studies} of {STUDIES} so far", "$thread"),
    )
