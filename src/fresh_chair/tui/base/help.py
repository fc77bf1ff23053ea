"""The keys of the place one is in, in words."""

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import VerticalScroll
from textual.content import Content
from textual.screen import ModalScreen
from textual.widgets import Static

from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR

_ABOUT = {
    "plan": "People down, chairs across; each cell is one sitting, with one sign a task once it was run.",
    "set": "One chair at a time: who it says it is, what it promised against what was found, whether it is fresh. "
    "Reading it installs nothing there and leaves nothing behind.",
    "sit": "Read the card aloud, start the clock, mark what happens. A mark is on disk before you see it; its moment "
    "is that of the key, the words may follow. What you take back stays in the journal, struck.",
    "sort": "Loose snags at the left, findings at the right. Take up what belongs together, put it into a finding.",
    "weigh": "One task at a time across chairs. Every rate has its count and interval; the sentences say what may be "
    "said.",
    "tell": "What will be said, and where it goes: report, figures, open data.",
}


_COUNTED = {
    "plan": "sittings to run",
    "set": "claims nobody has looked at",
    "sit": "marks whose words are to come",
    "sort": "snags in no finding",
    "weigh": "cells in which nobody was counted",
}


def _listed(keys: dict[str, list[str]]) -> list[Content]:
    return [
        Content.assemble((f"{'' if index else key:>9}  ", "bold $lamp"), (word, "$chalk"))
        for key, words in keys.items()
        for index, word in enumerate(words)
    ]


class Help(ModalScreen[None]):
    """Keys and signs, at the right, so that a running clock stays in sight."""

    CSS_PATH = "help.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("escape,enter,question_mark,q", "dismiss", "close", id="help.close", tooltip="Back to the place")
    ]

    def __init__(self, place: Place) -> None:
        super().__init__()
        self._place = place

    def compose(self) -> ComposeResult:
        """All in one column."""
        with VerticalScroll(id="help"):
            yield Static(self._words(), markup=False)

    def _words(self) -> Content:
        place = self._place
        parts = [
            Content.styled(place.heading.capitalize(), "bold $lamp"),
            Content(place.about or _ABOUT[place.place]),
            Content(""),
        ]
        now, later = self._keys(now=True), self._keys(now=False)
        parts = [Content.styled("what can be done now", "bold $lamp"), *_listed(now), Content(""), *parts]
        parts += [Content.styled("at other times", "$thread"), *_listed(later)] if later else []
        parts += [Content(""), Content.styled("the numbers beside the places", "$thread")]
        parts += [Content(f"{name.capitalize():>9}  {words}") for name, words in _COUNTED.items()]
        parts += [Content(""), Content.styled("how an attempt can end", "$thread")]
        signs = place.signs
        for outcome in Outcome:
            parts.append(Content.assemble((f"{signs.outcomes[outcome]:>9}  ", OUTCOME_COLOUR[outcome]), outcome.words))
        parts += [
            Content(""),
            Content.styled("severity, 0 to 4", "$thread"),
            Content(f"{'':>9}  " + "  ".join(signs.severities)),
        ]
        parts += [Content(""), Content.styled("Esc closes.", "$thread")]
        return Content("\n").join(parts)

    def _keys(self, *, now: bool) -> dict[str, list[str]]:
        """The meaning of each key at this very moment, or at others; in the order of the keys' places."""
        found: dict[str, list[str]] = {}
        everywhere = [binding for binding in Place.BINDINGS if isinstance(binding, Binding)]
        for binding in [*self._place.own_keys(), *everywhere]:
            if self._place.works(binding) is not now:
                continue
            own = self._place.session.keys.get(binding.id or "")
            shown = own or binding.key_display or binding.key.replace("question_mark", "?").replace(",", " ")
            words = found.setdefault(shown, [])
            if binding.tooltip not in words:
                words.append(binding.tooltip)
        return found
