"""The base of a finding's page: the page as it is drawn, and the line in hand."""

from collections.abc import Callable

from fresh_chair.core.findings.state.finding import Finding
from fresh_chair.services.findings.page import FindingPage, PageLine, PageSection
from fresh_chair.tui.base.sheet import DrawnSheet
from fresh_chair.tui.base.sort_in_hand import SortInHand


class PageBase(DrawnSheet):
    """The page of one finding.

    Attributes:
        finding: The finding's id.
        page: The page as it was drawn last.
    """

    hand: SortInHand
    finding: str
    page: FindingPage
    _column = "left"

    @property
    def in_hand(self) -> tuple[PageSection, PageLine] | None:
        """The line in hand, and its section."""
        raise NotImplementedError

    @property
    def of(self) -> Finding:
        """The finding."""
        return self.session.opened.findings.finding(self.finding)

    def show_part(self, part: str) -> None:
        """Take the line of a part in hand, in its column."""
        raise NotImplementedError

    def open_moment(self) -> None:
        """Open the observation in hand at its very moment."""
        raise NotImplementedError

    def change(self, act: Callable[[], object]) -> bool:
        """Do something that can be refused, and show the page as it is then; False where it was refused."""
        done = self.attempt(act)
        if done:
            self.draw()
        return done
