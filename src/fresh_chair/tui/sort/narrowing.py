"""Narrowing the observations: by typing, by kind, chair, card, person, evidence, or to those that look alike."""

from dataclasses import replace

from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.filters import ObservationFilter, filter_choices
from fresh_chair.tui.base.parts import ScreenPart
from fresh_chair.tui.base.sort_in_hand import Pile
from fresh_chair.tui.sort.base import SortBase
from fresh_chair.tui.widgets.dialogue import asks


class Narrowing(ScreenPart[SortBase]):
    """Which observations are shown at the left."""

    _searching = False

    def may(self, act: str, *arguments: object) -> bool:
        """Looking into a finding needs one; those alike need words they look like."""
        sort = self.screen
        if act == "inside":
            return sort.hand.pile == "findings" and sort.finding_in_hand is not None
        if act == "alike":
            return bool(self._words())
        return True

    def pile(self, which: Pile) -> None:
        """Give the keys to one of the lists."""
        self.screen.list_of(which).focus()

    @asks
    async def search(self) -> None:
        """Narrow the observations while typing; nothing typed shows all again."""
        sort = self.screen
        before = sort.hand.filter
        self._searching = True
        if not await sort.ask_until("words in it", self._narrowed, value=before.text):
            sort.hand.filter = before
            sort.draw_observations()
        self._searching = False

    def typed(self, text: str) -> None:
        """Follow the words that are typed so far."""
        if self._searching and self.screen.asking:
            self._narrowed(text)

    def _narrowed(self, text: str) -> bool:
        self.screen.hand.filter = replace(self.screen.hand.filter, text=text.strip())
        self.screen.draw_observations()
        return True

    @asks
    async def narrow(self) -> None:
        """Choose a field of the filter, then its value."""
        sort = self.screen
        study, hand = sort.session.opened.study, sort.hand
        choices = filter_choices(study, sort.found.observations)
        fields = ["unsorted or all", *choices, "all off"]
        at = await sort.ask_one_of("show by", fields)
        if at is None:
            return
        if at == 0:
            hand.filter = replace(hand.filter, unsorted=not hand.filter.unsorted)
        elif at == len(fields) - 1:
            hand.filter = ObservationFilter()
        else:
            field = fields[at]
            titles = {card.id: card.title for card in study.cards}
            shown = [legible(clipped(titles.get(value, value), 24)) or "any" for value in choices[field]]
            which = await sort.ask_one_of(field, shown)
            if which is None:
                return
            hand.filter = hand.filter.by(field, choices[field][which])
        hand.inside = hand.alike = ""
        hand.kept.clear()
        sort.draw_observations()
        sort.refresh_bindings()

    def alike(self) -> None:
        """Show those at the left that look like the line in hand; nothing is joined by itself."""
        sort, words = self.screen, self._words()
        if words:
            sort.hand.inside, sort.hand.alike = "", words
            sort.draw_observations()
            self.pile("observations")
            sort.tell("Those that look alike, the closest first. Space takes up, Esc goes back to all of them.")

    def _words(self) -> str:
        sort = self.screen
        view, each = sort.finding_in_hand, sort.observation_in_hand
        if sort.hand.pile == "findings":
            return "" if view is None else view.title
        return "" if each is None else each.words

    def inside(self) -> None:
        """Show the observations of the finding in hand at the left."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is not None:
            sort.hand.inside, sort.hand.alike = view.id, ""
            sort.hand.taken.clear()
            sort.draw_observations()
            self.pile("observations")
            sort.tell("The observations of this finding. x takes one out, s splits, Esc goes back to the loose ones.")

    def back(self) -> None:
        """Show all loose observations again; a second time, nothing is taken up any more."""
        sort, hand = self.screen, self.screen.hand
        narrowed = bool(hand.inside or hand.alike or hand.merging)
        hand.inside = hand.alike = hand.merging = ""
        hand.kept.clear()
        if not narrowed:
            hand.taken.clear()
        sort.clear_notice()
        sort.draw()
        self.pile("observations")
