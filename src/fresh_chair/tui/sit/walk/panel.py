"""Drawing a walk: the step in hand with its clock and list, the open ones, the ended ones, cards not looked at."""

from textual.content import Content

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.sitting.state.walk import MEASURED
from fresh_chair.core.sitting.walked import StepLine
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.core.words.walks import list_words, turn_words
from fresh_chair.services.walk.walks import WalkView
from fresh_chair.tui.sit.widgets.big_digits import big_digits, digits_width
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs

_ITEM_COLOURS = {"works": "$moss", "with trouble": "$lamp", "fails": "$clay", "not there": "$clay"}


def step_panel(view: WalkView, width: int) -> Content:
    """The step in hand; where none is, the way to one."""
    step = view.step
    if step is None:
        rows = [
            Content.styled("Nothing is in hand." if view.phase.open else "The walk is over.", "$thread"),
            Content(""),
        ]
        if view.phase.open:
            rows.append(
                Content.assemble(
                    ("Enter", "bold $lamp"),
                    (" opens a step: a card by its title, or anything in your words.", "$chalk"),
                )
            )
        rows += [Content.styled(f"  {legible(words)}", "$lamp") for words in view.before if not view.steps]
        if view.before and not view.steps:
            rows.insert(-len(view.before), Content.styled("The part before left:", "$thread"))
        return Content("\n").join(rows)
    kind = "" if step.card else "   in passing"
    known = "" if step.evidence == "done" else f"   {step.evidence}"
    rows = [
        Content.assemble(
            (f"{step.number}  ", "$thread"),
            (clipped(legible(step.title), max(width - 24, 20)), "bold $chalk"),
            (f"{kind}{known}", "$thread"),
        )
    ]
    if step.turn:
        rows.append(Content.styled(clipped(legible(turn_words(view.turns[step.turn - 1])), width), "$tide"))
    if step.items:
        rows += [Content(""), Content("  ").join([_item(name, result) for name, result in _results(step)])]
    return Content("\n").join(rows)


def _results(step: StepLine) -> list[tuple[str, str | None]]:
    return [(item.name, item.result) for item in step.items]


def _item(name: str, result: str | None) -> Content:
    colour = _ITEM_COLOURS.get(result or "", "$thread")
    return Content.assemble((legible(clipped(name, 24)), colour), (f" {result}" if result else " ...", "$thread"))


def clock_panel(step: StepLine | None, signs: Signs, width: int) -> Content:
    """The clock of the step in hand in large digits: in hand, and the machine without it; empty without a step."""
    if step is None:
        return Content("")
    hands = clock_text(round(step.hands_seconds * SECOND))
    machine = clock_text(round(step.machine_seconds * SECOND))
    wide = width >= digits_width(hands, wide=True) + digits_width(machine, wide=False) + 6
    left = big_digits(hands, "$lamp", pixel=signs.pixel, wide=wide)
    right = big_digits(machine, "$thread", pixel=signs.pixel, wide=False)
    gap = " " * 5
    rows = [Content.assemble(one, gap, other) for one, other in zip(left, right, strict=True)]
    first = digits_width(hands, wide=wide) + len(gap)
    trust = "" if step.trust in MEASURED else f"   {step.trust}"
    names = Content.assemble(
        (f"{signs.here}in hand".ljust(first), "bold $lamp"), ("machine alone", "$thread"), (trust, "$clay")
    )
    return Content("\n").join([*rows, names])


def steps_panel(view: WalkView, signs: Signs, width: int, rows: int) -> Content:
    """The open steps, the ended ones with how, and the cards that were not looked at; as many as fit."""
    parts: list[Content] = []
    for step in reversed(view.open_steps):
        running = "   the machine works on" if step.running else ""
        known = "" if step.evidence == "done" else f"   {step.evidence}"
        parts.append(
            Content.assemble(
                (f"{signs.hollow} ", "$lamp"),
                (clipped(legible(step.title), max(width - 30, 16)), "$chalk"),
                (f"   open{running}", "$tide" if step.running else "$lamp"),
                (known, "$thread"),
            )
        )
    if view.untold:
        parts.append(
            Content.styled(f"{count_of(len(view.untold), 'line')} without a kind: m goes through them", "$lamp")
        )
    closed = [step for step in view.steps if step.ending is not None]
    room = max(rows - len(parts) - 2, 3)
    parts += [_closed(step, signs, width) for step in closed[-room:]]
    if view.untouched:
        titles = "; ".join(legible(card.title) for card in view.untouched)
        parts.append(Content.styled(clipped(f"not looked at ({len(view.untouched)}): {titles}", width * 2), "$thread"))
    return Content("\n").join(parts)


def _closed(step: StepLine, signs: Signs, width: int) -> Content:
    ending = step.ending
    assert ending is not None
    colour, sign = "$thread", signs.closings.get(ending.value, "")
    if ending.outcome is not None:
        colour, sign = OUTCOME_COLOUR[ending.outcome], signs.outcomes[ending.outcome]
    # What is no time is shown as none; one that was said is shown as about so long.
    time = signs.dash
    if step.timed:
        time = clock_text(round(step.hands_seconds * SECOND))
    elif step.said_seconds is not None:
        time = f"~{clock_text(round(step.said_seconds * SECOND))}"
    said = list_words(step.items) or step.reason
    known = "" if step.evidence == "done" else f" ({step.evidence})"
    tail = f"  {ending.words}{known}{f': {said}' if said else ''}"
    title = clipped(legible(step.title), max(width // 2 - 8, 16))
    return Content.assemble(
        (f"{sign} ", colour),
        (title.ljust(max(width // 2 - 8, 16)), "$chalk"),
        (f" {time:>7}", "$thread"),
        (clipped(legible(tail), max(width - width // 2 - 4, 10)), colour),
    )
