"""Files that show a mark or a step of a walk: attached, and shown again at the moment that is meant."""

from collections.abc import Callable

from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.attachments import attach, attachments_of
from fresh_chair.services.walk.walks import WalkView, walk_marks
from fresh_chair.tui.base.attaching import attach_file, show_file
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.dialogue import asks


class Files(SitPart):
    """Keys about attached files.

    Args:
        sit: The walking screen.
        view: Says how the walk stands.
    """

    def __init__(self, sit: SitBase, view: Callable[[], WalkView | None]) -> None:
        super().__init__(sit)
        self._view = view

    def may(self, act: str, *arguments: object) -> bool:
        """A file belongs to a mark or a step; one that is attached can be shown."""
        live = self.live
        if live is None:
            return False
        if act == "show":
            return bool(live.state.attachments)
        return bool(live.state.remarks) or (live.state.walk is not None and bool(live.state.walk.steps))

    def _about(self) -> tuple[str, str] | None:
        """The mark or step a file is attached to: the last mark of the step in hand, or that step; in words too."""
        view = self._view()
        if view is None:
            return None
        step = view.step
        marks = walk_marks(self.sit.session.opened, view.number)
        of_step = [mark for mark in marks if step is None or mark.step == step.number]
        if of_step:
            mark = of_step[-1]
            return mark.entry, f"{mark.kind} at {mark.at}"
        last = step or (view.steps[-1] if view.steps else None)
        return None if last is None else (last.entry, legible(clipped(last.title, 32)))

    @asks
    async def attach(self) -> None:
        """Attach a picture, a file, or a stretch of a clip to the last mark, or to the step in hand."""
        about, now, live = self._about(), self.sit.now(), self.live
        if about is None or live is None:
            return
        entry, words = about

        def put(found: Attachment) -> None:
            # The walk at another chair may be in hand by now; the file belongs where the key was pressed.
            attach(live, entry, found, now)
            self.sit.draw()

        await attach_file(self.sit, words, put)

    @asks
    async def show(self) -> None:
        """Show an attached file in the system's viewer, a clip at its moment."""
        live = self.live
        if live is not None:
            found = reversed(attachments_of(live.opened, live.seat.number))
            await show_file(self.sit, [(each.words, each.attachment) for each in found])
