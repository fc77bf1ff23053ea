"""Comparisons of chairs as open tables: over all tasks, and task by task."""

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.overall import overall_words
from fresh_chair.tell.tables import table

OVERALL_COLUMNS = (
    "study", "measure", "primary", "first", "second", "people", "estimate", "standard_error", "degrees", "margin",
    "verdict", "winner", "low", "high", "level", "p", "p_holm", "alike_p", "alike_p_holm", "beyond_margin_p",
    "beyond_margin_p_holm", "pairs", "better_at_first", "better_at_second", "even", "tasks_in_common",
    "tasks_left_out", "why", "before_completion", "completion_against", "completed_unaided_difference",
    "part_by_outcome", "part_by_time", "sentence",
)  # fmt: skip
COMPARISON_COLUMNS = (
    "study", "task", "measure", "first", "second", "people", "estimate", "low", "high", "level", "method", "p",
    "p_holm", "left_out", "verdict", "same_people", "rank_p", "censored_p", "note",
)  # fmt: skip


def overall_csv(weighing: Weighing) -> str:
    """One row a pair on a measure, over all tasks; times in log seconds, completion and net shares of 1."""
    said = {(each.measure, each.first, each.second): each.whole for each in overall_words(weighing).sentences}
    primary = weighing.study.sheet.comparing.primary
    return table(
        OVERALL_COLUMNS,
        (
            (
                weighing.study.id, measure, measure == primary, pair.first, pair.second, pair.people, pair.value,
                pair.error, pair.degrees, verdict.margin, verdict.said.value, verdict.winner, verdict.low,
                verdict.high, verdict.level, verdict.p, verdict.p_adjusted, verdict.q, verdict.q_adjusted,
                verdict.beyond, verdict.beyond_adjusted, verdict.family, flip.first, flip.second, flip.even,
                len(pair.common), "; ".join(pair.left_out), verdict.why,
                "" if verdict.before is None else verdict.before.value, verdict.against,
                next((c.value for c in verdict.completions if c.measure == "completed unaided"), None),
                parts.get("outcome"), parts.get("time"), said[measure, pair.first, pair.second],
            )
            for measure, found in weighing.overall.items()
            for verdict, flip in zip(found.verdicts, found.flips, strict=True)
            for pair in (verdict.estimate,)
            for parts in ({part.part: part.value for part in verdict.parts},)
        ),
    )  # fmt: skip


def comparisons_csv(weighing: Weighing) -> str:
    """One row a pair on a task and a measure, tests that were not possible too."""
    return table(
        COMPARISON_COLUMNS,
        (
            (
                weighing.study.id, each.card, each.measure.value, each.first, each.second, each.estimate.n,
                each.estimate.value, each.estimate.low, each.estimate.high, each.estimate.level,
                each.estimate.method, each.p, each.p_adjusted, each.left_out, each.verdict.value,
                each.same_people, each.rank_p, each.censored_p, each.estimate.note,
            )
            for listed in weighing.comparisons.values()
            for each in listed
        ),
    )  # fmt: skip
