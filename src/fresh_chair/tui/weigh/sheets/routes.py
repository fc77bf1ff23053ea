"""Routes: the first choice, the ways between places with how many went each, where people gave up, and lostness."""

from collections.abc import Iterator, Sequence

from textual.content import Content

from fresh_chair.core.figures.course.routes import RouteEdge, RouteFigures
from fresh_chair.core.figures.estimate import interval_words, rate_words
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.weigh.sheets.base import WeighSheet
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR, chair_colour

_PLACE, _BAR = 26, 12


class RoutesSheet(WeighSheet):
    """The ways people went, task by task and chair by chair."""

    sheet_name = "routes"
    title_words = "routes"
    about = (
        "From the places that were logged while people sat (o in a sitting). A line is a way from one place to the "
        "next, with how many attempts took it; lostness is 0 for the straight way (Smith 1996)."
    )

    def about_words(self) -> str:
        """How many ways there are."""
        gone = [route for route in self.weighing.routes if route.edges]
        return f"{len(gone)} of them logged" if gone else "none was logged"

    def lines(self, width: int) -> Sequence[Content]:
        """Each task on each chair with its graph."""
        if not self.weighing.routes:
            return [Content.styled("No place was logged. In a sitting, o says where somebody is.", "$thread")]
        titles = {card.id: card.title for card in self.weighing.study.cards}
        parts: list[Content] = []
        before = None
        for route in self.weighing.routes:
            if not route.edges:
                continue
            if route.card != before:
                before = route.card
                parts += [Content(""), Content.styled(legible(titles[route.card]), "bold $chalk")]
            parts += self._route(route, width)
        return parts

    def _route(self, route: RouteFigures, width: int) -> Iterator[Content]:
        chair = self.weighing.study.chair_by_letter[route.chair]
        first = (
            f"first choice right: {rate_words(route.first_right)}" if route.first_right.n else "first choice unknown"
        )
        lost = route.lostness
        said = "no route expected"
        if lost.value is not None:
            spread = "" if lost.low is None else f" ({interval_words(max(lost.low, 0.0), lost.high, '.2f')})"
            said = f"lostness {lost.value:.2f}{spread}, n {lost.n}"
        yield Content.assemble(
            (f"{chair.letter} {legible(chair.title)}  ", f"bold {chair_colour(chair)}"),
            (f"{first}; {said}", "$thread"),
        )
        expected = " > ".join(map(legible, route.expected))
        if expected:
            yield Content.styled(f"    expected: {clipped(expected, max(width - 16, 20))}", "$thread")
        most = max(edge.attempts for edge in route.edges)
        for edge in _in_order(route.edges):
            yield self._edge(edge, most)

    def _edge(self, edge: RouteEdge, most: int) -> Content:
        origin = legible(edge.origin) or "begins"
        bar = self.signs.line * max(round(edge.attempts / most * _BAR), 1)
        if edge.end is None:
            target = (clipped(legible(edge.target), _PLACE), "$chalk")
        else:
            target = (f"{self.signs.outcomes[edge.end]} {edge.end.words}", OUTCOME_COLOUR[edge.end])
        return Content.assemble(
            (f"    {clipped(origin, _PLACE):>{_PLACE}} ", "$chalk" if edge.origin else "$thread"),
            (f"{bar:<{_BAR}}", "$tide"),
            (f"{edge.attempts:>3} ", "$lamp"),
            target,
        )


def _in_order(edges: Sequence[RouteEdge]) -> list[RouteEdge]:
    """From the beginning on, each place's ways together, the commonest first."""
    found: list[RouteEdge] = []
    places, seen = [""], {""}
    while places:
        place = places.pop(0)
        for edge in (each for each in edges if each.origin == place):
            found.append(edge)
            if edge.end is None and edge.target not in seen:
                seen.add(edge.target)
                places.append(edge.target)
    return found
