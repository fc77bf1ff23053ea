"""Everything that can be done or opened from where one is, found by typing."""

from collections.abc import Callable, Iterator
from functools import partial

from textual.binding import Binding
from textual.command import DiscoveryHit, Hit, Hits, Provider

from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import legible
from fresh_chair.tui.base.frame import PLACES, Go
from fresh_chair.tui.base.place import Place

# Sheets that need nothing in hand to be opened, in words, each with the key that opens it from its place.
_SHEETS = {
    "study": ("the study sheet", "1 s"),
    "tasks": ("the tasks", "1 t"),
    "library": ("the library of task cards", "1 t l"),
    "orders": ("orders of chairs and cards", "1 o"),
    "hunches": ("hunches", "1 h"),
    "bench": ("the bench: fixtures", "1 b"),
    "many": ("how many people", "1 m"),
    "time": ("how long it takes", "1 l"),
    "paper": ("what is printed", "1 w"),
    "check": ("check the study file", "1 k"),
}


@frozen
class Findable:
    """One thing that can be found.

    Attributes:
        words: What is matched and shown.
        key: The key that does the same, beside it.
    """

    words: str
    key: str
    act: Callable[[], object]


class Everything(Provider):
    """Actions that work now, places, sheets, cards, people, chairs, findings and sittings of the open study."""

    async def discover(self) -> Hits:
        """Everything that works here, before the first letter."""
        for each in self._actions():
            yield DiscoveryHit(each.words, each.act, help=each.key)

    async def search(self, query: str) -> Hits:
        """The hits for the words, the best first; scattered letters only where nothing has the words as typed."""
        matcher = self.matcher(query)
        typed = query.casefold().split()
        found = list(self._everything())
        whole = [each for each in found if all(word in each.words.casefold() for word in typed)]
        for each in whole or found:
            score = matcher.match(each.words)
            if score > 0:
                yield Hit(score, matcher.highlight(each.words), each.act, help=each.key)

    def _everything(self) -> Iterator[Findable]:
        yield from self._actions()
        yield from self._of_the_study()

    def _actions(self) -> Iterator[Findable]:
        place = self.screen
        if not isinstance(place, Place):
            return
        for binding in place.own_keys():
            if isinstance(binding, Binding) and place.works(binding) and binding.tooltip:
                act = partial(place.run_action, binding.action)
                yield Findable(f"{binding.description}: {binding.tooltip}", place.key_of(binding), act)

    def _of_the_study(self) -> Iterator[Findable]:
        place = self.screen
        if not isinstance(place, Place):
            return
        session, study = place.session, place.session.opened.study
        for number, name in enumerate(PLACES, start=1):
            yield Findable(f"go to {name.capitalize()}", str(number), partial(place.post_message, Go(name)))
        for sheet, (words, key) in _SHEETS.items():
            yield Findable(words, key, partial(place.open_sheet, sheet))
        for card in study.cards:
            yield Findable(f"task: {legible(card.title)}", "1 t", partial(self._open, place, "task", card.id, "tasks"))
        for person in study.people:
            cell = (person.code, session.cell[1])
            yield Findable(f"person: {person.code}", "1 p", partial(self._open, place, "cell", cell, "person"))
        for chair in study.chairs:
            cell = (session.cell[0], chair.letter)
            words = f"chair {chair.letter}: {legible(chair.title)}"
            yield Findable(words, "1 c", partial(self._open, place, "cell", cell, "chair"))
        for finding in session.opened.findings.by_id.values():
            yield Findable(f"finding: {legible(finding.title)}", "4", partial(place.post_message, Go("sort")))
        for seat in study.seats:
            if seat.number in session.opened.begun:
                words = f"sitting {seat.number}: {seat.participant} at {seat.chair}"
                yield Findable(words, "3", partial(self._look_at, place, seat.number))

    def _open(self, place: Place, name: str, value: object, sheet: str) -> None:
        setattr(place.session, name, value)
        place.open_sheet(sheet)

    def _look_at(self, place: Place, number: int) -> None:
        if place.session.in_hand is None:
            place.session.looking_at = number
        place.post_message(Go("sit", anew=True))
