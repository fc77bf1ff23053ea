"""Chairs compared over all tasks, against three small data sets with every number of the rule.

The data are made up; completed-only, all-at-limit, completion and ease were worked out with R (lm, two stages), the
censored fit and who fared better with two codes that share nothing with this one.
"""

from math import exp, log

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.figures.overall.estimates import MARGINS, PairEstimate, VerdictKind
from fresh_chair.core.figures.overall.fared import fared_scores, fared_shares
from fresh_chair.core.figures.overall.first_stage import limit_effects, sitting_effects, time_effects
from fresh_chair.core.figures.overall.measures import overall, sign_flip
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow, compared_rows
from fresh_chair.core.figures.overall.second_stage import paired_difference_by_order, stage_two
from fresh_chair.core.figures.overall.verdicts import interval_of, verdicts
from fresh_chair.core.sitting.state.outcome import Outcome
from tests.builders import fact

LIMITS = {"T1": 120.0, "T2": 240.0, "T3": 360.0}
LETTERS = {
    "U": Outcome.UNAIDED,
    "H": Outcome.HELPED,
    "P": Outcome.PARTLY,
    "G": Outcome.GAVE_UP,
    "T": Outcome.OUT_OF_TIME,
    "B": Outcome.BLOCKED,
}
AB = [("A", "B")]
DATA_1 = """
P1 AB U40 U95 U150 665 | U66 U120 T360 542
P2 BA U36 U88 U140 666 | U75 U180 U260 544
P3 AB U70 U150 U300 554 | U72 G200 U310 534
P4 BA U45 U100 G170 653 | U90 T240 U280 424
P5 AB U55 U130 U190 655 | U80 U150 U240 555
"""
DATA_2 = """
P1 AB U50 U100 G180 | U42 U110 U170
P2 BA U48 U90 U190 | U60 T240 U220
P3 AB U64 U140 U260 | U70 V U200
P4 BA U44 U72 - | U38 U85 U160
P5 A U80 U160 T360 |
"""
DATA_3 = (
    DATA_1.replace("U180 U260", "U180 H260")
    .replace("U150 U300", "U150 H300")
    .replace("| U90", "| P90")
    .replace("U80 U150 U240", "U80 B150 U240")
)


def data(text: str) -> Compared:
    rows, positions = [], {}
    for line in text.strip().splitlines():
        left, _, right = line.partition("|")
        person, order, *at_a = left.split()
        for chair, cells in (("A", at_a), ("B", right.split())):
            eases = [int(each) for each in cells[3]] if len(cells) > 3 else [None, None, None]
            told = [
                (cell, task, ease) for cell, task, ease in zip(cells, LIMITS, eases, strict=False) if cell not in "V-"
            ]
            for cell, task, ease in told:
                seconds = float(cell[1:])
                rows.append(ComparedRow(person, chair, task, LETTERS[cell[0]], seconds, LIMITS[task], ease))
            if told:
                positions[person, chair] = order.index(chair) + 1
    return Compared(tuple(rows), positions, ("A", "B"))


def two(compared: Compared, effects: dict[tuple[str, str], float]) -> PairEstimate:
    ((found,), _) = stage_two(compared, effects, AB)
    return found


def holds(found: PairEstimate, value: float, error: float, degrees: int) -> None:
    assert found.value == pytest.approx(value, abs=2e-6)
    assert found.error == pytest.approx(error, abs=2e-6)
    assert found.degrees == degrees


def test_data_1_time_out_of_time_censored() -> None:
    compared = data(DATA_1)
    effects = time_effects(compared)
    assert effects.rows == 28
    assert effects.scatter == pytest.approx(0.159307, abs=1e-6)
    told = [(4.4178, 4.9753), (4.3342, 5.0237), (4.9876, 5.0577), (4.5153, 5.2340), (4.7073, 4.9578)]
    for number, pair in enumerate(told, start=1):
        assert [effects.effects[f"P{number}", chair] for chair in "AB"] == pytest.approx(pair, abs=6e-5)
    assert [effects.tasks[task] for task in LIMITS] == pytest.approx([-0.7210, 0.1022, 0.6188], abs=6e-5)
    ((found,), (shift,)) = stage_two(compared, effects.effects, AB)
    holds(found, -0.498396, 0.091999, 3)
    assert shift.value == pytest.approx(-0.205709, abs=1e-6)
    (verdict,) = verdicts([found], margin=MARGINS["time"], lower_wins=True)
    assert (verdict.p, verdict.q) == pytest.approx((0.012338, 0.97098), abs=2e-6)
    assert verdict.beyond == pytest.approx(0.029021, abs=1e-6)
    assert (verdict.low, verdict.high) == pytest.approx((-0.7912, -0.2056), abs=6e-5)
    assert (exp(found.value or 0), exp(verdict.low or 0), exp(verdict.high or 0)) == pytest.approx(
        (0.6075, 0.4533, 0.8141), abs=6e-5
    )
    assert (verdict.said, verdict.winner) == (VerdictKind.BETTER, "A")


def completed_only(compared: Compared) -> PairEstimate:
    return two(
        compared, sitting_effects(compared, lambda r: log(r.hands_seconds) if r.outcome.completed else None).effects
    )


@pytest.mark.parametrize(
    ("text", "value", "error", "p"),
    [
        (DATA_1, -0.440546, 0.057425, 0.004601),
        (DATA_2, -0.026883, 0.047605, 0.629158),
        (DATA_3, -0.425747, 0.063492, 0.006768),
    ],
    ids=["1", "2", "3"],
)
def test_completed_only(text: str, value: float, error: float, p: float) -> None:
    found = completed_only(data(text))
    holds(found, value, error, found.degrees)
    assert verdicts([found], margin=log(1.25))[0].p == pytest.approx(p, abs=2e-6)


@pytest.mark.parametrize(
    ("text", "value", "error", "p"),
    [
        (DATA_1, -0.442840, 0.084806, 0.013660),
        (DATA_2, -0.025070, 0.118662, 0.852246),
        (DATA_3, -0.492925, 0.073739, 0.006828),
    ],
    ids=["1", "2", "3"],
)
def test_all_at_the_limit(text: str, value: float, error: float, p: float) -> None:
    compared = data(text)
    found = two(compared, limit_effects(compared).effects)
    holds(found, value, error, found.degrees)
    assert verdicts([found], margin=log(1.25))[0].p == pytest.approx(p, abs=2e-6)


@pytest.mark.parametrize(
    ("text", "lenient", "value", "error", "p"),
    [
        (DATA_1, False, 0.111111, 0.071722, 0.219102),
        (DATA_2, False, -0.016667, 0.128790, 0.908874),
        (DATA_3, False, 0.277778, 0.071722, 0.030466),
        (DATA_3, True, 0.25, 0.062113, 0.027556),
    ],
    ids=["1", "2", "3 strict", "3 lenient"],
)
def test_completion_by_order_groups(text: str, lenient: bool, value: float, error: float, p: float) -> None:
    compared = data(text)
    reached = (Outcome.UNAIDED, Outcome.HELPED) if lenient else (Outcome.UNAIDED,)
    effects = sitting_effects(compared, lambda row: float(row.outcome in reached)).effects
    found = paired_difference_by_order(compared, effects, ("A", "B"))
    holds(found, value, error, found.degrees)
    assert verdicts([found], margin=0.15)[0].p == pytest.approx(p, abs=2e-6)


def test_data_1_ease_and_who_fared_better() -> None:
    compared = data(DATA_1)
    ease = two(compared, sitting_effects(compared, lambda r: None if r.ease is None else float(r.ease)).effects)
    holds(ease, 1.25, 0.334489, 3)
    shares = fared_shares(compared)
    assert [shares[f"P{n}", "A", "B"] for n in range(1, 6)] == pytest.approx([1, 1, 1 / 3, 1 / 3, 2 / 3])
    fared = two(compared, fared_scores(shares))
    holds(fared, 0.666667, 0.175682, 3)
    low, high = interval_of(fared, 0.95)
    assert (low, high) == pytest.approx((0.1076, 1.2258), abs=6e-5)
    flip = sign_flip(fared.differences)
    assert (flip.first, flip.second, flip.p) == (5, 0, 0.0625)


def test_data_1_is_better_at_a_by_an_open_amount_and_the_gate_passes() -> None:
    found = overall(data(DATA_1), {})
    said = {measure: (each.verdicts[0].said, each.verdicts[0].winner) for measure, each in found.items()}
    for measure in ("time", "who fared better", "ease"):
        assert said[measure] == (VerdictKind.BETTER, "A")
    assert said["completed unaided"] == (VerdictKind.CANNOT_TELL, "")
    assert found["time"].gated == ()
    assert found["who fared better"].verdicts[0].beyond == pytest.approx(0.038290, abs=1e-6)
    assert found["ease"].verdicts[0].beyond == pytest.approx(0.055366, abs=1e-6)
    assert "nobody" in found["satisfaction"].verdicts[0].why or found["satisfaction"].verdicts[0].why


def test_data_2_cannot_tell_on_all_four_though_completed_times_alone_would_be_alike() -> None:
    compared = data(DATA_2)
    effects = time_effects(compared)
    assert effects.rows == 24
    assert effects.scatter == pytest.approx(0.208729, abs=1e-6)
    found = two(compared, effects.effects)
    holds(found, -0.099433, 0.109538, 2)
    told = overall(compared, {})
    for measure in ("time", "completed unaided", "who fared better"):
        assert told[measure].verdicts[0].said is VerdictKind.CANNOT_TELL
    (verdict,) = told["time"].verdicts
    assert (verdict.p, verdict.q) == pytest.approx((0.459829, 0.18799), abs=2e-5)
    assert verdicts([completed_only(compared)], margin=log(1.25))[0].said is VerdictKind.ALIKE
    shares = fared_shares(compared)
    assert [shares[f"P{n}", "A", "B"] for n in range(1, 5)] == pytest.approx([-1 / 3, 1 / 3, -1 / 2, 0])
    fared = two(compared, fared_scores(shares))
    holds(fared, -0.125, 0.093169, 2)
    flip = sign_flip(fared.differences)
    assert (flip.first, flip.second, flip.even, flip.p) == (1, 2, 1, 0.75)


def test_data_3_help_partly_and_blocked_count_as_what_they_are() -> None:
    compared = data(DATA_3)
    effects = time_effects(compared)
    assert effects.rows == 26
    assert effects.scatter == pytest.approx(0.172428, abs=1e-6)
    holds(two(compared, effects.effects), -0.507666, 0.091479, 3)
    shares = fared_shares(compared)
    assert [shares[f"P{n}", "A", "B"] for n in range(1, 6)] == pytest.approx([1, 1, 0, 1 / 3, 1])
    fared = two(compared, fared_scores(shares))
    holds(fared, 0.666667, 0.248452, 3)
    assert verdicts([fared], margin=0.2)[0].p == pytest.approx(0.074840, abs=2e-6)


def study_of(times: dict[str, float], *, gave_up: str = "", people: int = 8) -> Compared:
    """People at both chairs in both orders, each a little different; some give up at one of them."""
    rows, positions = [], {}
    for number in range(people):
        person = f"P{number}"
        for chair, seconds in times.items():
            positions[person, chair] = 1 if (chair == "A") is (number % 2 == 0) else 2
            for index, task in enumerate(LIMITS):
                own = seconds * (1 + 0.07 * ((number * 3 + index * 2 + (chair == "B")) % 5))
                stops = chair == gave_up and (number + index) % 2 == 0
                outcome = Outcome.GAVE_UP if stops else Outcome.UNAIDED
                rows.append(ComparedRow(person, chair, task, outcome, own, LIMITS[task]))
    return Compared(tuple(rows), positions, ("A", "B"))


def test_a_chair_where_half_give_up_does_not_win_in_time() -> None:
    slow, fast = study_of({"A": 80.0, "B": 30.0}), study_of({"A": 80.0, "B": 30.0}, gave_up="B")
    assert overall(slow, {})["time"].verdicts[0].winner == "B"
    told = overall(fast, {})
    (verdict,) = told["time"].verdicts
    assert (verdict.said, verdict.winner) == (VerdictKind.CANNOT_TELL, "")
    assert verdict.why.startswith("faster among those who finished")
    assert told["who fared better"].verdicts[0].winner != "B"


@pytest.mark.parametrize(
    ("text", "why"),
    [
        (DATA_1.replace("BA", "AB"), "all of them sat at the same one first"),
        ("\n".join(DATA_1.strip().splitlines()[:3]), "3 people were at both, and it takes 4"),
    ],
)
def test_a_pair_that_can_tell_nothing_says_why(text: str, why: str) -> None:
    for each in overall(data(text), {}).values():
        assert each.verdicts[0].said is VerdictKind.CANNOT_TELL
    assert overall(data(text), {})["time"].verdicts[0].why == why


def test_completion_of_everybody_cannot_tell_and_is_not_alike() -> None:
    told = overall(study_of({"A": 40.0, "B": 41.0}), {})
    assert (told["completed"].verdicts[0].said, told["completed"].verdicts[0].why) == (
        VerdictKind.CANNOT_TELL,
        "nothing varies",
    )


def made(value: float, error: float, degrees: int = 30) -> PairEstimate:
    return PairEstimate("A", "B", degrees, value, error, degrees)


@pytest.mark.parametrize(
    ("value", "error", "said", "winner", "level"),
    [
        (0.08, 0.02, VerdictKind.BETTER_BY_LESS, "A", 0.90),
        (-0.60, 0.05, VerdictKind.BETTER_BY_MARGIN, "B", 0.95),
        (0.25, 0.08, VerdictKind.BETTER, "A", 0.95),
        (0.01, 0.05, VerdictKind.ALIKE, "", 0.90),
        (0.10, 0.15, VerdictKind.CANNOT_TELL, "", 0.95),
    ],
)
def test_the_verdicts_come_in_their_order_with_their_interval(
    value: float, error: float, said: VerdictKind, winner: str, level: float
) -> None:
    (verdict,) = verdicts([made(value, error)], margin=0.2)
    assert (verdict.said, verdict.winner, verdict.level) == (said, winner, level)


def test_a_family_corrects_and_says_what_one_pair_alone_would_show() -> None:
    alone = verdicts([made(0.25, 0.11)], margin=0.2)[0]
    among = verdicts([made(0.25, 0.11), made(0.0, 0.5), PairEstimate("A", "C", 2, why="too few")], margin=0.2)
    assert alone.said is VerdictKind.BETTER
    assert (among[0].said, among[0].alone, among[0].family) == (VerdictKind.CANNOT_TELL, True, 3)
    assert among[0].p_adjusted == pytest.approx(3 * (among[0].p or 0))
    assert among[2].why == "too few"


@given(st.floats(0.5, 2.0), st.floats(0.1, 10.0))
def test_relabelling_chairs_turns_the_sign_and_units_of_time_change_nothing(ratio: float, unit: float) -> None:
    one = study_of({"A": 40.0, "B": 40.0 * ratio})
    scaled = Compared(
        tuple(
            ComparedRow(r.person, r.chair, r.card, r.outcome, r.hands_seconds * unit, r.limit_seconds * unit)
            for r in one.rows
        ),
        one.positions,
        ("B", "A"),
    )
    there = two(one, time_effects(one).effects)
    ((back,), _) = stage_two(scaled, time_effects(scaled).effects, [("B", "A")])
    assert there.value is not None
    assert back.value == pytest.approx(-there.value, abs=1e-6)


def test_rows_are_of_the_last_sitting_that_counts_and_void_ones_take_no_position() -> None:
    from dataclasses import replace

    facts = [
        replace(fact("P01", "A", 30, position=1, card="T1"), sitting=1),
        replace(fact("P01", "A", 40, position=1, card="T1"), sitting=4),
        replace(fact("P01", "B", 50, outcome=Outcome.VOID, position=2, card="T1"), sitting=2),
        replace(fact("P01", "C", 60, position=3, card="T1"), sitting=3),
        replace(fact("P01", "C", 70, position=3, card="T1"), sitting=3, first_try=False),
    ]
    compared = compared_rows(facts, ["A", "B", "C"], LIMITS)
    assert [(row.chair, row.hands_seconds) for row in compared.rows] == [("A", 40), ("C", 60)]
    assert compared.positions == {("P01", "A"): 1, ("P01", "C"): 2}
