"""Looks from a finding's page: the moment of an observation, its pictures, the page on paper, the next finding."""

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.services.evidence.attachments import show_recording
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.report.finding_paper import paper_path, write_finding_paper
from fresh_chair.services.system.files import typed_path
from fresh_chair.tui.base.attaching import show_file
from fresh_chair.tui.base.parts import ScreenPart
from fresh_chair.tui.sort.page_base import PageBase
from fresh_chair.tui.widgets.dialogue import asks


class PageLooks(ScreenPart[PageBase]):
    """The acts that change nothing."""

    def may(self, act: str, *arguments: object) -> bool:
        """Pictures and recordings need some."""
        if act == "recording":
            return self._recorded() is not None
        return act != "pictures" or bool(self._pictures())

    def _recorded(self) -> tuple[str, float] | None:
        """The recording of the observation in hand, and where in it that is."""
        page, here = self.screen, self.screen.in_hand
        target = "" if here is None else here[1].target
        each = next((o for o in page.page.view.observations if o.target == target), None) if target else None
        sitting = page.session.opened.sittings.get(each.sitting) if each is not None else None
        if each is None or sitting is None or sitting.recording is None:
            return None
        file, offset = sitting.recording
        return file, offset + each.at_ns / SECOND

    def recording(self) -> None:
        """Open the recording of the sitting at the moment of the observation in hand."""
        page, found = self.screen, self._recorded()
        if found is None:
            return
        try:
            page.tell(f"Shown {show_recording(*found, page.session.opened.beside)}.")
        except FreshChairError as problem:
            page.tell_problem(problem)

    def moment(self) -> None:
        """Open the observation in hand at its very moment: the sitting over time, or the chair's sheet."""
        page, here = self.screen, self.screen.in_hand
        if here is None or not here[1].target:
            return
        target = here[1].target
        each = next((o for o in page.page.view.observations if o.target == target), None)
        if each is not None and each.sitting:
            page.hand.came_from = page.finding
            page.open_sheet("look_back", (each.sitting, each.entry))
            return
        sort, name = target_parts(target)
        if sort == "record":
            letter, kind, record = name.split("/", 2)
            page.session.cell = (page.session.cell[0], letter)
            page.hand.came_from = page.finding
            page.open_sheet("record", ("finding", kind, record))

    def _pictures(self) -> list[tuple[str, Attachment]]:
        page, opened = self.screen, self.screen.session.opened
        found = []
        for each in page.page.view.observations if hasattr(page, "page") else ():
            sitting = opened.sittings.get(each.sitting)
            files = sitting.attachments if sitting is not None else ()
            found += [(each.words or each.kind, file.attachment) for file in files if file.about == each.entry]
            if not each.sitting:
                letter, kind, record = target_parts(each.target)[1].split("/", 2)
                held = opened.known_chairs.of(letter).attachments
                found += [(each.words, f.attachment) for f in held if (f.record, f.id) == (kind, record)]
        return found

    @asks
    async def pictures(self) -> None:
        """Show a picture of one of the observations."""
        found = self._pictures()
        if found:
            await show_file(self.screen, found)

    @asks
    async def paper(self) -> None:
        """Write the page as a PDF, where one says."""
        page = self.screen
        proposal = paper_path(page.session.opened, page.finding)

        def written(text: str) -> bool:
            try:
                path = write_finding_paper(page.session.opened, page.finding, typed_path(text))
            except FreshChairError as problem:
                page.tell_problem(problem)
                return False
            page.tell(f"Written: {path}")
            return True

        await page.ask_until("write it to", written, value=str(proposal))

    def neighbour(self, step: int) -> None:
        """Show the finding before or after, in the order of the list."""
        page = self.screen
        names = [view.id for view in sorted_findings_of(page.session.opened).findings]
        at = names.index(page.finding) + step
        if 0 <= at < len(names):
            page.finding = names[at]
            page.clear_notice()
            page.draw()
