"""Figures by another time, another interval, and all that explains their n."""

from dataclasses import replace

import pytest
from scipy import stats

from fresh_chair.core.figures.whole.reach import reach_of
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.words.figures import reach_sentences
from fresh_chair.core.words.thresholds import threshold_heading
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.study.open_study import OpenStudy
from tests.builders import Script, small_study


def test_the_exact_interval_is_that_of_scipy_and_all_rates_have_it(demo: OpenStudy) -> None:
    weighing = weigh(demo, interval="Clopper-Pearson")
    rates = [rate for cell in weighing.cells.values() for rate in (cell.strict, cell.lenient) if rate.n]
    assert {rate.method for rate in rates} == {"x of n, Clopper-Pearson interval"}
    for rate in rates:
        exact = stats.binomtest(rate.x, rate.n).proportion_ci(method="exact")
        assert (rate.low, rate.high) == pytest.approx((exact.low, exact.high))
    assert {c.lenient.method for c in weigh(demo).cells.values() if c.n} == {"x of n, adjusted Wald interval"}


def test_elapsed_time_is_in_every_figure_of_time_and_beside_no_expert(demo: OpenStudy) -> None:
    hands, elapsed = weigh(demo), weigh(demo, times="elapsed")
    assert any(cell.benchmark_seconds for cell in hands.cells.values())
    assert not any(cell.benchmark_seconds or cell.efficiency for cell in elapsed.cells.values())
    longer = [
        (elapsed.cells[key].all_seconds.value or 0) >= (cell.all_seconds.value or 0)
        for key, cell in hands.cells.items()
        if cell.all_seconds.value and elapsed.cells[key].all_seconds.value
    ]
    assert all(longer)
    assert elapsed.overall["time"].verdicts != hands.overall["time"].verdicts
    # Thresholds of time are multiples of the expert's hands time, and stay so.
    assert elapsed.thresholds == hands.thresholds


def test_the_study_sheet_chooses_and_a_later_choice_is_told(demo: OpenStudy) -> None:
    set_field(demo, "comparing.times", "elapsed")
    set_field(demo, "comparing.interval", "Clopper-Pearson")
    weighing = weigh(demo)
    assert (weighing.choice.times, weighing.choice.interval) == ("elapsed", "Clopper-Pearson")
    assert weighing.decided_late
    assert weigh(demo, times="hands").choice.times == "hands"


def test_a_threshold_that_was_changed_later_is_not_called_decided_beforehand(demo: OpenStudy) -> None:
    assert "beforehand" in threshold_heading(weigh(demo))
    set_field(demo, "sheet.thresholds", "ease | 5 | asked for later")
    assert "changed after the first sitting" in threshold_heading(weigh(demo))


def test_cards_never_reached_and_sittings_broken_off_explain_n() -> None:
    study = small_study(people=2, chairs=1, cards=3)
    broken, ended = Script(), Script()
    first = study.seats[0].cards[0]
    study = replace(study, seats=tuple(replace(seat, cards=study.seats[0].cards) for seat in study.seats))
    for script, ending in ((broken, j.SittingBrokenOff("a fire alarm")), (ended, None)):
        script.at(0, j.SittingBegan(), j.AttemptStarted(first))
        script.at(10, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5))
        if ending is not None:
            script.at(1, ending)
    sittings = {
        seat.number: replay(seat.number, seat.cards, script.entries)
        for seat, script in zip(study.seats, (broken, ended), strict=True)
    }
    reach = reach_of(study, sittings)
    # The second sitting is not over: its cards may still come.
    assert dict(reach.not_reached) == {(card, "A"): 1 for card in study.seats[0].cards[1:]}
    assert dict(reach.broken_off) == {"A": (study.seats[0].number,)}
    assert dict(reach.to_come) == {"A": 1}


def test_both_are_said_beside_the_figures(demo: OpenStudy) -> None:
    weighing = weigh(demo)
    missed = sum(weighing.reach.not_reached.values())
    said = " ".join(reach_sentences(weighing))
    assert (f"{missed} card" in said) is bool(missed)
    for numbers in weighing.reach.broken_off.values():
        assert all(str(number) in said for number in numbers)
