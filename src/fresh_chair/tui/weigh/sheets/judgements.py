"""The base of Weigh's sheets of judgement records: put down, changed, dropped, tied like all evidence."""

from typing import Any, ClassVar

from textual.binding import BindingType

from fresh_chair.tui.base.session import Session
from fresh_chair.tui.evidence.records import EvidenceSheet


class JudgementSheet(EvidenceSheet):
    """Records of judgement; Esc goes back to the answer."""

    place = "weigh"
    BINDINGS: ClassVar[list[BindingType]] = []

    def __init__(self, session: Session, argument: Any = None) -> None:
        super().__init__(session)
        self.weighing = argument
        self.kind = self.kinds[0]

    def action_back(self) -> None:
        """Go back to the answer."""
        self.action_go("weigh")

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Releases, courses and seals are of other evidence."""
        if action in ("sheet", "seal") or (action == "kind" and len(self.kinds) < 2):
            return False
        return super().check_action(action, parameters)
