"""The study file looked through from end to end, beside the screen."""

from textual import on, work
from textual.content import Content
from textual.message import Message

from fresh_chair.core.text import count_of, legible
from fresh_chair.services.file.file_check import FileCheck, check_open
from fresh_chair.services.file.study_check import check_study
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.tui.base.sheet import ListSheet


class Checked(Message):
    """The file was looked through."""

    def __init__(self, checks: list[FileCheck]) -> None:
        super().__init__()
        self.checks = checks


class CheckSheet(ListSheet):
    """The result of a check of the whole file."""

    sheet_name = "check"
    title_words = "the file, checked"
    about = "The file from end to end, as fresh-chair check does it: what is wrong, and what somebody should look at."

    def arrived(self) -> None:
        """Look through the file beside the screen."""
        self.head("the file, checked", "looking through it ...")
        self._check(self.session.opened.snapshot())

    @work(thread=True, exclusive=True, group="check", description="check")
    def _check(self, snapshot: StudySnapshot) -> None:
        self.post_message(Checked([*check_open(self.session.opened.store), *check_study(snapshot)]))

    @on(Checked)
    def _show(self, message: Checked) -> None:
        lines = []
        for check in message.checks:
            lines.append(Content.assemble((f"{check.what:<22} ", "$thread"), (legible(check.found), "$chalk")))
            lines += [Content.styled(f"{' ':<23}{legible(each)}", "$clay") for each in check.problems]
            lines += [Content.styled(f"{' ':<23}{legible(each)}", "$lamp") for each in check.remarks]
        wrong = sum(len(check.problems) for check in message.checks)
        looks = sum(len(check.remarks) for check in message.checks)
        said = count_of(wrong, "problem") if wrong else "nothing is wrong with it"
        self.head("the file, checked", f"{said}{f', {looks} to look at' if looks else ''}")
        self.refill(lines)

    def draw(self) -> None:
        """Draw the result, which stays as it was found."""
