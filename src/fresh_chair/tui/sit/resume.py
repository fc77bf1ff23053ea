"""The question, before anything else, about a sitting that was cut short."""

from typing import ClassVar

from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import Vertical
from textual.content import Content
from textual.screen import ModalScreen
from textual.widgets import Static

from fresh_chair.core.clock import clock_text
from fresh_chair.core.sitting.journal import Gap
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.sitting.live import Interruption, LiveSitting


class Resume(ModalScreen[Gap | None]):
    """Asks how the time counts in which nothing was logged; None leaves the sitting for later."""

    CSS_PATH = "resume.tcss"
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("a", "decide('aside')", "make it aside", id="resume.aside", tooltip="The time between is left out"),
        Binding("c", "decide('count')", "count it", id="resume.count", tooltip="The person went on working"),
        Binding("v", "decide('void')", "void the attempt", id="resume.void", tooltip="Nobody can say what happened"),
        Binding("enter", "decide('on')", "go on", id="resume.on", tooltip="Go on with the sitting"),
        Binding("l,escape", "decide('later')", "leave it for later", id="resume.later", tooltip="It stays open"),
    ]

    def __init__(self, live: LiveSitting, interruption: Interruption) -> None:
        super().__init__()
        self._live = live
        self._interruption = interruption

    def compose(self) -> ComposeResult:
        """The question and its answers."""
        with Vertical(id="ask"):
            yield Static(self._words(), markup=False)

    def _words(self) -> Content:
        seat, gap = self._live.seat, self._interruption
        chair = self._live.opened.study.chair_by_letter[seat.chair]
        kept = f"{count_of(len(self._live.entries), 'entry is', 'entries are')} there."
        parts = [
            Content.styled(f"Sitting {seat.number} was cut short", "bold $lamp"),
            Content(f"{legible(seat.participant)} at {legible(chair.title)}. {kept}"),
            Content(""),
        ]
        title = self._in_hand()
        if gap.running and title:
            parts.append(Content(f"The clock of “{legible(title)}” was running."))
            parts.append(Content(f"Nothing was logged for {clock_text(gap.dead_ns)} after the last sign of life."))
            if not gap.same_boot:
                parts.append(
                    Content.styled("The machine was restarted in between: measured by its wall clock.", "$clay")
                )
            answers = [
                ("c", "count it: you went on" if self._walks else "count it: the person went on working"),
                ("a", "make it aside: leave that time out"),
                *([] if self._walks else [("v", "void the attempt: nobody can say what happened")]),
                ("l", "leave it for later"),
            ]
            parts += [Content(""), Content.styled("What is that time?", "$chalk")]
        else:
            answers = [("Enter", "go on with the sitting"), ("l", "leave it for later")]
        parts.append(Content(""))
        parts += [Content.assemble((f"{key:>6} ", "bold $lamp"), words) for key, words in answers]
        return Content("\n").join(parts)

    @property
    def _walks(self) -> bool:
        return self._live.state.walk is not None

    def _in_hand(self) -> str:
        """The title of the step or the card whose clock was running; empty for none."""
        walk, attempt = self._live.state.walk, self._live.attempt
        if walk is not None:
            return "" if walk.step is None else walk.step.title
        return "" if attempt is None else self._live.opened.study.card_by_id[attempt.card].title

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Only the answers that are offered."""
        if action != "decide":
            return True
        if self._interruption.running:
            return parameters[0] != "on" and not (parameters[0] == "void" and self._walks)
        return parameters[0] in ("on", "later")

    def action_decide(self, answer: str) -> None:
        """Hand the answer back."""
        if answer == "later":
            self.dismiss(None)
        else:
            self.dismiss(Gap.COUNT if answer == "on" else Gap(answer))
