"""The stage of Sit: the card to read, a question, the words before the first card, or a sitting summed up."""

from textual.content import Content

from fresh_chair.core.figures.duration import CardTime
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.preconditions import BenchLine, bench_lines, unasked_consents
from fresh_chair.services.sitting.questions import next_ask
from fresh_chair.services.sitting.timebox import Timebox, in_minutes, likely_times, timebox
from fresh_chair.services.sitting.view import SittingView
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.sit.widgets.sitting_panels import (
    bench_panel,
    card_panel,
    ease_panel,
    greeting_panel,
    left_panel,
    question_panel,
    summary_panel,
    usability_panel,
)
from fresh_chair.tui.widgets.signs import chair_colour


class Stage(SitPart):
    """Draws the panel above the clock."""

    def __init__(self, sit: SitBase) -> None:
        super().__init__(sit)
        self._likely: tuple[int, dict[tuple[str, str], CardTime]] | None = None

    def content(self, view: SittingView | None) -> Content:
        """The card, or the question in its stead."""
        return self._nobody() if view is None else self._card(view)

    @property
    def next_seat(self) -> Seat | None:
        """The next seat, where the chair is free and a person can be seated."""
        opened = self.sit.session.opened
        if self.live is not None or self.sit.session.looking_at is not None or not opened.writable:
            return None
        return min(opened.to_run(), key=lambda seat: seat.number, default=None)

    def _nobody(self) -> Content:
        """The next person, at which chair, with which cards."""
        seat, study = self.next_seat, self.sit.session.opened.study
        if seat is None:
            return Content.styled(
                "Nobody is sitting, and nobody is next: Plan (1) is where people are invited.", "$chalk"
            )
        chair = study.chair_by_letter[seat.chair]
        titles = [legible(study.card_by_id[card].title) for card in seat.cards]
        return Content("\n").join(
            [
                Content.styled("Nobody is sitting.", "$thread"),
                Content(""),
                Content.assemble(
                    ("next ", "$thread"),
                    (seat.participant, "bold $lamp"),
                    (" at ", "$thread"),
                    (f"{chair.letter} {legible(chair.title)}", f"bold {chair_colour(chair)}"),
                    (f", sitting {seat.number}, with {count_of(len(titles), 'card')}", "$thread"),
                ),
                Content(""),
                *(Content.styled(f"  {index}  {title}", "$chalk") for index, title in enumerate(titles, start=1)),
                Content(""),
                Content.assemble(("Enter", "bold $lamp"), (" seats them.", "$thread")),
            ]
        )

    def _card(self, view: SittingView) -> Content:
        if view.phase is Phase.EASE:
            return ease_panel(view, self.sit.signs)
        if view.phase is Phase.USABILITY:
            return usability_panel(view, self._item(view), width=self.sit.query_one("#card").size.width)
        if self.before:
            return self._before(view)
        ask = next_ask(self.live) if self.live is not None and not self.sit.session.opened.observes else None
        if ask is not None and ask.part != "before":
            below = [Content(""), self._summed(view)] if view.phase is Phase.CLOSING else []
            return Content("\n").join([question_panel(self.sit.following or ask), *below])
        if view.card is not None and self.live is not None:
            airy = self.sit.size.height >= 34 and view.phase is not Phase.JUDGING
            card = card_panel(view, self.sit.signs, width=self.sit.query_one("#card").size.width if airy else 0)
            first = not self.live.state.attempts and not view.lines[0].passed
            if view.phase is Phase.READING and first and view.seat.number not in self.sit.session.greeted:
                return Content("\n").join([card, Content(""), *self._bench(view)])
            return card
        if view.phase is Phase.LEFT_RUNNING and self.live is not None:
            return left_panel(view, self.sit.signs)
        return self._summed(view)

    def _summed(self, view: SittingView) -> Content:
        return summary_panel(view, self.sit.signs, width=self.sit.query_one("#card").size.width or 76)

    @property
    def before(self) -> bool:
        """True while the words before the first card are to be read."""
        live, opened = self.live, self.sit.session.opened
        if live is None or opened.observes or live.seat.number in self.sit.session.greeted:
            return False
        state = live.state
        if state.phase is not Phase.READING or state.attempts or state.passed or state.recording is not None:
            return False
        return bool(opened.study.sheet.greeting or unasked_consents(opened.study, live.seat))

    def _before(self, view: SittingView) -> Content:
        study = self.sit.session.opened.study
        greeting = greeting_panel(study.sheet.greeting, unasked_consents(study, view.seat))
        return Content("\n").join([*greeting, Content(""), *self._bench(view)])

    def _bench(self, view: SittingView) -> list[Content]:
        live = self.live
        found = next((e.content for e in (live.entries if live else ()) if isinstance(e.content, j.ChairFound)), None)
        lines = bench_lines(self.sit.session.opened, view.seat, found or j.ChairFound("not checked"))
        promised = self.promised(live) if live is not None else None
        if promised is not None:
            sheet = self.sit.session.opened.study.sheet
            likely = count_of(round(promised.needed), "minute")
            words = f"likely {likely} from here; {sheet.minutes_per_sitting} were promised"
            lines.append(BenchLine(words, promised.fits))
        return bench_panel(lines, self.sit.signs)

    def promised(self, live: LiveSitting) -> Timebox | None:
        """The minutes needed and left, against those that were promised; None where none were."""
        if self._likely is None or self._likely[0] != live.seat.number:
            self._likely = (live.seat.number, likely_times(live))
        return in_minutes(timebox(live, self._likely[1], self.sit.now()))

    def _item(self, view: SittingView) -> int:
        """The first statement of the usability scale that has no answer."""
        return next((item for item in range(1, 11) if item not in view.usability), 10)
