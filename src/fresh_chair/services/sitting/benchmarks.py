"""Benchmarks: the expert's own time for a card at a chair, from runs that were accepted."""

from collections.abc import Mapping
from dataclasses import replace

from fresh_chair.core.clock import SECOND
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.plan.plan_changes import change_plan, replaced
from fresh_chair.services.study.open_study import OpenStudy


@frozen
class Benchmark:
    """The quickest accepted run.

    Attributes:
        seconds: Hands time, to a tenth.
        runs: How many runs were accepted: completed unaided, and not refused.
    """

    seconds: float
    runs: int


def expert_benchmarks(opened: OpenStudy) -> dict[str, dict[str, Benchmark]]:
    """The benchmark of every card that an expert has done, by card and chair."""
    study = opened.study
    found: dict[str, dict[str, Benchmark]] = {}
    for seat in study.seats:
        sitting = opened.sittings.get(seat.number)
        if sitting is None or sitting.walk is not None or study.person_by_code[seat.participant].role != "expert":
            continue
        for attempt in sitting.tried:
            seconds = round(attempt.lane_ns(Lane.HANDS) / SECOND, 1)
            if attempt.outcome is not Outcome.UNAIDED or attempt.benchmark_refused or seconds <= 0:
                continue
            at = found.setdefault(attempt.card, {})
            before = at.get(seat.chair, Benchmark(seconds, 0))
            at[seat.chair] = Benchmark(min(seconds, before.seconds), before.runs + 1)
    return found


def benchmark_runs(opened: OpenStudy, chair: str) -> Mapping[str, int]:
    """From how many runs each card's benchmark at a chair is; one that was typed in is from none."""
    cards = opened.study.card_by_id
    return {
        card: at[chair].runs
        for card, at in expert_benchmarks(opened).items()
        if chair in at and card in cards and cards[card].benchmark_seconds.get(chair) == at[chair].seconds
    }


def take_benchmarks(opened: OpenStudy, *, chair: str = "") -> int:
    """Put the expert's own times on the cards, of one chair or of all; returns how many changed."""
    best = expert_benchmarks(opened)
    cards, count = [], 0
    for card in opened.study.cards:
        own = {at: each.seconds for at, each in best.get(card.id, {}).items() if not chair or at == chair}
        times = {**card.benchmark_seconds, **own}
        count += sum(card.benchmark_seconds.get(letter) != seconds for letter, seconds in times.items())
        cards.append(replace(card, benchmark_seconds=times))
    if count:
        change_plan(opened, replaced(opened, cards=tuple(cards)))
    return count
