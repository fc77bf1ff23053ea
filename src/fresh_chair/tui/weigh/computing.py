"""The figures behind Weigh, computed beside the keys; acts that need them wait for them."""

from textual import on, work
from textual.message import Message
from textual.worker import get_current_worker

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.figures.overall.estimates import Turning
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.judgement.first_page import ChairAnswer, first_page
from fresh_chair.services.study.snapshot import StudySnapshot
from fresh_chair.services.system.child import Stopped
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.waiting import WaitingPlace
from fresh_chair.tui.widgets.dialogue import Prompt, asks


class Weighed(Message):
    """The figures are there, and the first page's answers for each chair."""

    def __init__(self, weighing: Weighing, answers: tuple[ChairAnswer, ...]) -> None:
        super().__init__()
        self.weighing, self.answers = weighing, answers


class Turned(Message):
    """Whether the answer would turn is known."""

    def __init__(self, weighing: Weighing, turning: Turning) -> None:
        super().__init__()
        self.weighing, self.turning = weighing, turning


class Failed(Message):
    """They could not be computed."""

    def __init__(self, problem: FreshChairError) -> None:
        super().__init__()
        self.problem = problem


class ComputingPlace(WaitingPlace):
    """The figures in hand, and how they are taken; a place draws them."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.weighing: Weighing | None = None
        self.answers: tuple[ChairAnswer, ...] = ()
        self.turning: Turning | None = None
        self._computing = False
        self._own = False
        self._times: TimeMeasure | None = None
        self._interval: RateInterval | None = None

    def draw(self) -> None:
        """Show the figures in hand."""
        raise NotImplementedError

    def computed(self, weighing: Weighing) -> None:
        """Take new figures in, before they are shown."""
        raise NotImplementedError

    def compute(self) -> None:
        """Compute beside the keys; the figures before stand meanwhile."""
        self._computing = True
        self._compute(self.session.opened.snapshot(), apart=self.session.in_hand is not None)

    @work(thread=True, exclusive=True, exit_on_error=True, description="compute")
    def _compute(self, study: StudySnapshot, *, apart: bool) -> None:
        worker = get_current_worker()
        try:
            found = weigh(
                study,
                own=self._own,
                times=self._times,
                interval=self._interval,
                apart=apart,
                stopped=lambda: worker.is_cancelled,
            )
            self.post_message(Weighed(found, first_page(study, found)))
            turned = turning(study, found, apart=apart, stopped=lambda: worker.is_cancelled)
            self.post_message(Turned(found, turned))
        except Stopped:
            pass
        except FreshChairError as problem:
            self.post_message(Failed(problem))

    @on(Weighed)
    def _weighed(self, message: Weighed) -> None:
        self.weighing, self.answers = message.weighing, message.answers
        self.turning, self._computing = None, False
        self.computed(message.weighing)
        self.draw()
        self.refresh_bindings()
        if self.waits:
            self.clear_notice()
        self.answer_waiting(True)

    @on(Turned)
    def _turned(self, message: Turned) -> None:
        if message.weighing is self.weighing:
            self.turning = message.turning
            self.draw()

    @on(Failed)
    def _failed(self, message: Failed) -> None:
        self._computing = False
        self.refresh_bindings()
        self.fail_waiting()
        self.tell_problem(message.problem)

    @property
    def working(self) -> bool:
        """Whether the first figures are being computed."""
        return self._computing and self.weighing is None

    def _once_computed(self) -> Prompt[bool]:
        return self.once_there("as soon as the figures are there ... (Esc: not)")

    def action_own(self) -> None:
        """Count only the reviewer's own evidence, or everything again."""
        self._own = not self._own
        self.arrived()

    @asks
    async def action_times(self) -> None:
        """Take all figures of times from the other time."""
        if await self._once_computed() and self.weighing is not None:
            self._times = "elapsed" if self.weighing.choice.times == "hands" else "hands"
            self.arrived()

    @asks
    async def action_interval(self) -> None:
        """Take the other interval of completion rates."""
        if await self._once_computed() and self.weighing is not None:
            exact = self.weighing.choice.interval == "Clopper-Pearson"
            self._interval = "adjusted Wald" if exact else "Clopper-Pearson"
            self.arrived()

    @asks
    async def action_sheet(self, name: str) -> None:
        """Open a sheet with these figures."""
        if await self._once_computed() and self.weighing is not None:
            self.open_sheet(name, self.weighing)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Sheets and choices need the figures, or that they are on their way."""
        if action in ("sheet", "times", "interval") and self.weighing is None:
            return self._computing
        return super().check_action(action, parameters)
