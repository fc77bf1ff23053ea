"""How long: minutes a sitting, those that do not fit, cards to drop, and the timetable."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList, Static

from fresh_chair.core.figures.duration import SeatTime
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.plan import schedule as timing
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.system.files import typed_path
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sheet import ListSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour


class HowLong(ListSheet):
    """Every sitting to come as a bar of minutes against the promised ones."""

    sheet_name = "time"
    title_words = "how long"
    about = (
        "From as quick as the expert to all limits used up; likely in between. With sittings run, the data replace the "
        "guess. What is too long is dropped by priority, the longest first."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("m", "minutes", "minutes", id="time.minutes", tooltip="How long a sitting may take"),
        Binding("d", "drop", "drop cards", id="time.drop", tooltip="Drop the cards that do not fit"),
        Binding("c", "calendar", "calendar", id="time.calendar", tooltip="The timetable as iCalendar"),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._timing = timing.timing(session.opened)

    def draw(self) -> None:
        """Show the bars."""
        found = self._timing = timing.timing(self.session.opened)
        measured = f", {len(found.measured)} run took {self._spread()} min" if found.measured else ""
        self.head("How long each sitting takes", f"{found.minutes} min planned; {len(found.seats)} to come{measured}")
        self.refill([self._bar(each) for each in found.seats], [str(each.seat.number) for each in found.seats])
        note = [Content.styled(sentence, "$lamp") for sentence in found.remarks]
        if found.to_drop:
            titles = self.session.opened.study.card_by_id
            listed = ", ".join(f"“{legible(titles[name].title)}” ({count})" for name, count in found.to_drop.items())
            note.append(Content.styled(f"{len(found.over)} are likely to overrun. To fit, d drops {listed}.", "$lamp"))
        elif found.seats:
            note.append(Content.styled("All of them are likely to fit.", "$moss"))
        else:
            note.append(Content("No sitting is to come."))
        self.query_one("#note", Static).update(Content("\n").join(note))
        self._draw_sitting()
        self.follow()
        self.refresh_bindings()

    def _spread(self) -> str:
        minutes = sorted(self._timing.measured.values())
        return f"{minutes[0]:.0f} to {minutes[-1]:.0f}" if minutes else ""

    def _bar(self, each: SeatTime) -> Content:
        study, planned = self.session.opened.study, self._timing.minutes
        chair = study.chair_by_letter[each.seat.chair]
        room = max(self.pile.size.width - 34, 16)
        most = max(planned * 1.25, max((seat.high for seat in self._timing.seats), default=1))
        scale = (room - 1) / most
        cells = [" "] * room
        for at in range(round(each.low * scale), min(round(each.high * scale) + 1, room)):
            cells[at] = self.signs.line
        cells[min(round(planned * scale), room - 1)] = self.signs.limit
        likely = min(round(each.likely * scale), room - 1)
        over = each.over(planned)
        left, right = "".join(cells[:likely]), "".join(cells[likely + 1 :])
        return Content.assemble(
            (f"{each.seat.number:>3} ", "$thread"),
            (clipped(each.seat.participant, 8).ljust(9), "$chalk"),
            (each.seat.chair, chair_colour(chair)),
            (f"{each.likely:>5.0f} min ", "$clay" if over else "$chalk"),
            (left, "$thread"),
            (self.signs.point, "$clay" if over else "$lamp"),
            (right, "$thread"),
        )

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_sitting(self) -> None:
        at = self.at
        found, study = self._timing, self.session.opened.study
        if at is None or at >= len(found.seats):
            self.query_one("#beside", Static).update("")
            return
        each = found.seats[at]
        slot = next((slot for slot in found.slots if slot.seat.number == each.seat.number), None)
        parts = [
            Content.styled(f"sitting {each.seat.number}: {each.seat.participant} at {each.seat.chair}", "bold $chalk"),
            Content(f"{each.low:.0f} to {each.high:.0f} min, likely {each.likely:.0f}"),
            Content(f"held {slot.begins:%a %d %b %Y, %H:%M}" if slot else "not in the timetable"),
            Content(""),
            Content.styled("minutes a card, with reading and rating", "$thread"),
        ]
        for name in each.seat.cards:
            card, time = study.card_by_id[name], found.cards[name, each.seat.chair]
            source = f"n {time.attempts}" if time.attempts else "guess"
            parts.append(
                Content.assemble(
                    (clipped(legible(card.title), 24).ljust(25), "$thread" if name in each.drop else "$chalk"),
                    (f"{time.likely / 60:>5.1f}", "$lamp"),
                    (f"  {source}", "$thread"),
                    ("  drop" if name in each.drop else "", "$clay"),
                )
            )
        self.query_one("#beside", Static).update(Content("\n").join(parts))

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """There is nothing to drop where everything fits."""
        if action == "drop" and self.is_mounted and not self._timing.to_drop:
            return False
        return super().check_action(action, parameters)

    @asks
    async def action_minutes(self) -> None:
        """Ask how long a sitting may take."""

        def put(text: str) -> bool:
            done = self.attempt(lambda: set_field(self.session.opened, "sheet.minutes_per_sitting", text))
            if done:
                self.draw()
            return done

        await self.ask_until("minutes a sitting:", put, value=str(self._timing.minutes))

    @asks
    async def action_drop(self) -> None:
        """Drop the cards that do not fit."""
        cards = list(self._timing.to_drop)
        sure = await self.ask_sure(f"drop {count_of(len(cards), 'card')} from every sitting to come?", "yes, drop them")
        if sure and self.attempt(lambda: timing.drop_cards(self.session.opened, cards)):
            self.draw()
            self.tell(f"{len(cards)} dropped from all sittings to come; the tasks (t) bring them back.")

    @asks
    async def action_calendar(self) -> None:
        """Ask where the timetable goes."""

        def put(text: str) -> bool:
            done = self.attempt(lambda: timing.write_timetable(self.session.opened, typed_path(text)))
            if done:
                self.tell(f"{count_of(len(self._timing.slots), 'sitting')} in {legible(text.strip())}.")
            return done

        await self.ask_until("the timetable goes to", put, value="timetable.ics")
