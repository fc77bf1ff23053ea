"""Sorting and judging an open study: nothing without its reason, nothing overwritten, all of it found on disk again."""

import csv
import json
from io import StringIO
from pathlib import Path

import pytest

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.findings.state.parts import Cause
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.evidence.later import close_later, later_of
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.evidence.targets import targets
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file import carrying
from fresh_chair.services.file.again_study import again_study
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.study_check import check_study
from fresh_chair.services.findings import judging, observers, ratings, sorting
from fresh_chair.services.findings.filters import EVERYTHING, RECORDS, ObservationFilter, filter_choices
from fresh_chair.services.findings.life import again_list, carried_lives, life_line
from fresh_chair.services.findings.observations import observations_of, similar_to, sorted_findings_of
from fresh_chair.services.findings.page import finding_page, scope_of, scope_part
from fresh_chair.services.findings.workarounds import ways_taken, ways_untied
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.report.finding_paper import paper_path, write_finding_paper
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.reports import write_report
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from tests.builders import FakeClock, small_study


def sat(opened: OpenStudy, code: str, *words: str, chair: str = "A", route: str = "") -> list[str]:
    """One attempt of a person at a chair with these snags; returns them as targets."""
    seat = next(seat for seat in opened.study.seats if (seat.participant, seat.chair) == (code, chair))
    live, now = LiveSitting(opened, seat), opened.clock.now
    live.begin(now())
    live.log(j.AttemptStarted(seat.cards[0]), now())
    found = [f"mark:{live.log(j.SnagSeen(each), now()).id}" for each in words]
    live.log(j.AttemptStopped(), now())
    live.log(j.OutcomeJudged(Outcome.UNAIDED), now())
    if route:
        live.log(j.OutcomeTold(route=route), now())  # type: ignore[arg-type]
    live.break_off("enough", now())
    return found


@pytest.fixture
def finding(opened: OpenStudy, clock: FakeClock) -> str:
    made = sorting.open_finding(opened, "menus hide", sat(opened, "P01", "looks for the menu"))
    clock.pass_seconds(5)
    judging.judge_severity(opened, made, 3, "lost a minute")
    clock.pass_seconds(5)
    return made


@pytest.mark.parametrize("name", ["F1", "f1", "1"])
def test_a_finding_is_found_by_its_number_or_its_id(opened: OpenStudy, finding: str, name: str) -> None:
    assert sorting.find_finding(opened, name).id == finding == sorting.find_finding(opened, finding).id
    with pytest.raises(InputError, match="no finding F9"):
        sorting.find_finding(opened, "F9")


def test_no_judgement_goes_without_its_reason(opened: OpenStudy, finding: str) -> None:
    before = len(opened.sorting.entries)
    for act in (
        lambda: judging.judge_severity(opened, finding, 2, " "),
        lambda: judging.put_part(opened, finding, "cause", {"words": "the driver", "sure": "likely"}),
        lambda: judging.put_part(opened, finding, "excuse", {"sort": "habit", "severity": "1"}),
        lambda: judging.correct_factor(opened, finding, "impact", "2", ""),
        lambda: judging.withdraw_severity(opened, finding, Scope(chair="A"), ""),
        lambda: ratings.rate(opened, finding, 2, "", "Ada"),
    ):
        with pytest.raises(InputError):
            act()
    assert len(opened.sorting.entries) == before


def test_a_guess_may_stand_without_a_reason_and_is_told_as_one(opened: OpenStudy, finding: str) -> None:
    judging.put_part(opened, finding, "cause", {"words": "the driver"})
    said = [line.words for line in finding_page(opened, finding).section("cause").lines]
    assert said[:2] == ["a guess: the driver (not known)", "  a guess, without a reason yet"]


def test_a_cause_is_revised_with_a_new_reason_and_the_earlier_one_stays(opened: OpenStudy, finding: str) -> None:
    texts = {"words": "the driver sleeps", "lies": "a driver or the machine", "reason": "after each lid"}
    cause = judging.put_part(opened, finding, "cause", texts)
    with pytest.raises(InputError, match="revised with a reason"):
        judging.put_part(opened, finding, "cause", {"sure": "shown"}, part=cause.id)
    trial = {"tried": "another kernel", "result": "helped", "cause": "1", "when": "2026-11-20"}
    judging.put_part(opened, finding, "trial", trial)
    judging.put_part(opened, finding, "cause", {"sure": "shown", "reason": "another kernel mends it"}, part=cause.id)
    page = finding_page(opened, finding)
    said = [line.words for line in page.section("cause").lines]
    assert said[0] == "shown: the driver sleeps (a driver or the machine)"
    assert any("a guess, a driver or the machine: after each lid" in line for line in said)
    assert "helped: another kernel (of: the driver sleeps)" in page.section("trials").lines[0].words
    assert f"cause:{finding}/{cause.id}" in targets(opened)
    judging.drop_part(opened, finding, "cause", "1", "it was the lid after all")
    assert opened.findings.by_id[finding].held("cause") == []


def test_everything_that_is_wrong_with_a_part_is_said_at_once(opened: OpenStudy, finding: str) -> None:
    with pytest.raises(InputError) as said:
        judging.put_part(opened, finding, "trial", {"result": "perhaps", "colour": "blue"})
    assert all(part in said.value.title for part in ("@ result", "has no colour", "say what was tried"))
    for texts in (
        {"sort": "standing fault", "reason": "r", "severity": "1", "by": "fault:none/1"},
        {"sort": "standing fault", "reason": "r", "severity": "7"},
    ):
        with pytest.raises(InputError):
            judging.put_part(opened, finding, "excuse", texts)
    with pytest.raises(InputError, match="It has: cause"):
        judging.put_part(opened, finding, "dream", {})
    with pytest.raises(InputError, match="has no cause 4"):
        judging.drop_part(opened, finding, "cause", "4", "no")


def test_an_excuse_is_on_the_later_list_until_it_is_looked_at(opened: OpenStudy, finding: str) -> None:
    texts = {"sort": "early release", "reason": "a beta", "severity": "1", "again": "it is final", "by": "chair:A"}
    judging.put_part(opened, finding, "excuse", texts)
    with pytest.raises(Refused, match="lower the severity only"):
        judging.put_part(opened, finding, "excuse", {**texts, "severity": "4"})
    (line,) = later_of(opened)
    assert (line.what, line.when, line.sort) == ("look again at F1 menus hide", "it is final", "look again")
    found = sorted_findings_of(opened)
    assert [(each.why, each.waits_for) for each in again_list(opened, found)] == [
        ("forgiven: early release", "it is final")
    ]
    close_later(opened, line, "still there")
    assert later_of(opened) == ()


def test_a_narrower_severity_holds_for_whom_it_names_and_can_be_withdrawn(opened: OpenStudy, finding: str) -> None:
    at_b = Scope(chair="B", workaround_known=True)
    judging.judge_severity(opened, finding, 1, "known there", scope=at_b)
    held = opened.findings.by_id[finding]
    judged = held.severity_in(Scope(chair="B", workaround_known=True))
    assert judged is not None
    assert (judged.severity, held.severity) == (1, 3)
    assert scope_of(scope_part(at_b)) == at_b
    judging.withdraw_severity(opened, finding, at_b, "it is not")
    assert opened.findings.by_id[finding].severity_in(at_b).severity == 3  # type: ignore[union-attr]
    for scope in (Scope(chair="Q"), Scope(audience="nobody here")):
        with pytest.raises(InputError, match="There is no"):
            judging.judge_severity(opened, finding, 1, "x", scope=scope)


def test_what_is_taken_back_tells_what_it_had_joined_any_number_of_times(opened: OpenStudy, finding: str) -> None:
    clock = opened.clock
    more = sat(opened, "P02", "another", chair="A")
    clock.pass_seconds(1)  # type: ignore[attr-defined]
    sorting.join(opened, finding, more)
    assert sorting.take_back(opened).targets == tuple(more)
    assert sorting.take_back(opened).words == "severity judged"
    assert sorting.take_back(opened).words == "finding opened"
    assert opened.findings.by_id == {}
    with pytest.raises(Refused, match="nothing of yours"):
        sorting.take_back(opened)


def test_a_finding_is_split_and_all_of_it_is_none(opened: OpenStudy) -> None:
    snags = sat(opened, "P01", "one", "two", "three")
    whole = sorting.open_finding(opened, "all", snags)
    with pytest.raises(InputError, match="That is all of it"):
        sorting.split(opened, whole, snags, "x")
    part = sorting.split(opened, whole, snags[1:], "rest")
    assert [opened.findings.by_id[name].evidence for name in (whole, part)] == [snags[:1], snags[1:]]


def test_a_record_of_a_chair_can_be_a_findings_only_ground(demo: OpenStudy) -> None:
    record = next(each for each in observations_of(demo) if each.kind == "warning" and not each.sitting)
    made = sorting.open_finding(demo, "a warning that frightens", [record.target], sort="oddity")
    view = sorted_findings_of(demo).by_id[made]
    assert (view.people, view.suggestion.severity, view.finding.sort) == ((), None, "oddity")
    with pytest.raises(InputError, match="changed on its sheet"):
        sorting.word_mark(demo, record, "x")


def test_raters_do_not_see_each_other_before_the_settling_view(opened: OpenStudy, finding: str) -> None:
    ratings.rate(opened, finding, 1, "small", "Ada")
    ratings.rate(opened, finding, 4, "lost all", "Bo")
    mine = ratings.ratings_of(opened, rater="Ada")
    assert [(each.rater, each.severity) for row in mine.findings for each in row.ratings] == [("Ada", 1)]
    assert [row.ratings for row in ratings.ratings_of(opened).findings] == [()]
    page = finding_page(opened, finding, rater="Ada")
    text = " ".join(line.words for section in page.sections for line in section.lines)
    assert "small" in text
    assert "lost all" not in text
    # The moderator's own judgement is another's, too.
    assert "lost a minute" not in text
    assert "lost all" not in ratings.rating_form(opened, "Ada")
    with pytest.raises(Refused, match="cannot be seen yet"):
        ratings.settle(opened, finding, 2, "between")
    ratings.open_settling(opened)
    told = ratings.ratings_of(opened)
    assert (told.findings[0].spread, told.raters) == (3, ("Ada", "Bo"))
    ratings.settle(opened, finding, 3, "Bo saw two of them")
    (row,) = ratings.ratings_of(opened).findings
    assert row.settled is not None
    assert (row.settled.severity, [each.severity for each in row.ratings]) == (3, [1, 4])
    for name in ("moderator", "", "x" * 41):
        with pytest.raises(InputError, match="no rater's name"):
            ratings.rate(opened, finding, 2, "x", name)


def test_unseen_ratings_leave_in_no_export(opened: OpenStudy, finding: str, tmp_path: Path) -> None:
    ratings.rate(opened, finding, 4, "only Bo says so", "Bo")
    list(write_export(opened, tmp_path / "a"))
    assert not any("only Bo" in path.read_text(errors="replace") for path in (tmp_path / "a").iterdir())
    ratings.open_settling(opened)
    list(write_export(opened, tmp_path / "b"))
    (row,) = csv.DictReader(StringIO((tmp_path / "b" / "ratings.csv").read_text()))
    assert (row["finding"], row["rater"], row["severity"], row["unseen"]) == ("F1", "Bo", "4", "true")
    assert "only Bo" in (tmp_path / "b" / "study.json").read_text()


def test_a_form_goes_out_and_comes_back_whole_or_not_at_all(opened: OpenStudy, finding: str) -> None:
    form = ratings.rating_form(opened, "Ada")
    rows = list(csv.DictReader(StringIO(form)))
    assert (rows[0]["finding"], rows[0]["seen"], rows[0]["severity"]) == ("F1", "looks for the menu", "")
    filled = "finding,title,seen,severity,reason\nF1,x,y,2,slow\n"
    assert ratings.take_form(opened, filled, "Ada", name="f.csv") == 1
    assert ratings.take_form(opened, filled, "Ada", name="f.csv") == 0
    for wrong, said in (
        ("finding,title\nF1,x\n", "is no form"),
        ("", "is no form"),
        (filled + "F9,x,y,2,slow\n", "no finding F9 @ line 3"),
        (filled.replace("2,slow", "7,slow"), "0 to 4 @ line 2"),
        (filled.replace("2,slow", "2,"), "needs a reason @ line 2"),
        ('finding,severity,reason\n"F1,2', "is no"),
    ):
        with pytest.raises(InputError, match=said):
            ratings.take_form(opened, wrong, "Bo", name="f.csv")
    assert list(opened.findings.by_id[finding].ratings) == ["Ada"]


def test_an_outcome_by_a_workaround_is_told_apart_and_tied_to_one(opened: OpenStudy, tmp_path: Path) -> None:
    snags = sat(opened, "P01", "a detour", route="only with a workaround")
    made = sorting.open_finding(opened, "no straight way", snags)
    (attempt,) = ways_untied(opened)
    said = [remark for check in check_study(opened) for remark in check.remarks]
    assert any(f"attempt {attempt} was completed only with a workaround" in each for each in said)
    way = judging.put_part(opened, made, "workaround", {"steps": "by the file manager", "skill": "an expert"})
    texts = {"first": f"attempt:{attempt}", "relation": "mended by", "second": f"workaround:{made}/{way.id}"}
    put_evidence(opened, "link", texts)
    assert (ways_untied(opened), ways_taken(opened)) == ([], {made: (attempt,)})
    list(write_export(opened, tmp_path))
    (row,) = csv.DictReader(StringIO((tmp_path / "findings.csv").read_text()))
    assert row["completed_by_workaround"] == attempt
    list(write_report(opened, tmp_path))
    assert "1 by a workaround" in (tmp_path / "report.md").read_text()


def test_what_a_trial_contradicts_or_stands_on_nothing_is_shown_to_the_reviewer(
    opened: OpenStudy, finding: str
) -> None:
    texts = {"words": "the driver", "sure": "shown", "reason": "it is known"}
    cause = judging.put_part(opened, finding, "cause", texts)
    trial = {"tried": "another driver", "result": "changed nothing", "cause": cause.id}
    judging.put_part(opened, finding, "trial", trial)
    sorting.part(opened, finding, list(opened.findings.by_id[finding].evidence))
    said = " ".join(remark for check in check_study(opened) for remark in check.remarks)
    assert "F1 stands on no observation" in said
    assert "a trial changed nothing: another driver" in said
    assert isinstance(cause, Cause)


def test_what_is_loose_is_narrowed_by_words_kind_chair_card_person_and_evidence(demo: OpenStudy) -> None:
    every = observations_of(demo)
    choices = filter_choices(demo.study, every)
    assert {each.chair for each in ObservationFilter(chair="B", kind=EVERYTHING, unsorted=False).of(every)} == {"B"}
    assert all(not each.sitting for each in ObservationFilter(kind=RECORDS).of(every))
    by_words = ObservationFilter(text="SIGN green", unsorted=False).of(every)
    assert by_words
    assert all("green" in each.words.lower() for each in by_words)
    for field, values in choices.items():
        for value in values[1:]:
            assert ObservationFilter(unsorted=False, kind=EVERYTHING).by(field, value).of(every), (field, value)


def test_what_looks_alike_is_offered_and_joined_by_nobody(demo: OpenStudy) -> None:
    before = demo.findings.findings_of.copy()
    every = observations_of(demo)
    found = similar_to("the green sign is trusted, green before anything was looked up", every)
    assert "green sign" in found[0][0].words
    assert [close for _, close in found] == sorted((close for _, close in found), reverse=True)
    assert demo.findings.findings_of == before


def test_every_part_of_a_finding_is_in_the_open_data_with_all_its_versions(
    opened: OpenStudy, finding: str, tmp_path: Path
) -> None:
    cause = judging.put_part(opened, finding, "cause", {"words": "=cmd()", "reason": "thought"})
    judging.put_part(opened, finding, "cause", {"sure": "likely", "reason": "seen twice"}, part=cause.id)
    judging.put_part(opened, finding, "workaround", {"steps": "restart"})
    judging.say_occurrence(opened, finding, how="sometimes", met=2, tries=5, count=9)
    sorting.tag(opened, finding, "words")
    list(write_export(opened, tmp_path))

    def rows(name: str) -> list[dict[str, str]]:
        return list(csv.DictReader(StringIO((tmp_path / name).read_text())))

    (told,) = rows("findings.csv")
    assert (told["finding"], told["severity"], told["comes"], told["comes_count"]) == ("F1", "3", "sometimes", "9")
    assert [(row["sure"], row["holds"], row["reason"]) for row in rows("causes.csv")] == [
        ("a guess", "false", "thought"),
        ("likely", "true", "seen twice"),
    ]
    assert rows("causes.csv")[0]["words"] == "'=cmd()"
    assert rows("workarounds.csv")[0]["steps"] == "restart"
    assert [row["holds"] for row in rows("severities.csv")] == ["true"]
    kinds = [entry["content"]["kind"] for entry in json.loads((tmp_path / "study.json").read_text())["sorting"]]
    assert "cause_put" in kinds
    assert not any(check.problems for check in check_file(opened.beside))


def test_the_page_is_printed_on_one_page(opened: OpenStudy, finding: str, tmp_path: Path) -> None:
    from pypdf import PdfReader

    for number in range(40):
        judging.put_part(opened, finding, "workaround", {"steps": f"way {number} <b>round</b> it " * 6})
    path = write_finding_paper(opened, "F1", tmp_path / "f.pdf")
    (page,) = PdfReader(path).pages
    assert "menus hide" in page.extract_text()
    assert path.read_bytes() == write_finding_paper(opened, "F1", tmp_path / "g.pdf").read_bytes()
    assert paper_path(opened, finding).name.endswith("-F1.pdf")
    with pytest.raises(InputError, match="papers are"):
        write_finding_paper(opened, "F1", path, paper="a0")


def carried_over(opened: OpenStudy, tmp_path: Path) -> OpenStudy:
    source = opened.beside
    opened.close()
    other = tmp_path / "other.fresh"
    create_study(other, small_study(people=2, chairs=1))
    there = open_study(other)
    carrying.carry_over(there, source, "A")
    return there


def test_a_carried_finding_is_not_tried_gone_known_or_back_again(
    opened: OpenStudy, finding: str, tmp_path: Path
) -> None:
    there = carried_over(opened, tmp_path)
    there.clock = FakeClock()
    letter = there.study.carried[0].chair
    (life,) = carried_lives(there, sorted_findings_of(there))
    assert (life.state, life.carried.number, len(life.carried.cards)) == ("not tried", 1, 1)
    sat(there, "P01", chair=letter)
    (life,) = carried_lives(there, sorted_findings_of(there))
    assert life.state == "gone"
    again = sorting.open_carried(there, life.carried.id)
    assert sorting.open_carried(there, life.carried.id) == again
    snags = sat(there, "P02", "the menu again", chair=letter)
    there.clock.pass_seconds(1)
    sorting.join(there, again, snags)
    view = sorted_findings_of(there).by_id[again]
    assert [each.state for each in life_line(there, view)] == ["", "known"]
    there.close()


def test_a_study_is_begun_again_with_what_is_to_be_tested_again(
    opened: OpenStudy, finding: str, tmp_path: Path
) -> None:
    source, (card,) = opened.beside, sorted_findings_of(opened).findings[0].cards
    path = tmp_path / "again.fresh"
    with pytest.raises(Refused, match="Nothing of that study"):
        again_study(path, source)
    texts = {"sort": "early release", "reason": "a beta", "severity": "1", "again": "it is final"}
    judging.put_part(opened, finding, "excuse", texts)
    put_evidence(opened, "later", {"what": "the scanner", "due": "2027-01-01"})
    opened.close()
    study = again_study(path, source)
    assert study.title == "A small study, again"
    assert ([card.id for card in study.cards], study.people) == ([card], ())
    assert [(each.chair, each.title, each.number) for each in study.carried] == [("A", "menus hide", 1)]
    begun = open_study(path, write=False)
    assert {line.what for line in later_of(begun)} == {"the scanner", "look again at F1 menus hide"}
    begun.close()
    assert not any(check.problems for check in check_file(path))
    with pytest.raises(InputError, match="in the file it comes from"):
        again_study(source, source)


def test_two_observers_are_held_against_each_other_and_what_one_alone_saw_is_taken_or_left(
    opened: OpenStudy, clock: FakeClock
) -> None:
    seat = opened.study.seats[0]
    live = LiveSitting(opened, seat)
    live.begin(clock.now())
    live.log(j.AttemptStarted(seat.cards[0]), clock.now())
    beside = open_study(opened.beside, observe=True, author="Mo")
    beside.clock = clock
    watching = LiveSitting(beside, beside.study.seat(seat.number))
    watching.join(clock.now())
    for seconds, who, content in (
        (10, live, j.SnagSeen("no menu")),
        (2, watching, j.SnagSeen("looks for the menu")),
        (20, watching, j.WrongPlace()),
        (20, watching, j.SnagSeen("sighs")),
    ):
        clock.pass_seconds(seconds)
        who.read_on()
        who.log(content, clock.now())
    live.read_on()
    live.log(j.AttemptStopped(), clock.now())
    live.log(j.OutcomeJudged(Outcome.UNAIDED), clock.now())
    watching.read_on()
    observers.see_outcome(beside, seat.number, 1, Outcome.HELPED)
    beside.close()
    live.read_on()
    with pytest.raises(Refused, match="the one that counts"):
        observers.see_outcome(opened, seat.number, 1, Outcome.HELPED)
    seen = observers.observers_of(opened, seat.number)
    assert [(row.kind, row.seen_by) for row in seen.rows] == [
        ("snag", ("moderator", "Mo")),
        ("wrong place", ("Mo",)),
        ("snag", ("Mo",)),
    ]
    assert seen.agreement == pytest.approx(1 / 3)
    assert [(pair.moderator, pair.seen) for pair in seen.outcomes] == [("completed unaided", "completed with help")]
    (fact,) = opened.facts()
    assert (fact.outcome, fact.wrong_places) == (Outcome.UNAIDED, 0)
    with pytest.raises(InputError, match="needs a reason"):
        observers.decide(opened, seat.number, seen.rows[1].entry, taken=True, reason="")
    observers.decide(opened, seat.number, seen.rows[1].entry, taken=True, reason="on the tape")
    observers.decide(opened, seat.number, seen.rows[2].entry, taken=False, reason="it was the chair")
    (fact,) = opened.facts()
    assert fact.wrong_places == 1
    assert "sighs" not in [each.words for each in observations_of(opened)]
    assert [row.decided for row in observers.observers_of(opened, seat.number).rows] == ["", "taken", "left"]
    with pytest.raises(InputError, match="Nobody watched sitting 2"):
        observers.observers_of(opened, 2)
    assert not any(check.problems for check in check_file(opened.beside))


def test_a_threshold_of_severity_is_judged_by_the_findings_of_its_chair(opened: OpenStudy, finding: str) -> None:
    def now() -> dict[str, tuple[str, float | None, str]]:
        return {e.chair: (e.held, e.estimate.value, e.estimate.note) for e in weigh(opened).thresholds}

    set_field(opened, "sheet.thresholds", "severity | 3 | nothing that stops anyone")
    assert now() == {"A": ("met", 3, ""), "B": ("open", None, "")}
    judging.judge_severity(opened, finding, 4, "lost the letter", scope=Scope(chair="A"))
    assert now()["A"][:2] == ("not met", 4)
    sat(opened, "P02", "no printer", chair="B")
    assert now()["B"] == ("open", None, "1 remark not sorted")
    assert now()["A"][0] == "not met"
