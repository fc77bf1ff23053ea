"""Charts of judgement: findings by chair, discovery, hunches against their outcomes, and a scorecard."""

from collections.abc import Mapping, Sequence

from matplotlib.figure import Figure
from matplotlib.patches import Patch

from fresh_chair.core.figures.discovery import Discovery
from fresh_chair.core.judgement.firmness import Firmness
from fresh_chair.core.judgement.scorecard import Scorecard, part_of_scale, score_words
from fresh_chair.core.plan.study import Study
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.findings import discovery_words
from fresh_chair.draw.paper import INK, QUIET, chair_ink, new_figure, quiet_axes, ticks_within, wrapped_text

# Severity 4 to 0: the darker the graver, and the number stands in each.
_SEVERITY = {4: "#7d2f1c", 3: "#c9583a", 2: "#e2b65c", 1: "#cfc6b4", 0: "#e9e4d8"}


def findings_chart(study: Study, counts: Mapping[str, Mapping[int, int]], words: Words = ENGLISH) -> Figure:
    """How many problems newcomers met at each chair, by severity.

    Args:
        study: The plan.
        counts: By chair's letter and severity.
        words: The language.
    """
    figure = new_figure(7.4, 1.7 + 0.42 * max(len(study.chairs), 1))
    axes = figure.subplots()
    quiet_axes(axes)
    for at, chair in enumerate(study.chairs):
        left = 0
        for severity, ink in _SEVERITY.items():
            count = counts.get(chair.letter, {}).get(severity, 0)
            if count:
                axes.barh([at], [count], left=[left], color=ink, height=0.6)
                shade = "white" if severity >= 3 else INK
                axes.text(left + count / 2, at, str(count), ha="center", va="center", fontsize=8, color=shade)
            left += count
    axes.set_yticks(range(len(study.chairs)), [wrapped_text(chair.title) for chair in study.chairs])
    axes.invert_yaxis()
    handles = [
        Patch(facecolor=ink, label=words.say("severity {severity}", severity=severity))
        for severity, ink in _SEVERITY.items()
    ]
    figure.legend(handles=handles, loc="outside lower center", ncols=5, frameon=False, fontsize=8)
    ticks_within(axes)
    axes.set_xlabel(words.say("problems met by newcomers, as met"), color=QUIET)
    figure.suptitle(words.say("Findings by chair"), fontsize=11, color=INK)
    return figure


def discovery_chart(found: Discovery, words: Words = ENGLISH) -> Figure:
    """How many problems one, two, three ... people bring, averaged over all orders of them."""
    figure = new_figure(6.4, 4.6)
    axes = figure.subplots()
    quiet_axes(axes)
    people = range(1, len(found.curve) + 1)
    axes.plot(list(people), list(found.curve), color=INK, marker="o", markersize=4)
    if found.total is not None:
        axes.axhline(found.total, color=QUIET, linewidth=0.8, linestyle=(0, (3, 2)))
        said = words.say("predicted in all: {total}", total=f"{found.total:.0f}")
        axes.text(1, found.total, said, va="bottom", fontsize=8, color=QUIET)
    axes.set_xlabel(words.say("newcomers"), color=QUIET)
    axes.set_ylabel(words.say("problems met"), color=QUIET)
    axes.set_ylim(bottom=0)
    below = " ".join(discovery_words(found))
    axes.set_title(wrapped_text(below, 78), fontsize=8, color=QUIET, loc="left", pad=14)
    figure.suptitle(words.say("Discovery"), fontsize=11, color=INK)
    return figure


def hunches_chart(rows: Sequence[tuple[str, str, str]], words: Words = ENGLISH) -> Figure:
    """Each hunch and forecast against its outcome.

    Args:
        rows: The prediction, how sure it was, and its outcome.
        words: The language.
    """
    inks = {"came true": ("#4f7a33", "●"), "did not": ("#c9583a", "×")}
    figure = new_figure(8.2, 1.4 + 0.32 * max(len(rows), 1))
    axes = figure.subplots()
    axes.set_axis_off()
    for at, (what, sure, outcome) in enumerate(rows):
        ink, sign = inks.get(outcome, (QUIET, "·"))
        axes.text(0.0, -at, sign, color=ink, fontsize=10, va="center")
        axes.text(0.03, -at, wrapped_text(what, 70), fontsize=8, va="center", color=INK)
        axes.text(0.72, -at, wrapped_text(f"{outcome} ({sure})", 36), fontsize=8, va="center", color=ink)
    axes.set_xlim(0, 1)
    axes.set_ylim(-max(len(rows), 1), 1)
    figure.suptitle(words.say("Foreseen, and what happened"), fontsize=11, color=INK)
    return figure


def scorecard_chart(study: Study, card: Scorecard, firm: Firmness | None, words: Words = ENGLISH) -> Figure:
    """Each chair's scores on each criterion as parts of their scales, its weighted sum, and how firm its rank is."""
    figure = new_figure(8.6, 1.9 + 0.42 * max(len(card.rows) + 1, 1))
    axes = figure.subplots()
    quiet_axes(axes)
    labels = [f"{row.criterion.name}, weight {row.criterion.weight:g}" for row in card.rows]
    for at, row in enumerate(card.rows):
        for step, cell in enumerate(row.cells):
            if cell.value is None:
                continue
            ink = chair_ink(study.chair_by_letter[cell.chair])
            part = 100 * part_of_scale(row.criterion, cell.value)
            y = at + 0.22 * (step - (len(row.cells) - 1) / 2)
            axes.plot([part], [y], marker="o", color=ink, markersize=5)
            said = f" {cell.chair} {score_words(row.criterion, cell.value)}"
            axes.text(part + 1, y, wrapped_text(said, 30), fontsize=6, va="center", color=ink)
    last = len(card.rows)
    for step, total in enumerate(card.totals):
        if total.weighted is None or total.rank is None:
            continue
        ink, y = chair_ink(study.chair_by_letter[total.chair]), last + 0.22 * (step - (len(card.totals) - 1) / 2)
        axes.barh([y], [total.weighted], height=0.18, color=ink)
        chance = "" if firm is None else f", {100 * firm.chances[total.chair][total.rank - 1]:.0f} %"
        said = f"{total.chair}: rank {total.rank}{chance}"
        axes.text(total.weighted + 1, y, said, fontsize=7, va="center", color=ink)
    axes.set_yticks(range(last + 1), [*(wrapped_text(label) for label in labels), words.say("weighted sum")])
    axes.invert_yaxis()
    axes.set_xlim(0, 122)
    axes.set_xticks([0, 25, 50, 75, 100])
    axes.set_xlabel(words.say("part of the scale, of 100; beside a rank: its share of the draws"), color=QUIET)
    whom = card.audience or words.say("everyone")
    named = wrapped_text(words.say("Scorecard {name} for {whom}", name=card.name, whom=whom), 70)
    figure.suptitle(named, fontsize=11, color=INK)
    return figure
