"""Sides of a mark besides its kind, a mind that changed, and how a thing is known."""

from collections.abc import Callable

from fresh_chair.core.evidence.kinds import KINDS, SIDES
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.typed_marks import TypedMark, read_typed
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.walks import SIDE_WORDS
from fresh_chair.services.walk.walks import MarkLine, WalkView, walk_marks
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks

_LATER_KEYS = {"s": ("snag", "$clay"), "d": ("delight", "$moss"), "n": ("note", "$chalk")}


class Opinions(SitPart):
    """Keys about opinions and how they are known.

    Args:
        sit: The walking screen.
        view: Says how the walk stands.
    """

    def __init__(self, sit: SitBase, view: Callable[[], WalkView | None]) -> None:
        super().__init__(sit)
        self._view = view

    def may(self, act: str, *arguments: object) -> bool:
        """There is a mark to speak of; how it is known can be said of the step in hand, too."""
        view, live = self._view(), self.live
        marked = live is not None and bool(live.state.remarks)
        return view is not None and (marked or (act == "known" and view.step is not None))

    def _marks(self) -> list[MarkLine]:
        """The marks with words, the newest first."""
        view = self._view()
        found = walk_marks(self.sit.session.opened, view.number) if view is not None else ()
        return [mark for mark in reversed(found) if mark.words]

    async def _which(self, prompt: str, marks: list[MarkLine]) -> MarkLine | None:
        """Ask for one of some marks, the newest first; the only one is not asked about."""
        if len(marks) < 2:
            return marks[0] if marks else None
        shown = [f"{mark.kind} {legible(clipped(mark.words, 24))}" for mark in marks]
        at = await self.sit.ask_one_of(prompt, shown)
        return None if at is None else marks[at]

    @asks
    async def known(self) -> None:
        """Say how the last mark is known, or the step in hand where no mark came after its beginning."""
        view = self._view()
        if view is None:
            return
        step = view.step
        found = walk_marks(self.sit.session.opened, view.number)
        marks = [mark for mark in found if step is None or mark.step == step.number]
        if marks:
            entry, what = marks[-1].entry, f"{marks[-1].kind} at {marks[-1].at}"
        elif step is not None:
            entry, what = step.entry, legible(clipped(step.title, 40))
        else:
            return
        at = await self.sit.ask_one_of(f"{what} is", KINDS)
        if at is not None:
            told = j.EvidenceTold(entry, KINDS[at])
            self.sit.record(lambda sitting: sitting.log(told, self.sit.now()))

    @asks
    async def side(self) -> None:
        """Say of the last mark that it is praise and blame at once, or taste, habit, intent."""
        marks = self._marks()
        if not marks:
            return
        mark = marks[0]
        words = [SIDE_WORDS.get(side, "none of these") for side in SIDES]
        at = await self.sit.ask_one_of(f"{mark.kind} “{legible(clipped(mark.words, 32))}” is", words)
        if at is not None:
            told = j.SideTold(mark.entry, SIDES[at])
            self.sit.record(lambda sitting: sitting.log(told, self.sit.now()))

    @asks
    async def revise(self) -> None:
        """Put a later opinion beside an earlier one; both stay."""
        now = self.sit.now()
        mark = await self._which("which opinion has changed?", [mark for mark in self._marks() if not mark.revised])
        if mark is None:
            return
        choices = [Choice(key, kind, colour) for key, (kind, colour) in _LATER_KEYS.items()]
        key = await self.sit.ask_choice(f"“{legible(clipped(mark.words, 40))}” is now a", choices)
        if key is None:
            return
        kind = _LATER_KEYS[key][0]

        def thought(words: str) -> bool:
            typed = read_typed(words.strip()) if kind == "snag" else TypedMark(words.strip())
            later = j.OpinionRevised(mark.entry, kind, typed.words)  # type: ignore[arg-type]
            made: list[j.Entry] = []
            done = self.sit.record(lambda sitting: made.append(sitting.log(later, now)))
            if done and typed.severity is not None:
                rated = j.SnagRated(made[0].id, typed.severity)
                self.sit.record(lambda sitting: sitting.log(rated, now))
            return done

        await self.sit.ask_until("because, in words", thought)
