"""What is printed and what goes into a calendar."""

from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from icalendar import Calendar
from pypdf import PdfReader

from fresh_chair.core.errors import InputError, OutsideError
from fresh_chair.core.sitting.entries.ratings import EASE, EXPECTATION, PREFERENCE, USABILITY_ITEMS
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.plan.schedule import timing, write_timetable
from fresh_chair.services.report.printing import PARTS, print_plan
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.tell.paper.document import PRINTED
from tests.builders import small_study
from tests.tell.pdf_fonts import unembedded


def pages(path: Path) -> list[str]:
    """The text of every page, white space folded."""
    return [" ".join(page.extract_text().split()) for page in PdfReader(path).pages]


def test_a_card_a_page_says_the_goal_and_nothing_that_gives_it_away(demo: OpenStudy, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", ["cards"])
    printed = pages(tmp_path / "p.pdf")
    assert len(printed) == len(demo.study.cards)
    for number, (text, card) in enumerate(zip(printed, demo.study.cards, strict=True), start=1):
        assert text == f"{card.goal} card {number}" or text == f"card {number} {card.goal}"


def test_four_cards_stand_on_a_page(demo: OpenStudy, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", ["cards-4"])
    printed = pages(tmp_path / "p.pdf")
    assert len(printed) == 2
    assert all(card.goal in printed[index // 4] for index, card in enumerate(demo.study.cards))


def test_running_sheets_have_the_cards_in_the_order_of_their_sitting(demo: OpenStudy, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", ["running"], sittings=[24])
    text = " ".join(pages(tmp_path / "p.pdf"))
    seat = demo.study.seat(24)
    titles = [demo.study.card_by_id[name].title for name in seat.cards]
    places = [text.index(f"{index}. {title}") for index, title in enumerate(titles, start=1)]
    assert places == sorted(places)
    assert f"Sitting 24: {seat.participant} at {seat.chair}" in text
    for said in ("done means:", "put back:", "altered: display set to 1280x800", "standing fault:", "ease"):
        assert said in text


def test_all_sittings_to_come_get_a_running_sheet_and_none_that_was_run(demo: OpenStudy, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", ["running"])
    text = " ".join(pages(tmp_path / "p.pdf"))
    for seat in demo.study.seats:
        assert (f"Sitting {seat.number}:" in text) == (demo.phase(seat.number) is Phase.EMPTY)


def test_the_consent_form_says_who_pays_and_what_is_agreed_to(demo: OpenStudy, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", ["consent"])
    (text,) = pages(tmp_path / "p.pdf")
    for said in (demo.study.sheet.paid_by, "stop at any time", "45 minutes", "signature"):
        assert said in text
    assert all(consent.words in text for consent in demo.study.sheet.consents)


def test_the_list_for_the_bench_has_every_fixture(demo: OpenStudy, tmp_path: Path) -> None:
    print_plan(demo, tmp_path / "p.pdf", ["fixtures"])
    text = " ".join(pages(tmp_path / "p.pdf"))
    assert all(fixture in text for card in demo.study.cards for fixture in card.fixtures)


@pytest.mark.parametrize(("paper", "size"), [("a4", (595, 842)), ("letter", (612, 792))])
def test_the_whole_is_one_pdf_of_that_paper_with_bookmarks_and_the_same_bytes_again(
    demo: OpenStudy, tmp_path: Path, paper: str, size: tuple[int, int]
) -> None:
    for name in ("a.pdf", "b.pdf"):
        print_plan(demo, tmp_path / name, list(PARTS), paper="letter" if paper == "letter" else "a4")
    assert (tmp_path / "a.pdf").read_bytes() == (tmp_path / "b.pdf").read_bytes()
    reader = PdfReader(tmp_path / "a.pdf")
    for page in reader.pages:
        assert (round(page.mediabox.width), round(page.mediabox.height)) == size
    titles = [str(item["/Title"]) for item in reader.outline if isinstance(item, dict)]
    assert titles == [PRINTED[part] for part in PARTS]
    assert unembedded(reader) == set()


def test_markup_and_escape_sequences_in_a_plan_are_printed_as_text(tmp_path: Path) -> None:
    hostile = "<b>bold</b> &amp; \x1b[31m <para>"
    study = small_study(cards=1)
    cards = (replace(study.cards[0], goal=hostile, title=hostile, fixtures=(hostile,)),)
    create_study(tmp_path / "h.fresh", replace(study, title=hostile, cards=cards))
    opened = open_study(tmp_path / "h.fresh")
    print_plan(opened, tmp_path / "p.pdf", list(PARTS))
    opened.close()
    text = " ".join(pages(tmp_path / "p.pdf"))
    assert "<b>bold</b> &amp;" in text
    assert "\x1b" not in text


def test_a_goal_of_a_thousand_letters_still_fits_its_page(opened: OpenStudy, tmp_path: Path) -> None:
    set_field(opened, "card.card-1.goal", "Please do something rather long. " * 30)
    print_plan(opened, tmp_path / "p.pdf", ["cards", "cards-4"])
    assert len(pages(tmp_path / "p.pdf")) == 3


def test_an_empty_plan_is_printed_too(tmp_path: Path) -> None:
    create_study(tmp_path / "e.fresh", small_study(people=0, chairs=0, cards=0))
    opened = open_study(tmp_path / "e.fresh")
    print_plan(opened, tmp_path / "p.pdf", list(PARTS))
    text = " ".join(pages(tmp_path / "p.pdf"))
    opened.close()
    for said in ("There is no card yet", "No sitting is to come", "No card asks for anything"):
        assert said in text


def test_what_cannot_be_printed_is_said_and_nothing_is_written(demo: OpenStudy, tmp_path: Path) -> None:
    for parts, paper in ((["posters"], "a4"), ([], "a4"), (["cards"], "a0")):
        with pytest.raises(InputError):
            print_plan(demo, tmp_path / "p.pdf", parts, paper=paper)  # type: ignore[arg-type]
    with pytest.raises(InputError, match="No sitting 99"):
        print_plan(demo, tmp_path / "p.pdf", ["running"], sittings=[99])
    assert list(tmp_path.glob("*.pdf")) == []
    (tmp_path / "file").write_text("x")
    with pytest.raises(OutsideError, match="cannot be written"):
        print_plan(demo, tmp_path / "file" / "p.pdf", ["cards"])


def test_the_timetable_is_a_calendar_with_codes_and_no_people(demo: OpenStudy, tmp_path: Path) -> None:
    write_timetable(demo, tmp_path / "t.ics")
    calendar = Calendar.from_ical((tmp_path / "t.ics").read_bytes())
    events = list(calendar.walk("VEVENT"))
    slots = timing(demo).slots
    assert [event.decoded("dtstart") for event in events] == [slot.begins for slot in slots]
    assert len({str(event["uid"]) for event in events}) == len(events) == 6
    assert str(events[0]["summary"]).startswith("Sitting 22: P04 at A")
    assert str(events[0]["location"]).startswith("Tern Harbour tool library")
    text = (tmp_path / "t.ics").read_text(encoding="utf-8")
    assert not any(person.profile and person.profile in text for person in demo.study.people)
    assert all(event.decoded("dtstart") > datetime(2026, 11, 9) for event in events)


def test_a_study_without_days_has_no_timetable(demo: OpenStudy, tmp_path: Path) -> None:
    set_field(demo, "timetable.days", "")
    with pytest.raises(InputError, match="nothing to put into a timetable"):
        write_timetable(demo, tmp_path / "t.ics")


def test_rating_forms_have_every_scale_and_nothing_of_the_study_or_of_a_card(demo: OpenStudy, tmp_path: Path) -> None:
    sheet = replace(demo.study.sheet, ask_expectation=True)
    demo.amend(replace(demo.study, sheet=sheet))
    print_plan(demo, tmp_path / "p.pdf", ["ratings"], sittings=[24])
    text = " ".join(pages(tmp_path / "p.pdf"))
    seat = demo.study.seat(24)
    numbers = [list(demo.study.card_by_id).index(name) + 1 for name in seat.cards]
    places = [text.index(f"card {number} ") for number in numbers]
    assert places == sorted(places)
    assert text.count(EASE) == text.count(EXPECTATION) == len(seat.cards)
    assert all(statement in text for statement in USABILITY_ITEMS)
    assert all(question.ask in text for question in demo.study.sheet.questions)
    assert all(choice in text for question in demo.study.sheet.questions for choice in question.choices)
    assert PREFERENCE in text
    chair = demo.study.chair_by_letter[seat.chair]
    for secret in (demo.study.title, chair.title, *(card.title for card in demo.study.cards)):
        assert secret not in text
