"""`fresh-chair verdict`, `scorecard` and `contradictions`: the reviewer's judgement, as records and as tables."""

from dataclasses import asdict
from typing import Annotated, Literal

import typer

from fresh_chair.cli.base.study import JsonOption, StudiesArgument, StudyArgument, say, say_json, study_of
from fresh_chair.cli.evidence.study_records import group_of

verdict = group_of("verdict", "Verdicts: for whom a chair is recommended, or not, on what condition.")
scorecard = typer.Typer(help="Scorecards: criteria with weights, scores, ranks and how firm they are.")
contradictions = typer.Typer(help="Contradictions in the study's own record, and the answers to them.")
scorecard.add_typer(
    group_of("criterion", "Criteria: weights, scales, and the figures they are mapped from."), name="criteria"
)
scorecard.add_typer(group_of("score", "Your own scores, each with a reason."), name="scores")


@verdict.command("matrix")
def matrix(path: StudyArgument, json: JsonOption = False) -> None:
    """Print audiences against chairs, with the verdict that holds; empty cells are said."""
    from fresh_chair.services.judgement.verdicts import EVERYONE, verdict_matrix

    with study_of(path) as opened:
        found, letters = verdict_matrix(opened), list(opened.study.chair_by_letter)
    if json:
        cells = [
            {"audience": audience, "chair": chair, "state": line.state, **asdict(line.verdict)}
            for (audience, chair), line in found.cells.items()
        ]
        say_json({"audiences": list(found.audiences), "cells": cells, "missing": found.missing})
        return
    for audience in found.audiences:
        for letter in letters:
            line = found.cells.get((audience, letter)) or found.cells.get((EVERYONE, letter))
            said = "NO VERDICT" if line is None else f"{line.words}{', open again' if line.state != 'holds' else ''}"
            say(f"{audience}, {letter}: {said}")
    for line in found.whole:
        say(f"{line.verdict.audience or EVERYONE}: {line.words}")


@scorecard.command("show")
def show(
    path: StudyArgument,
    firm: Annotated[bool, typer.Option("--firm", help="Draw how firm each rank is, too.")] = False,
    json: JsonOption = False,
) -> None:
    """Print every scorecard with its scores, sums and ranks."""
    from fresh_chair.core.judgement.scorecard import score_words
    from fresh_chair.core.words.scorecards import firmness_sentences, rule_words
    from fresh_chair.services.figures.study_figures import weigh
    from fresh_chair.services.judgement.firmness import firmness
    from fresh_chair.services.judgement.scorecards import scorecards

    with study_of(path) as opened:
        weighing = weigh(opened)
        cards = scorecards(opened, weighing)
        drawn = [firmness(weighing, card) if firm else None for card in cards]
    titles = {chair.letter: chair.title for chair in weighing.study.chairs}
    if json:
        say_json(
            [
                {**asdict(card), "firmness": None if found is None else asdict(found)}
                for card, found in zip(cards, drawn, strict=True)
            ]
        )
        return
    if not cards:
        say("No criterion yet; scorecard criteria add puts one down.")
    for card, found in zip(cards, drawn, strict=True):
        say(f"{card.name or 'scorecard'}, for {card.audience or 'everyone'}")
        for row in card.rows:
            scores = ", ".join(f"{cell.chair} {score_words(row.criterion, cell.value)}" for cell in row.cells)
            left = "" if row.criterion.name in card.summed else "; not summed: a score is missing"
            say(
                f"  {row.criterion.name}, weight {row.criterion.weight:g}: {scores}{left} ({rule_words(row.criterion)})"
            )
        for total in card.totals:
            weighted = "-" if total.weighted is None else f"{total.weighted:.0f} of 100"
            say(f"  {titles[total.chair]}: {weighted}, rank {total.rank or '-'}")
        for said in card.twice:
            say(f"  counts twice: {said}")
        if firm:
            for said in firmness_sentences(card, found, titles):
                say(f"  {said}")


@scorecard.command("series")
def series(
    paths: StudiesArgument,
    name: Annotated[str, typer.Option("--name", help="The scorecard's name; empty for the one without.")] = "",
    audience: Annotated[str, typer.Option("--audience", help="For whom; empty for everyone.")] = "",
    json: JsonOption = False,
) -> None:
    """Rank the chairs of several studies by the same scorecard, each with its date."""
    from fresh_chair.services.judgement.series import ranked_series

    with_all = ranked_series([path.at for path in paths], name, audience)
    if json:
        say_json([asdict(each) for each in with_all.places])
        return
    for each in with_all.places:
        say(f"{each.rank or '-':>3}  {each.weighted:.0f} of 100  {each.chair}, {each.study}, {each.day}")
    for said in with_all.notes:
        say(said)


@contradictions.command("list")
def list_contradictions(path: StudyArgument, json: JsonOption = False) -> None:
    """List everything that contradicts itself, with its answer."""
    from fresh_chair.services.figures.study_figures import weigh
    from fresh_chair.services.figures.turning import turning
    from fresh_chair.services.judgement.contradictions import contradictions as listed

    with study_of(path) as opened:
        weighing = weigh(opened)
        found = listed(opened, weighing, turning(opened, weighing))
    if json:
        say_json([asdict(each) for each in found])
        return
    for each in found:
        state = "no answer" if each.answer is None else f"{each.answer.answer}: {each.answer.because}"
        say(f"[{each.key}] {each.words} ({state})")
    if not found:
        say("Nothing in the record contradicts itself.")


@contradictions.command("answer")
def answer(
    path: StudyArgument,
    key: Annotated[str, typer.Argument(metavar="KEY", help="As `list` shows it, without brackets.")],
    how: Annotated[Literal["changed", "stands"], typer.Argument(help="Whether something was changed, or it stands.")],
    because: Annotated[str, typer.Argument(help="Why, or what was changed.")],
) -> None:
    """Answer one of them, or an open point of `open-points`."""
    from fresh_chair.core.errors import InputError
    from fresh_chair.services.evidence.records import put_evidence
    from fresh_chair.services.report.telling.open_points import points_of_study

    with study_of(path, write=True) as opened:
        found = {each.key: each for each in points_of_study(opened)}
        if key not in found:
            raise InputError("There is no such contradiction or open point.", "open-points shows the keys.")
        before = found[key].answer
        given = {"about": key, "answer": how, "because": because}
        put_evidence(opened, "answer", given, record_id="" if before is None else before.id)
