"""The plan simulated by the comparison's own rule."""

import json
from collections import Counter
from pathlib import Path

from fresh_chair.core.figures.overall.estimates import MARGINS, PairEstimate
from fresh_chair.core.figures.overall.verdicts import verdicts
from fresh_chair.core.figures.simulation.drawing import Chances, counted_chances
from fresh_chair.services.figures.rule_chances import STUDIES, assumed, numbers_of, rule_chances
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.study.open_study import OpenStudy
from tests.builders import small_study
from tests.cli.forked import run as fresh_chair


def test_the_first_answer_is_that_of_the_plans_own_number_and_every_number_ends(demo: OpenStudy) -> None:
    plan = assumed(demo)
    assert plan is not None
    assert numbers_of(plan)[:3] == [plan.planned, plan.planned + 1, plan.planned + 3]
    rows = rule_chances(plan)
    first = next(rows)
    assert (first.people, first.apart.studies, first.settled) == (plan.planned, 100, False)
    ended = [first, next(rows), next(rows), next(rows)]
    assert [row.apart.studies for row in ended] == [100, 200, 300, STUDIES]
    assert ended[-1].settled
    for row in ended:
        for chances in (row.apart, row.alike):
            assert chances.right + chances.wrong + chances.alike + chances.open == chances.studies
        # Nobody can be right about chairs that are all equal.
        assert row.alike.right == 0


def test_people_at_each_chair_are_people_at_both_of_a_pair(demo: OpenStudy) -> None:
    plan = assumed(demo)
    assert plan is not None
    for people in (5, 8, 20):
        orders = plan.at(people).orders
        at_both = [sum(a in order and b in order for order in orders) for a, b in plan.pairs]
        assert min(at_both) == people
        # The plan's own orders, again and again: no order that it does not have.
        assert set(orders) <= set(plan.design.orders)


def test_the_plan_decides_measure_pairs_and_margins(demo: OpenStudy) -> None:
    set_field(demo, "comparing.primary", "completed")
    set_field(demo, "comparing.pairs", "A-C")
    set_field(demo, "comparing.margin_completion", "20")
    plan = assumed(demo, size=0)
    assert plan is not None
    assert (plan.measure, plan.pairs, plan.margins["completed"], plan.difference) == (
        "completed unaided",
        (("A", "C"),),
        0.2,
        15,
    )
    apart = {chair.letter: chair.completing for chair in plan.apart(plan.at(5)).chairs}
    assert round(apart["A"] - apart["C"], 9) == 0.15
    assert plan.winners == {("A", "C"): "A"}


def test_completion_and_spread_come_from_the_study_so_far_or_are_said_to_be_usual(demo: OpenStudy) -> None:
    plan = assumed(demo)
    assert plan is not None
    counted = [fact for fact in demo.facts() if fact.outcome.counts and fact.first_try]
    ends = Counter(fact.outcome for fact in counted)
    went_on = sum(count for outcome, count in ends.items() if outcome.completed or outcome == "out of time")
    assert (plan.attempts, plan.completing) == (len(counted), went_on / len(counted))
    assert plan.times > 0


def test_a_study_nobody_has_sat_in_takes_usual_values(tmp_path: Path) -> None:
    from fresh_chair.services.study.open_study import create_study, open_study

    create_study(tmp_path / "s.fresh", small_study(people=6, chairs=2, cards=3))
    opened = open_study(tmp_path / "s.fresh")
    plan = assumed(opened)
    assert plan is not None
    assert (plan.attempts, plan.times, plan.planned) == (0, 0, 6)
    opened.close()
    create_study(tmp_path / "one.fresh", small_study(people=6, chairs=1, cards=3))
    opened = open_study(tmp_path / "one.fresh")
    assert assumed(opened) is None
    opened.close()


def test_a_study_counts_as_wrong_where_any_pair_names_the_wrong_chair() -> None:
    def told(value: float, error: float = 0.05) -> PairEstimate:
        return PairEstimate("A", "B", 12, value, error, 10)

    margin = MARGINS["who fared better"]
    right, wrong, alike, left_open = (
        verdicts([each], margin=margin) for each in (told(0.5), told(-0.5), told(0.0, 0.02), told(0.1, 0.2))
    )
    both = [*right, *wrong]
    assert counted_chances([right, wrong, alike, left_open, both], {("A", "B"): "A"}) == Chances(5, 1, 2, 1, 1)
    assert counted_chances([right], {}) == Chances(1, 0, 1, 0, 0)


def test_the_command_draws_and_says_its_error(demo_path: Path) -> None:
    ran = fresh_chair("plan", "numbers", demo_path, "--simulate", "--studies", "100", "--size", "3", "--json")
    assert ran.returncode == 0, ran.stderr
    rule = json.loads(ran.stdout)["rule"]
    assert (rule["difference"], rule["at_both"]) == (2.0, 6)
    by_people = {row["people"]: row["apart"] for row in rule["chances"]}
    assert set(by_people) >= {5, 8, 12, 20}
    assert by_people[20]["right"] > by_people[5]["right"]
