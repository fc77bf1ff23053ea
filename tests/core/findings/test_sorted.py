"""Who met a finding, the severity the marks suggest, what looks alike, controls, related ones, life lines."""

from dataclasses import replace

import pytest

from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.facts import AttemptFact, facts_of
from fresh_chair.core.findings.controls import controls_of
from fresh_chair.core.findings.entries.judgements import FactorCorrected, OccurrenceSaid, WorkaroundPut
from fresh_chair.core.findings.entries.membership import EvidenceJoined, FindingOpened, FindingPlaced
from fresh_chair.core.findings.ledger import SortContent
from fresh_chair.core.findings.life_line import Life, LifePoint, life_of
from fresh_chair.core.findings.matching import alike, same_words, words_key
from fresh_chair.core.findings.observations import Observation, marks_of_sittings
from fresh_chair.core.findings.observed import SeenMark, matched
from fresh_chair.core.findings.related import related_to
from fresh_chair.core.findings.severity import impact_of, suggested
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings, Spread, sorted_findings
from fresh_chair.core.findings.state.parts import Occurrence, Workaround
from fresh_chair.core.plan.chairs import Machine
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from tests.builders import Script, fact, small_study
from tests.core.findings.test_ledger import ledger_of


def seen(target: str, chair: str = "A", person: str = "P01", **more: object) -> Observation:
    values: dict[str, object] = {"kind": "snag", "words": target, "sitting": 1, "attempt": 1, "card": "card-1"}
    return Observation(target=f"mark:{target}", chair=chair, participant=person, **{**values, **more})  # type: ignore[arg-type]


def sorted_of(
    study: Study, observations: list[Observation], facts: list[AttemptFact], *contents: SortContent
) -> SortedFindings:
    joined = [EvidenceJoined("f", each.target) for each in observations]
    return sorted_findings(study, observations, ledger_of(FindingOpened("f", "x"), *joined, *contents), facts)


def test_a_finding_says_who_met_it_of_those_who_tried_and_a_walk_stands_beside() -> None:
    study = small_study(people=3, chairs=2)
    facts = [fact(code, chair) for code in ("P01", "P02", "P03") for chair in "AB"]
    walked = seen("w", "A", "R1", walked=True)
    (view,) = sorted_of(study, [seen("a"), seen("b", "A", "P02"), seen("c", "A", "P02"), walked], facts).findings
    spread = {each.chair: each for each in view.spread}
    assert (spread["A"].people, spread["A"].share.x, spread["A"].share.n) == (("P01", "P02"), 2, 3)
    assert (spread["A"].others, spread["B"].share.x, spread["B"].share.n) == (("R1",), 0, 3)
    assert view.people == ("P01", "P02")


def test_marks_of_sittings_say_the_card_they_were_met_at_and_none_between_two() -> None:
    study = small_study(people=1, chairs=1)
    seat = study.seats[0]
    script = Script()
    script.at(0, j.SittingBegan(), j.SnagSeen("before any card"), j.AttemptStarted(seat.cards[0]), j.QuoteTaken("oh"))
    script.at(3, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED))
    sittings = {seat.number: replay(seat.number, seat.cards, script.entries)}
    found = marks_of_sittings(study, sittings)
    assert [(o.kind, o.words, o.card) for o in found] == [
        ("snag", "before any card", ""),
        ("quote", "oh", seat.cards[0]),
    ]
    facts = facts_of(study, sittings)
    whole = sorted_findings(study, found, ledger_of(), facts)
    # A quote may feed a finding, and waits for none.
    assert [each.kind for each in whole.loose] == ["snag"]


def test_who_met_a_finding_is_said_with_its_interval_and_never_of_nobody() -> None:
    met = Spread("A", ("P01",), ("P01", "P02"), adjusted_wald(1, 2))
    # Adjusted Wald on 1 of 2 goes from 9 to 91 % (Agresti & Coull 1998, with z of 1.96).
    assert met.words == "met by 1 of 2 (9 to 91 %)"
    assert Spread("A", (), (), adjusted_wald(0, 0), ("E1",)).words == "met only by E1, never counted"
    assert Spread("A", (), (), adjusted_wald(0, 0)).words == "nobody tried"


@pytest.mark.parametrize(
    ("changed", "impact"),
    [
        ({}, 1),
        ({"wrong_places": 1}, 2),
        ({"tries": 2}, 2),
        ({"helped": 1}, 3),
        ({"outcome": Outcome.PARTLY}, 3),
        ({"outcome": Outcome.GAVE_UP}, 4),
        ({"outcome": Outcome.BLOCKED}, 4),
        ({"outcome": Outcome.OUT_OF_TIME}, 4),
        ({"outcome": Outcome.PARTLY, "said_done": True}, 4),
    ],
)
def test_the_impact_is_that_of_the_table(changed: dict[str, object], impact: int) -> None:
    assert impact_of(replace(fact("P01", "A"), **changed)) == impact  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("impact", "met", "tried", "comes", "round_it", "severity"),
    [
        # The table: the highest impact, less one for rare or got round, plus one for most and every time.
        ({"helped": 1}, 2, 6, "no", False, 3),
        ({"helped": 1}, 2, 6, "no", True, 2),
        ({"helped": 1}, 1, 5, "no", False, 2),
        ({"helped": 1}, 1, 5, "sometimes", False, 3),
        ({"helped": 1}, 1, 4, "no", False, 3),
        ({"helped": 1}, 1, 5, "no", True, 2),
        ({}, 1, 5, "no", True, 1),
        ({"helped": 1}, 4, 6, "every time", False, 4),
        ({"helped": 1}, 4, 6, "every time", True, 3),
        ({"outcome": Outcome.GAVE_UP}, 4, 6, "every time", False, 4),
        ({"helped": 1}, 3, 6, "every time", False, 3),
    ],
)
def test_the_suggestion_follows_the_table(
    impact: dict[str, object], met: int, tried: int, comes: str, round_it: bool, severity: int
) -> None:
    hit = [fact("P01", "A"), replace(fact("P02", "A"), **impact)]  # type: ignore[arg-type]
    found = suggested(hit, met=met, tried=tried, comes_back=comes, got_round=round_it, corrected={})
    assert found.severity == severity
    assert found.steps


def test_nothing_is_suggested_where_no_newcomer_met_it() -> None:
    assert suggested([], met=0, tried=0, comes_back="no", got_round=False, corrected={}).severity is None


def test_a_corrected_factor_counts_and_stays_beside_what_the_marks_say() -> None:
    study = small_study(people=2, chairs=1)
    facts = [fact("P01", "A", outcome=Outcome.GAVE_UP)]
    plain = sorted_of(study, [seen("a")], facts).findings[0].suggestion
    corrected = FactorCorrected("f", "impact", "2", "the bench had failed")
    changed = sorted_of(study, [seen("a")], facts, corrected).findings[0].suggestion
    assert (plain.severity, changed.severity) == (4, 2)
    line = next(each for each in changed.factors if each.name == "impact")
    assert (line.value, line.corrected) == ("2", "the bench had failed")


def test_only_a_way_that_newcomers_find_makes_a_finding_milder() -> None:
    study = small_study(people=2, chairs=1)
    facts = [fact("P01", "A", outcome=Outcome.HELPED)]

    def with_way(skill: str) -> int | None:
        way = Workaround(id="w", steps="restart", skill=skill, helped="yes")  # type: ignore[arg-type]
        return sorted_of(study, [seen("a")], facts, WorkaroundPut("f", way)).findings[0].suggestion.severity

    assert (with_way("an expert"), with_way("with help"), with_way("a newcomer finds it")) == (3, 3, 2)


def test_whether_it_comes_back_is_said_or_follows_from_the_same_persons_attempts() -> None:
    study = small_study(people=1, chairs=1)
    twice = [seen("a"), seen("b", sitting=2)]

    def comes(observations: list[Observation], *contents: SortContent) -> str:
        suggestion = sorted_of(study, observations, [], *contents).findings[0].suggestion
        return next(each.value for each in suggestion.factors if each.name == "comes back")

    assert (comes([seen("a")]), comes(twice)) == ("no", "sometimes")
    assert comes(twice, OccurrenceSaid("f", Occurrence(how="could not be had again"))) == "no"
    assert comes([seen("a")], OccurrenceSaid("f", Occurrence(how="every time"))) == "every time"


def test_the_same_words_are_taken_together_whatever_their_marks_and_capitals() -> None:
    one, two, other = seen("a", words="Has it stopped?"), seen("b", words="has it  stopped"), seen("c", words="it has")
    delight = seen("d", words="has it stopped", kind="delight")
    assert same_words(one, [one, two, other, delight]) == [two]
    assert same_words(seen("e", words="?!"), [seen("f", words="...")]) == []
    assert words_key("  Ä-b  C ") == "ä b c"


def test_what_looks_alike_is_offered_closest_first_and_only_from_a_limit_on() -> None:
    close = {"far": 0.1, "near": 0.7, "nearest": 0.9}
    found = alike("x", list(close), lambda words, others: [close[each] for each in others])
    assert [index for index, _ in found] == [2, 1]
    assert alike("", ["a"], lambda words, others: [1.0]) == []


def two_machines() -> Study:
    study = small_study(people=3, chairs=3)
    other = Machine(id="other-laptop", name="the other laptop")
    chairs = tuple(
        replace(chair, base="Base 1" if chair.letter != "C" else "Base 2", machine=machine)
        for chair, machine in zip(study.chairs, ("one-laptop", "one-laptop", "other-laptop"), strict=True)
    )
    return replace(study, machines=(*study.machines, other), chairs=chairs)


def test_a_control_points_where_a_machine_or_a_base_has_it_everywhere_and_no_other_has() -> None:
    facts = [fact(code, chair) for code in ("P01", "P02") for chair in "ABC"]
    view = sorted_of(two_machines(), [seen("a"), seen("b", "B")], facts).findings[0]
    found = controls_of(two_machines(), view, facts)
    pointing = [control for control in found if control.points]
    assert {control.about for control in pointing} == {"machine", "base"}
    assert found[0].words == "one laptop: met on both chairs that stand on this machine, on none of the others"
    assert any("C" in control.words and "met by none" in control.words for control in found)


def test_no_machine_is_pointed_at_where_it_is_met_everywhere_or_no_other_was_tried() -> None:
    study = two_machines()
    facts = [fact("P01", chair) for chair in "ABC"]
    everywhere = sorted_of(study, [seen("a"), seen("b", "B"), seen("c", "C")], facts).findings[0]
    assert not any(control.points for control in controls_of(study, everywhere, facts))
    alone = sorted_of(study, [seen("a"), seen("b", "B")], facts[:2]).findings[0]
    assert not any(control.points for control in controls_of(study, alone, facts[:2]))


def views(study: Study, *contents: SortContent) -> list[FindingView]:
    observations = [seen("a", words="has it stopped"), seen("b", "B", words="Has it stopped?"), seen("c", words="c")]
    ledger = ledger_of(
        FindingOpened("f", "menus hide"),
        FindingOpened("g", "menus hide themselves"),
        FindingOpened("h", "no sound"),
        EvidenceJoined("f", "mark:a"),
        EvidenceJoined("g", "mark:b"),
        EvidenceJoined("h", "mark:c"),
        *contents,
    )
    return sorted(sorted_findings(study, observations, ledger, []).findings, key=lambda view: view.id)


def test_findings_that_may_be_one_are_pointed_at_with_why_and_siblings_are_not() -> None:
    study = small_study(people=1, chairs=2)

    def near(words: str, others: object) -> list[float]:
        return [0.9 if "menus" in each else 0.0 for each in others]  # type: ignore[attr-defined]

    (hint,) = related_to(study, views(study)[0], views(study), near)
    assert hint.finding == "g"
    assert {"the same words at both", "their names look alike", "met on the same card"} <= set(hint.why)
    placed = views(study, FindingPlaced("g", "f"))
    assert related_to(study, placed[0], placed, near) == []


@pytest.mark.parametrize(
    ("met", "states"),
    [
        ([True], [""]),
        ([False], [""]),
        ([False, True], ["", "new"]),
        ([True, True], ["", "known"]),
        ([True, False], ["", "gone"]),
        ([True, False, False], ["", "gone", "gone"]),
        ([True, False, True], ["", "gone", "back again"]),
        ([False, False, True], ["", "", "new"]),
        ([None, True, None, True], ["not tried", "", "not tried", "known"]),
    ],
)
def test_the_life_line_is_held_against_what_was_before(met: list[bool | None], states: list[Life]) -> None:
    assert life_of([LifePoint("A", each) for each in met]) == states


def test_a_finding_that_is_worse_or_milder_now_has_changed() -> None:
    assert life_of([LifePoint("A", True, 3), LifePoint("B", True, 1)]) == ["", "changed"]
    assert life_of([LifePoint("A", True, 3), LifePoint("B", True, None)]) == ["", "known"]


def mark(kind: str, seconds: float, observer: str) -> SeenMark:
    return SeenMark(kind, seconds, observer, f"{kind}{seconds}{observer}")


def test_marks_are_one_where_kind_and_time_agree_and_the_nearer_one_is_taken() -> None:
    mine, theirs = mark("snag", 10, "moderator"), mark("snag", 14, "Mo")
    nearer = mark("snag", 13, "moderator")
    other_kind = mark("helped", 14, "Mo")
    groups = matched([mine, theirs, nearer, other_kind], window_seconds=5)
    assert sorted(len(group) for group in groups) == [1, 1, 2]
    assert (nearer, theirs) in groups
    assert all(len(group) == 1 for group in matched([mine, theirs], window_seconds=3.9))
    # No observer makes one mark twice.
    assert all(len(group) == 1 for group in matched([mine, nearer], window_seconds=60))
