"""Contradictions: things of the record that do not go together, each answered as changed or as standing."""

from contextlib import suppress
from typing import Any, ClassVar, Literal

from textual import on, work
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.message import Message
from textual.widgets import OptionList, Static
from textual.worker import get_current_worker

from fresh_chair.core.figures.overall.estimates import Turning
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.evidence.targets import target_words
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.judgement.contradictions import Contradiction, contradictions
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.services.system.child import Stopped
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks

_SORT = 34


class TurningKnown(Message):
    """Whether the main answer turns."""

    def __init__(self, turning: Turning) -> None:
        super().__init__()
        self.turning = turning


class ContradictionsSheet(ListSheet):
    """One line a contradiction; those without an answer first."""

    place = "weigh"
    sheet_name = "contradictions"
    title_words = "contradictions"
    about = (
        "Verdicts against thresholds and findings, scores without evidence, claims kept by hearsay, winners across "
        "unlike conditions, answers that turn. Each is answered: something was changed, or it stands, because."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("s", "answer('stands')", "stands because", id="doubts.stands", tooltip="It stands, and why"),
        Binding("c", "answer('changed')", "changed", id="doubts.changed", tooltip="Something was changed for it"),
    ]

    def __init__(self, session: Session, argument: Any = None) -> None:
        super().__init__(session)
        self.weighing = argument
        self._turning: Turning | None = None
        self._found: list[Contradiction] = []

    def action_back(self) -> None:
        """Go back to the answer."""
        self.action_go("weigh")

    def arrived(self) -> None:
        """Show all of them; whether the answer turns comes from the first page, or is worked out beside."""
        super().arrived()
        self._work_out(self.session.opened.snapshot(), apart=self.session.in_hand is not None)

    @work(thread=True, exclusive=True, description="work out")
    def _work_out(self, study: StudySnapshot, *, apart: bool) -> None:
        worker = get_current_worker()
        with suppress(Stopped):
            found = turning(study, self.weighing, apart=apart, stopped=lambda: worker.is_cancelled)
            self.post_message(TurningKnown(found))

    @on(TurningKnown)
    def _turns(self, message: TurningKnown) -> None:
        self._turning = message.turning
        self.draw()

    @property
    def _here(self) -> Contradiction | None:
        at, found = self.at, self._found
        return found[at] if at is not None and at < len(found) else None

    def draw(self) -> None:
        """Show all of them."""
        self._found = found = contradictions(self.session.opened, self.weighing, self._turning)
        width = max(self.pile.size.width - 2, 40)
        self.refill([_line(each, width) for each in found], [each.key for each in found])
        waiting = sum(each.answer is None for each in found)
        self.head(self.title_words, f"{count_of(len(found), 'of them', 'of them')}, {waiting} without an answer")
        nothing = "Nothing in the record contradicts itself."
        if self._turning is None:
            nothing = "Whether the answer turns is still being worked out ..."
        said = "" if found and self._turning is not None else nothing
        self.query_one("#note", Static).update(Content.styled(said, "$thread"))
        self._draw_beside()
        self.refresh_bindings()

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        each = self._here
        parts = []
        if each is not None:
            parts += [Content.styled(each.sort, "bold $chalk"), Content(legible(each.words)), Content("")]
            if each.about:
                parts.append(Content.styled(legible(target_words(self.session.opened, each.about)), "$thread"))
            if each.answer is not None:
                parts.append(Content.styled(f"{each.answer.answer}: {legible(each.answer.because)}", "$moss"))
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    @asks
    async def action_answer(self, answer: Literal["changed", "stands"]) -> None:
        """Answer the contradiction in hand, with why."""
        each = self._here
        if each is None:
            return
        before = each.answer.id if each.answer is not None else ""

        def put(text: str) -> bool:
            given = {"about": each.key, "answer": answer, "because": text.strip()}
            done = self.attempt(lambda: put_evidence(self.session.opened, "answer", given, record_id=before))
            if done:
                self.draw()
                # On to the next one: those without an answer stand first.
                self.pile.highlighted = 0
            return done

        await self.ask_until("it stands because:" if answer == "stands" else "what was changed?", put)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """An answer needs a contradiction."""
        if self.is_mounted and action == "answer" and self._here is None:
            return False
        return super().check_action(action, parameters)


def _line(each: Contradiction, width: int) -> Content:
    state = "?" if each.answer is None else each.answer.answer
    rest = clipped(legible(each.words), max(width - _SORT - 9, 10))
    return Content.assemble(
        (f"{state:<8} ", "bold $clay" if each.answer is None else "$moss"),
        (clipped(each.sort, _SORT - 1).ljust(_SORT), "$thread"),
        (rest, "$chalk"),
    )
