"""Verdicts, scorecards, contradictions and the first page of a whole study."""

import json
from pathlib import Path
from typing import Any

import pytest

from fresh_chair.core.errors import InputError
from fresh_chair.core.figures.course.routes import lostness
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.judgement.across import across
from fresh_chair.services.judgement.contradictions import contradictions
from fresh_chair.services.judgement.firmness import firmness
from fresh_chair.services.judgement.first_page import first_page
from fresh_chair.services.judgement.scorecards import scorecards
from fresh_chair.services.judgement.series import ranked_series
from fresh_chair.services.judgement.verdicts import EVERYONE, verdict_lines, verdict_matrix
from fresh_chair.services.study.open_study import OpenStudy
from tests.cli.forked import run as fresh_chair


def test_a_later_verdict_revises_and_the_earlier_one_stays(demo: OpenStudy) -> None:
    lines = {line.verdict.id: line for line in verdict_lines(demo)}
    assert (lines["v-c-first"].state, lines["v-c-first"].revised_by) == ("revised", "v-c")
    held = verdict_matrix(demo).cells["supported relative", "C"]
    assert held.verdict.says == "not for me to judge"


def test_a_condition_that_is_met_opens_its_verdict_again(demo: OpenStudy) -> None:
    put_evidence(demo, "verdict", {"met": "2026-11-25"}, record_id="v-b")
    assert next(line for line in verdict_lines(demo) if line.verdict.id == "v-b").state == "open again"


def test_empty_cells_are_counted_and_what_is_said_for_everyone_fills_them(demo: OpenStudy) -> None:
    before = verdict_matrix(demo)
    gaps = len(before.audiences) * 3 - len(before.cells)
    assert before.missing == gaps > 0
    put_evidence(demo, "verdict", {"chair": "A", "says": "recommended", "why": "as it is"})
    after = verdict_matrix(demo)
    assert ("everyone", "A") in after.cells
    assert EVERYONE in after.audiences
    filled = sum((audience, "A") not in before.cells for audience in before.audiences)
    # Everyone is an audience of its own now, with two chairs that nobody spoke of.
    assert after.missing == before.missing - filled + 2


def test_a_scorecard_is_for_everyone_and_for_each_audience_with_a_weight_of_its_own(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    everyone, old = scorecards(demo, weighing)
    assert (everyone.audience, old.audience) == ("", "old hardware")
    weight = {card.audience: {r.criterion.name: r.criterion.weight for r in card.rows} for card in (everyone, old)}
    assert (weight[""]["goes quickly"], weight["old hardware"]["goes quickly"]) == (2, 5)
    assert weight[""].keys() == weight["old hardware"].keys()


def test_a_mapped_score_is_the_figure_of_the_first_page_by_its_rule(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    row = next(r for r in scorecards(demo, weighing)[0].rows if r.criterion.name == "gets it done")
    for cell, answer in zip(row.cells, first_page(demo, weighing), strict=True):
        assert cell.figure == answer.completed.value
        assert cell.value == pytest.approx(10 * min(max(((answer.completed.value or 0) - 0.4) / 0.6, 0), 1))
        assert all(target.startswith("attempt:") for target in cell.rests_on)


def test_firmness_is_the_same_here_and_apart_and_a_card_of_opinions_has_none(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    card = scorecards(demo, weighing)[0]
    here = firmness(weighing, card)
    assert here is not None
    assert firmness(weighing, card, apart=True) == here
    assert sum(here.chances["A"]) == pytest.approx(1)
    put_evidence(demo, "criterion", {"name": "looks", "scorecard": "opinions"})
    criterion = next(c for c in scorecards(demo, weighing) if c.name == "opinions").rows[0].criterion
    for chair, value in (("A", "3"), ("B", "5")):
        put_evidence(demo, "score", {"criterion": f"criterion:{criterion.id}", "chair": chair, "value": value})
    own = next(c for c in scorecards(demo, weighing) if c.name == "opinions")
    assert [each.rank for each in own.totals] == [2, 1, None]
    assert firmness(weighing, own) is None


def test_one_measure_alone_is_ranked_by_its_own_fit(demo: OpenStudy) -> None:
    put_evidence(
        demo,
        "criterion",
        {"name": "ease alone", "scorecard": "one", "figure": "ease", "worst": "1", "best": "7"},
    )
    weighing = weigh(demo)
    found = firmness(weighing, next(card for card in scorecards(demo, weighing) if card.name == "one"))
    assert found is not None
    assert found.how == "from the fit of its one measure"
    assert found.by_weights == {}


def test_contradictions_are_listed_and_answered(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    found = {each.key: each for each in contradictions(demo, weighing)}
    assert "A is “recommended if”" in found["finding v-a F08"].words
    assert found["score s-b"].answer is not None
    assert found["score s-c"].answer is None
    assert "score s-a" not in found, "it is tied to a finding, and has a reason"
    put_evidence(demo, "score", {"why": "asked at the counter"}, record_id="s-b")
    assert "score s-b" not in {each.key for each in contradictions(demo, weigh(demo))}, "a reason is evidence"
    put_evidence(demo, "answer", {"about": "score s-c", "answer": "changed", "because": "asked them again"})
    assert contradictions(demo, weighing)[-1].answer is not None


def test_a_recommendation_for_everyone_is_held_against_the_gravest_for_somebody(demo: OpenStudy) -> None:
    from fresh_chair.core.findings.state.finding import Scope
    from fresh_chair.services.findings.judging import judge_severity

    met = next(
        view
        for view in sorted_findings_of(demo).findings
        if view.finding.sort == "problem"
        and any(s.chair == "C" and s.people for s in view.spread)
        and (view.severity or 0) < 4
    )
    judge_severity(demo, met.id, 4, "they cannot read it", scope=Scope(audience="old hardware"))
    put_evidence(demo, "verdict", {"chair": "C", "says": "recommended", "why": "it is fine"})
    sorts = [each.sort for each in contradictions(demo, weigh(demo)) if met.finding.title[:20] in each.words]
    assert "for everyone against somebody" in sorts


def test_a_claim_called_kept_by_hearsay_contradicts_itself(demo: OpenStudy) -> None:
    from fresh_chair.services.chair.records import put_record

    put_record(demo, "A", "claim", promised="wakes at once", answer="as promised", evidence="read about")
    sorts = [each.sort for each in contradictions(demo, weigh(demo))]
    assert "a claim kept by hearsay" in sorts


def test_the_rest_across_chairs_counts_what_is_on_record(demo: OpenStudy) -> None:
    rows = across(demo).rows
    groups = {row.group for row in rows}
    assert groups >= {"findings met by newcomers", "readings", "claims", "defaults and consent"}
    assert all(len(row.cells) == 3 for row in rows)
    unlike = [row for row in rows if row.group == "readings" and row.note]
    assert unlike, "the demo's chairs stand on different machines"


def test_the_first_page_names_what_newcomers_met(demo: OpenStudy) -> None:
    answers = first_page(demo, weigh(demo))
    for answer in answers:
        assert [each.severity or 0 for each in answer.worst] == sorted(
            (each.severity or 0 for each in answer.worst), reverse=True
        )
        assert all(each.met > 0 for each in (*answer.worst, *answer.strengths))
        assert {each.other for each in answer.against} == {c.chair.letter for c in answers} - {answer.chair.letter}


def test_whether_it_turns_is_worked_out_once_for_a_state(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    assert turning(demo, weighing) is turning(demo, weighing)
    assert turning(demo, weighing, apart=True) == turning(demo, weighing)


def test_waits_and_routes_come_from_what_was_logged(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    whole = {each.chair: each for each in weighing.machine if not each.card}
    counted = [fact for fact in weighing.facts if fact.outcome.counts and fact.first_try]
    for letter, share in whole.items():
        here = [fact for fact in counted if fact.chair == letter]
        assert share.wait_seconds == pytest.approx(sum(fact.wait_seconds for fact in here))
        assert share.longest_silent_seconds == max(fact.longest_silent_wait_seconds for fact in here)
    for route in weighing.routes:
        begun = sum(edge.attempts for edge in route.edges if not edge.origin)
        ended = sum(edge.attempts for edge in route.edges if edge.end is not None)
        assert begun == ended == route.attempts


def test_lostness_is_that_of_its_source() -> None:
    # Smith (1996): N/S and R/N of 1 are the straight way; 5 distinct of 8 visited where 3 were needed.
    assert lostness(["a", "b", "c"], 3) == 0
    assert lostness(["a", "b", "a", "c", "d", "a", "e", "b"], 3) == pytest.approx(
        ((5 / 8 - 1) ** 2 + (3 / 5 - 1) ** 2) ** 0.5
    )
    assert lostness([], 3) is None
    assert lostness(["a"], 0) is None


def test_the_same_scorecard_over_several_studies_ranks_their_chairs(demo_path: Path, tmp_path: Path) -> None:
    other = tmp_path / "other.fresh"
    other.write_bytes(demo_path.read_bytes())
    found = ranked_series([demo_path, other], "loan laptops", "")
    assert len(found.places) == 6
    # The same study twice: each chair shares its rank with itself.
    assert [each.rank for each in found.places] == [1, 1, 3, 3, 5, 5]
    with pytest.raises(InputError, match="no such scorecard"):
        ranked_series([demo_path], "another", "")


def test_all_of_it_can_be_had_on_the_command_line(demo_path: Path) -> None:
    for command in (("verdict", "matrix"), ("scorecard", "show"), ("contradictions", "list"), ("verdict", "list")):
        ended = fresh_chair(*command, demo_path, "--json")
        assert ended.returncode == 0, ended.stderr
        assert json.loads(ended.stdout)
    ended = fresh_chair("contradictions", "answer", demo_path, "score s-c", "stands", "they are on paper")
    assert ended.returncode == 0, ended.stderr
    assert "stands: they are on paper" in fresh_chair("contradictions", "list", demo_path).stdout
    ended = fresh_chair("contradictions", "answer", demo_path, "no such", "stands", "because")
    assert (ended.returncode, "no such contradiction" in ended.stderr) == (1, True)
    for group, verb in (("verdict", "list"), ("scorecard", "show")):
        plain = fresh_chair(group, verb, demo_path)
        assert plain.returncode == 0, plain.stderr


def test_the_ranks_drawn_again_are_about_the_very_sums_that_are_shown(demo: OpenStudy) -> None:
    # Times are mapped in proportion to the multiple itself, not to its logarithm, in the draws as on the card.
    for name, figure, worst, best in (("quick", "time", "20", "1"), ("kept", "completion", "0", "1")):
        texts = {"name": name, "scorecard": "two", "figure": figure, "worst": worst, "best": best}
        put_evidence(demo, "criterion", texts)
    weighing = weigh(demo)
    card = next(card for card in scorecards(demo, weighing) if card.name == "two")
    seen: list[float] = []

    def told(letters: list[str], drawn: Any, *_: Any) -> None:
        seen.extend(float(each) for each in drawn.mean(axis=0))

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("fresh_chair.core.judgement.firmness._told", told)
        firmness(weighing, card)
    shown = [2 * (total.weighted or 0) / 100 for total in card.totals]
    assert seen == pytest.approx(shown, abs=0.05)


def test_multiples_of_the_experts_time_are_of_hands_time_whichever_time_is_chosen(demo: OpenStudy) -> None:
    quick = [
        next(row for row in scorecards(demo, weigh(demo, times=times))[0].rows if row.criterion.figure == "time")
        for times in ("hands", "elapsed")
    ]
    hands, elapsed = ([cell.figure for cell in row.cells] for row in quick)
    assert elapsed == pytest.approx(hands)


def test_a_score_is_of_a_criterion_and_on_its_scale(demo: OpenStudy) -> None:
    given = {"criterion": "criterion:c-counter", "chair": "A", "why": "w"}
    with pytest.raises(InputError, match="is 0 to 3, not 99"):
        put_evidence(demo, "score", {**given, "value": "99"})
    with pytest.raises(InputError, match="a score is of a criterion"):
        put_evidence(demo, "score", {**given, "criterion": "chair:A", "value": "1"})
    with pytest.raises(InputError, match="a verdict revises a verdict"):
        put_evidence(demo, "verdict", {"chair": "A", "says": "recommended", "revises": "chair:A"})
