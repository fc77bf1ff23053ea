"""Participants' ratings: the Single Ease Question and the System Usability Scale."""

from collections.abc import Sequence

from fresh_chair.core.figures.estimate import LEVEL, Estimate, mean_with_t
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import count_of

SUS_ITEMS = 10


@frozen
class SusScore:
    """One person's System Usability Scale, 0 to 100, or the reason there is none."""

    score: float | None
    note: str = ""


def ease_mean(scores: Sequence[int], *, level: float = LEVEL) -> Estimate:
    """How easy did people find this, from 1 (very hard) to 7 (very easy)?

    Returns:
        The mean with a t interval cut to 1..7.

    Raises:
        ValueError: Where a score is not 1 to 7.

    Source: Sauro, J. & Dumas, J. S. (2009). Comparison of three one-question, post-task usability questionnaires.
        CHI 2009, 1599-1608.
    """
    if any(score not in range(1, 8) for score in scores):
        raise ValueError("an ease rating is 1 to 7")
    return _cut(mean_with_t(scores, level=level), 1.0, 7.0)


def sus_score(answers: Sequence[int | None]) -> SusScore:
    """One person's System Usability Scale from their ten answers.

    Args:
        answers: Ten answers, 1 (strongly disagree) to 5 (strongly agree), None where one was left out.

    Returns:
        0 to 100. One missing answer counts as 3 and is noted; more than one: no score.

    Raises:
        ValueError: Where there are not ten answers, or one is not 1 to 5.

    Source: Brooke, J. (1996). SUS: a "quick and dirty" usability scale: odd items score - 1, even items 5 - score,
        sum times 2.5.

    >>> sus_score([5, 1] * 5).score
    100.0
    """
    if len(answers) != SUS_ITEMS or any(answer is not None and answer not in range(1, 6) for answer in answers):
        raise ValueError("the System Usability Scale has ten answers of 1 to 5")
    missing = sum(answer is None for answer in answers)
    if missing > 1:
        return SusScore(None, f"{count_of(missing, 'answer')} missing: no score")
    filled = [3 if answer is None else answer for answer in answers]
    points = sum(answer - 1 if index % 2 == 0 else 5 - answer for index, answer in enumerate(filled))
    return SusScore(points * 2.5, "one answer missing, taken as 3" if missing else "")


def sus_mean(scores: Sequence[float], *, level: float = LEVEL) -> Estimate:
    """How usable did people find this chair, 0 to 100? The mean with a t interval cut to 0..100."""
    return _cut(mean_with_t(scores, level=level), 0.0, 100.0)


def _cut(estimate: Estimate, lowest: float, highest: float) -> Estimate:
    if estimate.low is None or estimate.high is None:
        return estimate
    return Estimate(
        estimate.value,
        max(estimate.low, lowest),
        min(estimate.high, highest),
        estimate.n,
        estimate.method,
        estimate.level,
        estimate.note,
    )
