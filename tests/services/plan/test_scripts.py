"""The script of a study and the library of cards, on real files."""

from pathlib import Path

import pytest

from fresh_chair.core.errors import FileProblem, InputError, Refused
from fresh_chair.services.plan import scripts
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.plan.library import FOLDER_VARIABLE, found_cards, open_shelf, shipped_cards
from fresh_chair.services.plan.scripts import Draft
from fresh_chair.services.sitting.benchmarks import take_benchmarks
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy
from tests.builders import FakeClock, card


def test_a_script_is_taken_whole_or_not_at_all_and_its_comments_stay(opened: OpenStudy) -> None:
    text = "# ours\n" + scripts.script_text(opened).replace("limit_seconds = 60", "limit_seconds = 90 # longer", 1)
    assert scripts.apply_script(opened, text, name="s.toml") == 2
    assert opened.study.cards[0].limit_seconds == 90
    set_field(opened, "card.card-2.priority", "3")
    shown = scripts.script_text(opened)
    assert "# ours" in shown
    assert "# longer" in shown
    assert "priority = 3" in shown
    before = opened.study
    for broken in (text.replace('id = "card-2"', 'id = "card-1"'), text + "x", text.replace("A = 10", "Z = 10")):
        with pytest.raises(InputError):
            scripts.apply_script(opened, broken, name="s.toml")
    assert opened.study == before


def test_a_card_that_was_run_cannot_leave_the_script_but_can_be_dropped(opened: OpenStudy, clock: FakeClock) -> None:
    LiveSitting(opened, opened.study.seats[0]).begin(clock.now())
    with pytest.raises(Refused, match="Drop it"):
        scripts.remove_card(opened, "card-1")
    set_field(opened, "card.card-1.dropped", "yes")
    assert all(("card-1" in seat.cards) == (seat.number in opened.begun) for seat in opened.study.seats)


def test_cards_are_taken_from_the_library_once_and_without_what_is_not_there(opened: OpenStudy) -> None:
    wanted = next(each for each in shipped_cards() if each.needs)
    scripts.take_card(opened, wanted)
    assert opened.study.card_by_id[wanted.id].needs == ()
    with pytest.raises(InputError, match="in the script already"):
        scripts.take_card(opened, wanted)
    made = scripts.new_card(opened, "A new one", "Please do it.")
    assert (made.id, made.id in opened.study.seats[0].cards) == ("a-new-one", True)
    assert scripts.new_card(opened, "A new one", "Please do it.").id == "a-new-one-2"
    scripts.remove_card(opened, made.id)
    assert made.id not in opened.study.card_by_id


def test_a_remark_is_overruled_with_a_reason_and_stands_again_without_one(opened: OpenStudy) -> None:
    set_field(opened, "card.card-1.goal", "Please change the theme.")

    def standing() -> list[str]:
        return [remark.rule for remark in scripts.remarks_by_card(opened.study)["card-1"] if not remark.overruled]

    assert "jargon" in standing()
    scripts.overrule(opened, "card-1", "jargon", "they are designers")
    assert "jargon" not in standing()
    assert "they are designers" in scripts.script_text(opened)
    scripts.overrule(opened, "card-1", "jargon", " ")
    assert "jargon" in standing()
    for where in (("card-1", "no-rule"), ("ghost", "jargon")):
        with pytest.raises(InputError):
            scripts.overrule(opened, *where, "x")


def test_a_draft_stays_until_its_cards_are_the_studys(opened: OpenStudy) -> None:
    draft = Draft(opened)
    path = draft.begin()
    path.write_text(path.read_text() + "\nbroken", encoding="utf-8")
    with pytest.raises(InputError, match="not valid TOML"):
        draft.take()
    assert Draft(opened).waiting
    assert "broken" in Draft(opened).begin().read_text()
    path.write_text(path.read_text().replace("\nbroken", "# good now\n"), encoding="utf-8")
    assert draft.take() == 2
    assert not draft.waiting
    assert "# good now" in scripts.script_text(opened)
    draft.begin().write_bytes(b"\xff\xfe\x00bad")
    with pytest.raises(FileProblem, match="not UTF-8"):
        draft.take()
    draft.discard()
    assert not draft.waiting


def test_the_experts_own_times_become_the_benchmarks(demo: OpenStudy) -> None:
    set_field(demo, "card.dark-screen.benchmark_seconds.A", "99")
    assert take_benchmarks(demo) == 1
    assert demo.study.card_by_id["dark-screen"].benchmark_seconds["A"] == pytest.approx(14, abs=0.1)
    assert take_benchmarks(demo) == 0


def test_the_library_covers_every_area_and_nothing_in_it_gives_an_answer_away() -> None:
    from fresh_chair.core.plan.card_lint import script_remarks
    from fresh_chair.core.plan.cards import AREAS, card_problems

    cards = shipped_cards()
    assert len(cards) >= 70
    assert {each.area for each in cards} == set(AREAS)
    assert card_problems(cards) == []
    assert [(remark.card, remark.rule) for remark in script_remarks(cards) if not remark.overruled] == []
    assert all(each.partly and each.put_back and each.start and each.success for each in cards)
    assert sum(bool(each.question) for each in cards) >= 5
    assert sum(each.area == "recovery" for each in cards) >= 5


def test_cards_are_found_by_words_by_area_and_by_what_is_on_the_bench() -> None:
    cards = shipped_cards()
    assert [each.id for each in found_cards(cards, "boiler letter")] == ["boiler-letter"]
    assert {each.area for each in found_cards(cards, area="recovery")} == {"recovery"}
    bench = ["a printer, on, with paper", "a letter"]
    found = found_cards(cards, area="network and devices", bench=bench)
    assert "print-it" in {each.id for each in found}
    assert "scan-it" not in {each.id for each in found}
    assert found_cards(cards, "no such words anywhere") == []


def test_ones_own_cards_come_from_a_folder_and_a_bad_file_there_is_said(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from fresh_chair.core.plan.text.script_editing import new_text

    (tmp_path / "ours.toml").write_text(new_text([card("mine", area="recovery"), card("boiler-letter", title="Ours")]))
    (tmp_path / "bad.toml").write_text("script = 9")
    monkeypatch.setenv(FOLDER_VARIABLE, str(tmp_path))
    shelf = open_shelf()
    assert shelf.own == {"mine", "boiler-letter"}
    assert [each.title for each in shelf.cards if each.id == "boiler-letter"] == ["Ours"]
    assert len(shelf.cards) == len(shipped_cards()) + 1
    (said,) = shelf.problems
    assert "bad.toml" in said
    assert open_shelf(tmp_path / "none").problems == ()
