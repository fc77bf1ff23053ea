"""The verdict on a pair of chairs: tests, corrections of a family, and the fixed order in which it is reached."""

from collections.abc import Sequence

from fresh_chair.core.figures.correction import holm
from fresh_chair.core.figures.overall.estimates import OverallVerdict, PairEstimate, VerdictKind

ALPHA = 0.05


def verdicts(estimates: Sequence[PairEstimate], *, margin: float, lower_wins: bool = False) -> list[OverallVerdict]:
    """May one chair be called better, or both alike?

    Args:
        estimates: The declared pairs of one measure: a family. Pairs that cannot be tested count with p = q = 1.
        margin: The smallest difference that matters, on the measure's scale.
        lower_wins: True for times.

    Returns:
        One a pair. A pair is alike where both one-sided tests at the margin reach 5 % after Holm.

    Source:
        Holm (1979), Scandinavian Journal of Statistics 6, 65-70; two one-sided tests: Schuirmann (1987), Journal of
        Pharmacokinetics and Biopharmaceutics 15, 657-680.
    """
    tested = [_tested(each, margin) for each in estimates]
    p = holm([each[0] for each in tested])
    q = holm([each[1] for each in tested])
    beyond = holm([each[2] for each in tested])
    found = []
    for index, estimate in enumerate(estimates):
        found.append(
            _verdict(estimate, margin, tested[index], (p[index], q[index], beyond[index]), len(estimates), lower_wins)
        )
    return found


def _tested(estimate: PairEstimate, margin: float) -> tuple[float, float, float]:
    """Raw p, q and p beyond the margin; 1 for a pair that cannot be tested."""
    if estimate.value is None or not estimate.error:
        return 1.0, 1.0, 1.0
    from scipy.special import stdtr

    value, error, degrees = estimate.value, estimate.error, estimate.degrees
    two_sided = 2 * float(stdtr(degrees, -abs(value) / error))
    inside = max(float(stdtr(degrees, (value - margin) / error)), float(stdtr(degrees, -(value + margin) / error)))
    return two_sided, inside, float(stdtr(degrees, -(abs(value) - margin) / error))


def _verdict(
    estimate: PairEstimate,
    margin: float,
    raw: tuple[float, float, float],
    adjusted: tuple[float, float, float],
    family: int,
    lower_wins: bool,
) -> OverallVerdict:
    if estimate.value is None or not estimate.error:
        return OverallVerdict(estimate, margin, VerdictKind.CANNOT_TELL, why=estimate.why, family=family)
    p, q, beyond = adjusted
    first_wins = (estimate.value < 0) is lower_wins
    winner = estimate.first if first_wins else estimate.second
    if p < ALPHA and q < ALPHA:
        said = VerdictKind.BETTER_BY_LESS
    elif p < ALPHA and beyond < ALPHA / 2:
        said = VerdictKind.BETTER_BY_MARGIN
    elif p < ALPHA:
        said = VerdictKind.BETTER
    elif q < ALPHA:
        said, winner = VerdictKind.ALIKE, ""
    else:
        said, winner = VerdictKind.CANNOT_TELL, ""
    level = 0.90 if said in (VerdictKind.ALIKE, VerdictKind.BETTER_BY_LESS) else 0.95
    low, high = interval_of(estimate, level)
    alone_low, alone_high = interval_of(estimate, 0.95)
    alone = p >= ALPHA and (alone_low > 0 or alone_high < 0)
    return OverallVerdict(
        estimate, margin, said, winner, low, high, level, raw[0], p, raw[1], q, raw[2], beyond, "", alone, family
    )


def interval_of(estimate: PairEstimate, level: float) -> tuple[float, float]:
    """The t interval of an estimate that is there."""
    from scipy.special import stdtrit

    assert estimate.value is not None
    assert estimate.error is not None
    reach = float(stdtrit(estimate.degrees, 0.5 + level / 2)) * estimate.error
    return estimate.value - reach, estimate.value + reach
