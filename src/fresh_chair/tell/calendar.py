"""The timetable as iCalendar (RFC 5545): one event a sitting, people by their codes."""

from collections.abc import Sequence
from datetime import datetime

from fresh_chair.core.figures.duration import Slot
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import legible


def calendar_of(study: Study, slots: Sequence[Slot], *, made: datetime) -> bytes:
    """The timetable; times are local ones, without a zone, as they stand on the sheet.

    Args:
        study: The plan.
        slots: When each sitting is held.
        made: The moment the calendar is made, for its stamp.
    """
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Fresh Chair//timetable//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", legible(study.title))
    cards = study.card_by_id
    for slot in slots:
        chair = study.chair_by_letter[slot.seat.chair]
        role = study.person_by_code[slot.seat.participant].role
        who = slot.seat.participant if role == "participant" else f"{slot.seat.participant} ({role})"
        event = Event()
        event.add("uid", f"{study.id}-{slot.seat.number}@fresh-chair")
        event.add("dtstamp", made)
        event.add("dtstart", slot.begins)
        event.add("dtend", slot.ends)
        event.add("summary", legible(f"Sitting {slot.seat.number}: {who} at {chair.letter} {chair.title}"))
        if study.sheet.timetable.place:
            event.add("location", legible(study.sheet.timetable.place))
        titles = [f"{index}. {legible(cards[name].title)}" for index, name in enumerate(slot.seat.cards, start=1)]
        event.add("description", "\n".join(titles))
        calendar.add_component(event)
    data: bytes = calendar.to_ical()
    return data
