"""All figures of a study as plain data: every cell, every comparison, the machine's share, routes and groups."""

from dataclasses import asdict
from typing import Any

from fresh_chair.core.figures.cell import CellFigures
from fresh_chair.core.figures.estimate import Estimate, Proportion
from fresh_chair.core.figures.overall.estimates import OverallVerdict
from fresh_chair.core.figures.single.comparison import Comparison
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.figures import figure_words
from fresh_chair.core.words.overall import overall_words

FIGURES_VERSION = 11


def figures_data(weighing: Weighing) -> dict[str, Any]:
    """Every cell's figures, every comparison and the order effects, as plain data."""
    words = figure_words(weighing)
    return {
        "format": "fresh-chair-figures",
        "format_version": FIGURES_VERSION,
        "study": weighing.study.id,
        "own_evidence_only": weighing.choice.own,
        "times": weighing.choice.times,
        "rate_interval": weighing.choice.interval,
        "broken_off": {chair: list(numbers) for chair, numbers in weighing.reach.broken_off.items()},
        "not_own_evidence": len(weighing.borrowed),
        "cells": [_cell(cell) for cell in weighing.cells.values()],
        "comparisons": [_comparison(c) for listed in weighing.comparisons.values() for c in listed],
        "sentences": words.said,
        "order": [{"position": effect.position, "ratio": _estimate(effect.ratio)} for effect in weighing.positions],
        "conditions": list(words.conditions),
        "overall": overall_data(weighing),
        "thresholds": threshold_data(weighing),
        "thresholds_late_wall_ns": list(weighing.thresholds_late),
        **_more_data(weighing),
        "satisfaction": [
            {
                "chair": part.chair,
                "scores": {code: score.score for code, score in part.scores},
                "mean": _estimate(part.mean),
            }
            for part in weighing.satisfaction
        ],
    }


def _more_data(weighing: Weighing) -> dict[str, Any]:
    """Groups, own scales, preference, the machine's share and routes."""
    return {
        "groups": [
            {
                "group": group.name,
                "people": group.people,
                "asked_beforehand": weighing.study.sheet.comparing.by_group,
                "completed": {chair: _estimate(each) for chair, each in group.completed.items()},
                "measure": group.found.measure,
                "pairs": [_overall_pair(verdict) for verdict in group.found.verdicts],
            }
            for group in weighing.groups
        ],
        "own_scales": [
            {
                "question": scale.question.id,
                "points": scale.question.points,
                "margin": scale.margin,
                "means": {chair: _estimate(mean) for chair, mean in scale.means.items()},
                "pairs": [_overall_pair(verdict) for verdict in scale.found.verdicts],
            }
            for scale in weighing.own_scales
        ],
        "preference": None if weighing.preference is None else asdict(weighing.preference),
        "machine": [
            {
                **{key: value for key, value in asdict(share).items() if not key.startswith("completed_")},
                "completed_hands": _estimate(share.completed_hands),
                "completed_elapsed": _estimate(share.completed_elapsed),
            }
            for share in weighing.machine
        ],
        "elapsed": None if weighing.elapsed is None else [_overall_pair(each) for each in weighing.elapsed.verdicts],
        "routes": [
            {
                **{key: value for key, value in asdict(route).items() if key not in ("first_right", "lostness")},
                "first_right": _estimate(route.first_right),
                "lostness": _estimate(route.lostness),
            }
            for route in weighing.routes
        ],
    }


def overall_data(weighing: Weighing) -> dict[str, Any]:
    """Chairs compared over all tasks: how it was decided to be, and every number of each verdict."""
    words = overall_words(weighing)
    said = {(each.measure, each.first, each.second): each.whole for each in words.sentences}
    return {
        "primary": weighing.study.sheet.comparing.primary or None,
        "decided_late_wall_ns": list(weighing.decided_late),
        "notes": list(words.notes),
        "measures": {
            measure: {
                "attempts": found.rows,
                "dropped": list(found.dropped),
                "positions": [asdict(each) for each in found.positions],
                "pairs": [
                    {
                        **_overall_pair(verdict),
                        "people_alone": asdict(flip),
                        "sentence": said[measure, verdict.estimate.first, verdict.estimate.second],
                    }
                    for verdict, flip in zip(found.verdicts, found.flips, strict=True)
                ],
            }
            for measure, found in weighing.overall.items()
        },
    }


def _overall_pair(verdict: OverallVerdict) -> dict[str, Any]:
    """Every number of one pair's verdict."""
    return {
        **{key: value for key, value in asdict(verdict).items() if key != "estimate"},
        **{key: value for key, value in asdict(verdict.estimate).items() if key != "why"},
    }


def threshold_data(weighing: Weighing) -> list[dict[str, Any]]:
    """Each threshold of the study sheet at each chair, with the interval that says whether it is met."""
    return [
        {
            "measure": each.threshold.measure,
            "level": each.threshold.value,
            "why": each.threshold.why,
            "chair": each.chair,
            "held": each.held,
            "estimate": _estimate(each.estimate),
        }
        for each in weighing.thresholds
    ]


def _cell(cell: CellFigures) -> dict[str, Any]:
    return {
        "task": cell.card,
        "chair": cell.chair,
        "n": cell.n,
        "outcomes": {outcome.value: count for outcome, count in cell.counts.items()},
        "not_reached": cell.not_reached,
        "completed_unaided": _estimate(cell.strict),
        "completed": _estimate(cell.lenient),
        "completed_by_workaround": cell.by_workaround,
        "seconds_completed": _estimate(cell.completed_seconds),
        "seconds_all": _estimate(cell.all_seconds),
        "seconds_default": "completed" if cell.everyone_completed else "all",
        "ease": _estimate(cell.ease),
        "ease_counts": list(cell.ease_counts),
        "assists": cell.assists,
        "wrong_places": cell.wrong_places,
        "said_done_was_not": cell.said_done_was_not,
        "later_tries": cell.later_tries,
        "benchmark_seconds": cell.benchmark_seconds,
        "efficiency": cell.efficiency,
    }


def _estimate(estimate: Estimate) -> dict[str, Any]:
    data = {key: value for key, value in asdict(estimate).items() if key != "x"}
    return {"x": estimate.x, **data} if isinstance(estimate, Proportion) else data


def _comparison(comparison: Comparison) -> dict[str, Any]:
    data = asdict(comparison)
    data["task"] = data.pop("card")
    data["estimate"] = _estimate(comparison.estimate)
    return data
