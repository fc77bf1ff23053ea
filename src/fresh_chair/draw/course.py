"""Charts of the course of attempts: the machine's share, and the ways people went."""

from collections.abc import Sequence

from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.patches import Patch

from fresh_chair.core.figures.course.routes import RouteEdge, RouteFigures
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.draw.paper import (
    INK,
    OUTCOME_FILL,
    QUIET,
    RULE,
    chair_ink,
    new_figure,
    quiet_axes,
    ticks_within,
    wrapped_text,
)

# Waits by how they looked, told apart by hatching as well as by colour.
_WAITS = (("shown", "#9db7c4", ""), ("silent", "#4d7f93", "//"), ("frozen", "#22505f", "xx"), ("not said", RULE, ".."))


def waits_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """Seconds of waiting of an attempt, by task and chair, by how the wait looked."""
    study = weighing.study
    rows = [share for share in weighing.machine if share.card and share.attempts]
    figure = new_figure(8.2, 1.8 + 0.24 * max(len(rows), 1) + 0.1 * len(study.cards))
    axes = figure.subplots()
    quiet_axes(axes)
    titles = {card.id: card.title for card in study.cards}
    labels, at, before = [], 0.0, ""
    bars: list[list[tuple[float, float, float]]] = [[] for _ in _WAITS]
    for share in rows:
        at += 0.6 if before and share.card != before else 0.0
        label = f"{titles[share.card]}, {share.chair}" if share.card != before else share.chair
        before = share.card
        known = (share.shown_seconds, share.silent_seconds, share.frozen_seconds)
        left = 0.0
        for kind, seconds in enumerate((*known, max(share.wait_seconds - sum(known), 0.0))):
            if seconds:
                bars[kind].append((at, seconds / share.attempts, left))
            left += seconds / share.attempts
        axes.plot([0], [at], marker="s", color=chair_ink(study.chair_by_letter[share.chair]), markersize=5)
        labels.append((at, wrapped_text(label, 40)))
        at += 1
    for (_, ink, hatch), drawn in zip(_WAITS, bars, strict=True):
        if drawn:
            rows_at, widths, lefts = zip(*drawn, strict=True)
            axes.barh(rows_at, widths, left=lefts, color=ink, hatch=hatch, edgecolor="white", linewidth=0, height=0.7)
    if labels:
        axes.set_yticks([y for y, _ in labels], [label for _, label in labels])
        axes.invert_yaxis()
    names = (words.say("shown progress"), words.say("silent"), words.say("believed frozen"), words.say("not said"))
    handles = [
        Patch(facecolor=ink, hatch=hatch, edgecolor="white", label=name)
        for (_, ink, hatch), name in zip(_WAITS, names, strict=True)
    ]
    figure.legend(handles=handles, loc="outside lower center", ncols=4, frameon=False, fontsize=8)
    ticks_within(axes)
    axes.set_xlabel(words.say("seconds of waiting an attempt"), color=QUIET)
    figure.suptitle(words.say("The machine's share"), fontsize=11, color=INK)
    return figure


def routes_chart(weighing: Weighing, words: Words = ENGLISH) -> Figure:
    """The graph of places of every task and chair where they were logged: lines as wide as the way was taken."""
    gone = [route for route in weighing.routes if route.edges]
    chairs = [chair.letter for chair in weighing.study.chairs]
    cards = list(dict.fromkeys(route.card for route in gone))
    figure = new_figure(3.4 * max(len(chairs), 1), 0.9 + 3.6 * max(len(cards), 1))
    titles = {card.id: card.title for card in weighing.study.cards}
    grid = figure.subplots(max(len(cards), 1), max(len(chairs), 1), squeeze=False)
    by_cell = {(route.card, route.chair): route for route in gone}
    for row, card in enumerate(cards or [""]):
        for column, letter in enumerate(chairs):
            axes = grid[row][column]
            axes.set_axis_off()
            axes.set_xticks([])
            axes.set_yticks([])
            route = by_cell.get((card, letter))
            if route is None:
                continue
            chair = weighing.study.chair_by_letter[letter]
            title = wrapped_text(f"{titles[card]}, {chair.title}", 34)
            axes.set_title(title, fontsize=8, color=chair_ink(chair), loc="left")
            _graph(axes, route, chair_ink(chair))
    figure.suptitle(words.say("The ways people went, from the top down"), fontsize=11, color=INK)
    return figure


def _graph(axes: Axes, route: RouteFigures, ink: str) -> None:
    """Places in layers by how soon they are reached; ends beneath, with their outcome's sign."""
    places = _layers(route.edges)
    deepest = max((depth for depth, _ in places.values()), default=0)
    most = max(edge.attempts for edge in route.edges)
    for edge in route.edges:
        depth, x = places[edge.origin]
        if edge.end is not None:
            axes.annotate(
                f"{edge.end.sign} {edge.attempts}",
                (x + 0.03, -depth - 0.12),
                fontsize=7,
                color=OUTCOME_FILL[edge.end],
                va="top",
            )
            continue
        to_depth, to_x = places[edge.target]
        bend = 0.25 if to_depth <= depth else 0.08
        axes.annotate(
            "",
            (to_x, -to_depth + 0.14),
            (x, -depth - 0.1),
            arrowprops={
                "arrowstyle": "-|>",
                "linewidth": 0.6 + 2.6 * edge.attempts / most,
                "color": ink,
                "alpha": 0.7,
                "connectionstyle": f"arc3,rad={bend}",
            },
        )
        axes.text((x + to_x) / 2 + 0.02, -(depth + to_depth) / 2, str(edge.attempts), fontsize=6, color=QUIET)
    for place, (depth, x) in places.items():
        label = wrapped_text(place or "begins", 12)
        ground = {"facecolor": "white", "edgecolor": "none", "pad": 0.6}
        axes.text(x, -depth, label, ha="center", va="center", fontsize=7, color=INK, bbox=ground)
    axes.set_xlim(-0.15, 1.15)
    axes.set_ylim(-deepest - 0.6, 0.5)


def _layers(edges: Sequence[RouteEdge]) -> dict[str, tuple[int, float]]:
    """The layer of each place, by the fewest ways from the beginning, and where across it stands."""
    depth, waiting = {"": 0}, [""]
    while waiting:
        place = waiting.pop(0)
        for edge in edges:
            if edge.origin == place and edge.end is None and edge.target not in depth:
                depth[edge.target] = depth[place] + 1
                waiting.append(edge.target)
    rows: dict[int, list[str]] = {}
    for place, layer in depth.items():
        rows.setdefault(layer, []).append(place)
    found = {}
    for layer, listed in rows.items():
        for at, place in enumerate(listed):
            found[place] = layer, 0.5 if len(listed) == 1 else at / (len(listed) - 1)
    return found
