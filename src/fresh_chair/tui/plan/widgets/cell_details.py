"""The details of the sitting in hand on the board."""

from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.plan.board import CellView
from fresh_chair.tui.plan.widgets.seating_board import ordinal
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, Signs, chair_colour


class CellDetails(Static):
    """Draws who sits where, how far it has come, and the cards with their outcomes."""

    def __init__(self, signs: Signs) -> None:
        super().__init__(id="about", markup=False)
        self._signs = signs

    def show(self, view: CellView) -> None:
        """Draw the details of one sitting."""
        self.update(Content("\n").join([*self._heading_of(view), *self._cards_of(view)]))

    def _heading_of(self, view: CellView) -> list[Content]:
        person, chair = view.person, view.chair
        parts = [
            Content.assemble(
                (legible(person.code), "bold $chalk"),
                ("" if person.counts else f"  {person.role}, not counted", "$lamp"),
                "  at  ",
                (f"{chair.letter} {legible(chair.title)}", f"bold {chair_colour(chair)}"),
            ),
            Content.styled(legible(person.profile), "$plum"),
            Content.styled(f"sitting {view.seat.number}, their {ordinal(view.seat.position)}", "$thread"),
        ]
        if view.earlier:
            numbers = " and ".join(map(str, view.earlier))
            parts.append(Content.styled(f"once more, after sitting {numbers}", "$lamp"))
        parts.append(_state_line(view.phase, view.broken_reason, legible(view.station)))
        if view.lacks_consents:
            parts.append(Content.styled("They have not agreed yet (p).", "$lamp"))
        return parts

    def _cards_of(self, view: CellView) -> list[Content]:
        parts = [Content(""), Content.styled("cards, in the order of this sitting", "$thread")]
        for line in view.lines:
            if line.outcome is None:
                sign, colour = ("-" if line.passed else self._signs.none), "$thread"
            else:
                sign, colour = self._signs.outcomes[line.outcome], OUTCOME_COLOUR[line.outcome]
            parts.append(
                Content.assemble(
                    (f"{sign} ", colour),
                    (clipped(legible(line.title), 28).ljust(29), "$chalk"),
                    (f"{line.hands:>7}", "$lamp"),
                )
            )
        return parts


def _state_line(phase: Phase | None, reason: str, station: str) -> Content:
    if phase is None:
        return Content.styled("Its journal is being read.", "$thread")
    if phase is Phase.EMPTY and station:
        return Content.styled(f"Kept for {station}.", "$lamp")
    if phase is Phase.EMPTY:
        return Content.styled("Nobody has sat here yet. Enter seats.", "$chalk")
    if phase is Phase.ENDED:
        return Content.styled("Run. Enter looks back at it.", "$moss")
    if phase is Phase.BROKEN_OFF:
        return Content.styled(f"Broken off: {legible(reason)}", "$clay")
    if station:
        return Content.styled(f"It goes on at {station}.", "$lamp")
    return Content.styled("Still open. Enter goes on.", "$lamp")
