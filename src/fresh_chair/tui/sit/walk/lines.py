"""Lines typed in a hurry, and their kinds afterwards, in a row."""

from collections.abc import Callable

from fresh_chair.core.clock import clock_text
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.walks.walk import MEANINGS
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.walk.walks import WalkView
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks

# The keys that make such marks at once.
_MEANING_KEYS = dict(zip("sdnqyk", MEANINGS, strict=True))


class Lines(SitPart):
    """Keys about words whose kind comes later.

    Args:
        sit: The walking screen.
        view: Says how the walk stands.
    """

    def __init__(self, sit: SitBase, view: Callable[[], WalkView | None]) -> None:
        super().__init__(sit)
        self._view = view

    def may(self, act: str, *arguments: object) -> bool:
        """Kinds are told of lines."""
        view = self._view()
        return view is not None and (act != "meant" or bool(view.untold))

    @asks
    async def line(self) -> None:
        """Keep a line; its moment is that of the key."""
        now, live = self.sit.now(), self.live
        at_ns = live.state.time_at(now) if live is not None else 0

        def put(words: str) -> bool:
            if not words.strip():
                return True
            return self.sit.record(lambda sitting: sitting.log(j.LineTyped(words.strip()), now))

        await self.sit.ask_until(f"at {clock_text(at_ns)}", put)

    @asks
    async def meant(self) -> None:
        """Say of each line, the oldest first, which kind it is."""
        colours = {"snag": "$clay", "delight": "$moss", "quote": "$plum", "warning": "$clay"}
        choices = [Choice(key, kind, colours.get(kind, "$chalk")) for key, kind in _MEANING_KEYS.items()]
        while (view := self._view()) is not None and view.untold:
            line = view.untold[0]
            more = f", {len(view.untold) - 1} more" if len(view.untold) > 1 else ""
            key = await self.sit.ask_choice(f"“{legible(clipped(line.words, 60))}”{more}:", choices)
            if key is None:
                return
            meant = j.LineMeant(line.entry, _MEANING_KEYS[key])
            if not self.sit.record(lambda sitting, meant=meant: sitting.log(meant, self.sit.now())):  # type: ignore[misc]
                return
