"""Figures against statsmodels and krippendorff, which share nothing with them, on random data."""

import random
import warnings
from typing import Any

import numpy as np
import pytest

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import krippendorff
    import pandas as pd
    import statsmodels.formula.api as smf
    from statsmodels.stats.contingency_tables import mcnemar
    from statsmodels.stats.inter_rater import cohens_kappa as their_kappa
    from statsmodels.stats.multitest import multipletests
    from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

from fresh_chair.core.figures.agreement import cohens_kappa, ordinal_alpha
from fresh_chair.core.figures.completion import adjusted_wald, clopper_pearson, mcnemar_exact, wilson
from fresh_chair.core.figures.correction import holm
from fresh_chair.core.figures.overall.first_stage import sitting_effects
from fresh_chair.core.figures.overall.rows import Compared, ComparedRow
from fresh_chair.core.figures.overall.second_stage import chair_effects, stage_two
from fresh_chair.core.figures.overall.verdicts import verdicts
from fresh_chair.core.figures.single.different_people import independent_difference
from fresh_chair.core.sitting.state.outcome import Outcome

SEEDS = range(6)
PAIRS = [("A", "B"), ("A", "C"), ("B", "C")]


def drawn(seed: int) -> Compared:
    """People at three chairs in orders drawn by chance; some sittings and some tasks are missing."""
    dice = random.Random(seed)
    rows, positions = [], {}
    for number in range(9):
        order = dice.sample("ABC", 3 if number % 4 else 2)
        for at, chair in enumerate(order, start=1):
            positions[f"P{number}", chair] = at
            for task in range(5):
                if dice.random() < 0.85 or task == 0:
                    ease = dice.randint(1, 7)
                    rows.append(ComparedRow(f"P{number}", chair, f"t{task}", Outcome.UNAIDED, 10.0, 60.0, ease))
    return Compared(tuple(rows), positions, ("A", "B", "C"))


def table(compared: Compared, effects: dict[tuple[str, str], float]) -> Any:
    return pd.DataFrame(
        [
            {"person": person, "chair": chair, "position": str(compared.positions[person, chair]), "y": y}
            for (person, chair), y in effects.items()
        ]
    )


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.filterwarnings("ignore")
def test_sittings_effects_are_those_of_least_squares(seed: int) -> None:
    compared = drawn(seed)
    ours = sitting_effects(compared, lambda row: float(row.ease or 0))
    frame = pd.DataFrame([{"sitting": f"{r.person}{r.chair}", "task": r.card, "y": r.ease} for r in compared.rows])
    fit = smf.ols("y ~ 0 + C(sitting) + C(task, Sum)", frame).fit()
    for (person, chair), effect in ours.effects.items():
        assert effect == pytest.approx(fit.params[f"C(sitting)[{person}{chair}]"], abs=1e-8)


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.filterwarnings("ignore")
def test_chairs_against_each_other_are_those_of_least_squares(seed: int) -> None:
    compared = drawn(seed)
    effects = sitting_effects(compared, lambda row: float(row.ease or 0)).effects
    fit = smf.ols("y ~ C(person) + C(chair) + C(position)", table(compared, effects)).fit()
    found, shifts = stage_two(compared, effects, PAIRS)
    for estimate in found:
        contrast = np.zeros(len(fit.params))
        for chair, sign in ((estimate.first, 1.0), (estimate.second, -1.0)):
            if chair != "A":
                contrast[list(fit.params.index).index(f"C(chair)[T.{chair}]")] = sign
        theirs = fit.t_test(contrast)
        assert estimate.value == pytest.approx(theirs.effect.item(), abs=1e-8)
        assert estimate.error == pytest.approx(theirs.sd.item(), abs=1e-8)
        assert estimate.degrees == int(fit.df_resid)
        (verdict,) = verdicts([estimate], margin=0.5)
        assert verdict.p == pytest.approx(theirs.pvalue.item(), abs=1e-8)
    for shift in shifts:
        assert shift.value == pytest.approx(fit.params[f"C(position)[T.{shift.position}]"], abs=1e-8)
    whole = chair_effects(compared, effects)
    assert whole is not None
    names = ["C(chair)[T.B]", "C(chair)[T.C]"]
    theirs = fit.cov_params().loc[names, names].to_numpy()
    assert np.array(whole.covariance)[1:, 1:] == pytest.approx(theirs, abs=1e-8)


@pytest.mark.parametrize("seed", SEEDS)
def test_holms_correction(seed: int) -> None:
    raw = [random.Random(seed + at).random() ** 3 for at in range(8)]
    assert holm(raw) == pytest.approx(list(multipletests(raw, method="holm")[1]))


@pytest.mark.parametrize(("x", "n"), [(0, 5), (1, 6), (4, 8), (12, 12), (7, 20)])
def test_intervals_of_rates(x: int, n: int) -> None:
    for ours, method in ((adjusted_wald(x, n), "agresti_coull"), (clopper_pearson(x, n), "beta")):
        low, high = proportion_confint(x, n, method=method)
        assert (ours.low, ours.high) == pytest.approx((max(low, 0), min(high, 1)), abs=1e-9)
    assert wilson(x, n) == pytest.approx(proportion_confint(x, n, method="wilson"), abs=1e-9)


@pytest.mark.parametrize("counts", [(5, 8, 2, 9), (1, 6, 5, 6), (10, 12, 3, 10)])
def test_differences_of_rates_of_different_people(counts: tuple[int, int, int, int]) -> None:
    ours = independent_difference(*counts)
    theirs = confint_proportions_2indep(*counts, method="newcomb", compare="diff")
    assert (ours.low, ours.high) == pytest.approx(theirs, abs=1e-9)


@pytest.mark.parametrize(("first", "second"), [(6, 0), (3, 5), (1, 9), (4, 4)])
def test_mcnemars_test(first: int, second: int) -> None:
    theirs = mcnemar([[3, first], [second, 2]], exact=True).pvalue
    assert mcnemar_exact(first, second) == pytest.approx(theirs)


@pytest.mark.parametrize("seed", SEEDS)
def test_agreement_of_raters_and_observers(seed: int) -> None:
    dice = random.Random(seed)
    units = [[dice.randint(0, 4) for _ in range(3)] for _ in range(12)]
    theirs = krippendorff.alpha(reliability_data=np.array(units).T, level_of_measurement="ordinal")
    assert ordinal_alpha(units).value == pytest.approx(theirs)
    pairs = [(dice.choice("abc"), dice.choice("abc")) for _ in range(30)]
    counts = [[sum(pair == (one, other) for pair in pairs) for other in "abc"] for one in "abc"]
    assert cohens_kappa(pairs) == pytest.approx(their_kappa(counts).kappa)
