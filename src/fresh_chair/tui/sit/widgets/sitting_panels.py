"""The panels of Sit besides the clock: the card, the usability scale, the summary. Pure drawing."""

from collections.abc import Sequence
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.figures.satisfaction import sus_score
from fresh_chair.core.plan.people import Consent
from fresh_chair.core.sitting.entries.ratings import EASE, USABILITY_ITEMS
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.sitting.preconditions import BenchLine
from fresh_chair.services.sitting.questions import NextQuestion
from fresh_chair.services.sitting.timebox import Timebox
from fresh_chair.services.sitting.view import CardLine, SittingView
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour


def card_panel(view: SittingView, signs: Signs, *, width: int = 0) -> Content:
    """The card to read aloud, and where in the sitting it stands.

    Args:
        view: The sitting.
        signs: The glyphs to draw with.
        width: Where there is room, the cells to set the goal in, with air between its lines; 0 where there is none.
    """
    card = view.card
    if card is None:
        return Content("")
    head = Content.assemble(
        (f"card {view.position} of {len(view.lines)}  {signs.dot}  {legible(card.title)}", "$thread"),
        (f"  {signs.dot}  {legible(card.area)}", "$thread"),
    )
    goal = legible(card.goal)
    if width:
        goal = "\n\n".join(wrap(goal, min(width, 76), break_on_hyphens=False))
    parts = [head, Content(""), *([Content("")] if width else []), Content.styled(goal, "bold $chalk")]
    parts += [Content("")] if width else []
    if view.phase is Phase.READING:
        parts += [Content(""), Content.assemble(("before: ", "$thread"), (legible(card.start), "$thread"))]
        if card.fixtures:
            parts.append(
                Content.assemble(("on the bench: ", "$thread"), (legible("; ".join(card.fixtures)), "$thread"))
            )
    elif view.phase is Phase.JUDGING:
        parts += [Content(""), Content.assemble(("done means: ", "$moss"), (legible(card.success), "$chalk"))]
        if card.question:
            parts.append(Content.assemble(("ask: ", "$plum"), (legible(card.question), "$chalk")))
    elif view.phase is Phase.RUNNING:
        parts += [Content(""), *_while_it_runs(view, signs)]
    return Content("\n").join(parts)


def _while_it_runs(view: SittingView, signs: Signs) -> list[Content]:
    """Done means, grades and expected route: for the moderator's eyes, beside the clock."""
    card = view.card
    if card is None:
        return []
    parts = [Content.assemble(("done means: ", "$moss"), (legible(card.success), "$thread"))]
    if card.partly:
        parts.append(
            Content.assemble(("on the way: ", "$lamp"), (legible(f" {signs.dot} ".join(card.partly)), "$thread"))
        )
    route = card.routes.get(view.chair.letter, ())
    if route:
        parts.append(Content.assemble(("route: ", "$tide"), (legible(" > ".join(route)), "$thread")))
    return parts


def bench_panel(lines: Sequence[BenchLine], signs: Signs) -> list[Content]:
    """The preconditions before the first card; none of them prevents it."""
    parts = [Content.styled("at the bench", "$thread")]
    for line in lines:
        sign, colour = (signs.states["ready"], "$moss") if line.done else (signs.states["open"], "$lamp")
        parts.append(
            Content.assemble((f"{sign} ", colour), (legible(line.words), "$thread" if line.done else "$chalk"))
        )
    return parts


def ease_panel(view: SittingView, signs: Signs) -> Content:
    """The question that is asked after an attempt."""
    return Content("\n").join(
        [
            card_panel(view, signs),
            Content(""),
            Content.styled(EASE, "bold $plum"),
            Content.styled("1 is very difficult, 7 is very easy.", "$thread"),
            Content(""),
            *_witnesses(view),
        ]
    )


def question_panel(ask: NextQuestion) -> Content:
    """A question of the study's own, whole, with its possible answers."""
    low, high = ask.ends
    ends = f"1 is {legible(low)}, {ask.answers[-1][0]} is {legible(high)}." if low and high and ask.answers else ""
    listed = [] if ask.ends != ("", "") else [(key, words) for key, words in ask.answers if words]
    return Content("\n").join(
        [
            Content.styled(legible(ask.words), "bold $plum"),
            *([Content.styled(ends, "$thread")] if ends else []),
            *(Content.assemble((f"{key}  ", "bold $lamp"), legible(words)) for key, words in listed),
        ]
    )


def _witnesses(view: SittingView) -> list[Content]:
    """The three witnesses of the attempt, side by side."""
    if view.witnesses is None:
        return []
    said, judged, shown = view.witnesses
    return [
        Content.assemble(
            ("the person said ", "$thread"), (f"{said}   ", "$plum"),
            ("you judged ", "$thread"), (f"{judged}   ", "$chalk"),
            ("the chair ", "$thread"), (shown, "$tide"),
        )
    ]  # fmt: skip


def greeting_panel(greeting: str, consents: Sequence[Consent]) -> list[Content]:
    """The greeting before the first card, and the open consents."""
    said = [Content.styled(legible(line), "bold $chalk") for line in greeting.split("\n") if line]
    agreed = [
        Content.assemble(
            ("do you agree ", "$plum"),
            (f"{legible(consent.words)}{'' if consent.needed else ' (as you like)'}?", "$chalk"),
        )
        for consent in consents
    ]
    return [Content.styled("say first", "$thread"), Content(""), *said, *agreed]


def left_panel(view: SittingView, signs: Signs) -> Content:
    """All cards have begun; the attempts left running are waited for."""
    parts = [Content.styled("No card is left but what runs on.", "$thread"), Content("")]
    for line in view.left:
        state = "ready" if line.ready else "runs on"
        parts.append(Content.assemble((f"{signs.here} ", "$tide"), (legible(line.title), "bold $chalk"), f"  {state}"))
    return Content("\n").join(parts)


def cards_strip(
    view: SittingView, signs: Signs, *, left: str = "", promised: Timebox | None = None, beside: str = ""
) -> Content:
    """The cards of the sitting as path ticks: done, in hand, to come; below them attempts left running and times."""
    parts: list[tuple[str, str]] = [("cards ", "$thread")]
    running = {line.title for line in view.left}
    for line in view.lines:
        if line.in_hand and line.outcome is None:
            parts.append((f"{signs.here}", "$lamp"))
        elif line.card.title in running:
            parts.append((signs.lanes[Lane.WAIT], "$tide"))
        elif line.outcome is not None:
            parts.append((signs.outcomes[line.outcome], OUTCOME_COLOUR[line.outcome]))
        else:
            parts.append(("-" if line.passed else signs.none, "$thread"))
        parts.append((" ", ""))
    if promised is not None:
        parts += _promised(promised, signs)
    if view.words_waiting:
        parts.append((f"   words to come: {view.words_waiting}", "$clay"))
    first = Content.assemble(*parts)
    second = Content(f"  {signs.dot}  ").join(
        [
            *([Content.styled(left, "$tide")] if left else []),
            *([Content.styled(legible(beside), "$thread")] if beside else []),
        ]
    )
    return Content("\n").join([first, second]) if second else first


def _promised(box: Timebox, signs: Signs) -> list[tuple[str, str]]:
    left = f"{box.left:.0f} min left" if box.left >= 0 else f"{-box.left:.0f} min past the promised end"
    if box.fits:
        return [(f"   {left}, {box.needed:.0f} needed", "$thread")]
    shown = ", ".join(legible(title) for title in box.drop[:2]) + (" ..." if len(box.drop) > 2 else "")
    advice = f"; to end in time leave out {shown}" if box.drop else ""
    return [(f"   {left}, {box.needed:.0f} needed{advice}", "$clay")]


def usability_panel(view: SittingView, item: int, *, width: int) -> Content:
    """The ten statements with the answers so far, the present one bold."""
    parts = [
        Content.styled("System Usability Scale: read each statement aloud", "$thread"),
        Content.styled("1 strongly disagree ... 5 strongly agree", "$thread"),
        Content(""),
    ]
    for number, words in enumerate(USABILITY_ITEMS, start=1):
        answered = number in view.usability
        score = view.usability.get(number)
        shown = "·" if not answered else "-" if score is None else str(score)
        style = "bold $chalk" if number == item else "$thread"
        hanging = f"\n{'':7}".join(wrap(words, max(min(width, 96) - 8, 30)))
        parts.append(Content.assemble((f"{number:>2}  ", "$thread"), (f"{shown}  ", "bold $lamp"), (hanging, style)))
    return Content("\n").join(parts)


# Hands, wait, ease and snags.
_SUMMED = 7 + 7 + 6 + 7
_PASSED = "passed over"


def summary_panel(view: SittingView, signs: Signs, *, width: int) -> Content:
    """How a sitting went, card by card, within a width in cells."""
    ended = max(len(line.outcome.words if line.outcome else _PASSED) for line in view.lines) + 2 if view.lines else 8
    named = max(min(28, width - 2 - ended - _SUMMED), 8)
    state = {
        Phase.ENDED: ("run", "$moss"),
        Phase.BROKEN_OFF: (f"broken off: {legible(view.broken_reason)}", "$clay"),
        Phase.CLOSING: ("all cards done; Enter ends the sitting", "$lamp"),
        Phase.EMPTY: ("planned; nobody has sat here yet", "$thread"),
    }.get(view.phase, ("still open", "$lamp"))
    parts = [
        Content.assemble(
            (f"sitting {view.seat.number}  ", "$thread"),
            (f"{legible(view.seat.participant)} at ", "bold $chalk"),
            (legible(view.chair.title), f"bold {chair_colour(view.chair)}"),
        ),
        Content.styled(state[0], state[1]),
        Content(""),
        Content.styled(
            f"{'':2}{'card':<{named}}{'ended':<{ended}}{'hands':>7}{'wait':>7}{'ease':>6}{'snags':>7}", "$thread"
        ),
    ]
    parts += [_summed(line, signs, named, ended) for line in view.lines]
    parts.append(Content(""))
    if view.answers is not None:
        usability = sus_score(view.answers)
        score = "no score" if usability.score is None else f"{usability.score:.1f} of 100"
        note = f" ({usability.note})" if usability.note else ""
        parts.append(
            Content.assemble(("System Usability Scale  ", "$thread"), (score, "bold $chalk"), (note, "$thread"))
        )
    if view.words_waiting:
        parts.append(
            Content.styled(
                f"{count_of(view.words_waiting, 'mark still waits', 'marks still wait')} for words (e).", "$clay"
            )
        )
    return Content("\n").join(parts)


def _summed(line: CardLine, signs: Signs, named: int, ended: int) -> Content:
    """A row of the summary: a card, and how it ended, in columns so wide."""
    sign, colour, words = signs.none, "$thread", _PASSED if line.passed else ""
    if line.outcome is not None:
        sign, colour, words = signs.outcomes[line.outcome], OUTCOME_COLOUR[line.outcome], line.outcome.words
    ease = "" if line.ease is None else str(line.ease)
    return Content.assemble(
        (f"{sign} ", colour),
        (f"{clipped(legible(line.card.title), named - 1):<{named}}", "$chalk"),
        (f"{words:<{ended}}", colour),
        (f"{line.hands:>7}{line.wait:>7}", "$chalk"),
        (f"{ease:>6}{line.snags or '':>7}", "$chalk"),
    )
