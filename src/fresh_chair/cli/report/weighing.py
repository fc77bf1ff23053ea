"""Commands that print figures and verdicts."""

import typer

from fresh_chair.cli.base.study import StudyAddress, say, say_json, study_of
from fresh_chair.core.figures.estimate import Estimate, interval_words, rate_words
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.figures import evidence_sentences, interval_name, reach_sentences
from fresh_chair.core.words.groups import group_sentences, own_scale_sentences
from fresh_chair.core.words.overall import overall_lines, overall_words
from fresh_chair.core.words.thresholds import threshold_heading, threshold_lines
from fresh_chair.services.figures.study_figures import weigh


def figures_command(
    path: StudyAddress, *, as_json: bool, own: bool, times: TimeMeasure | None, interval: RateInterval | None
) -> None:
    """`fresh-chair figures`."""
    with study_of(path) as opened:
        if as_json:
            from fresh_chair.services.report.outputs import figures_json

            typer.echo(figures_json(opened, own=own, times=times, interval=interval))
        else:
            _table(weigh(opened, own=own, times=times, interval=interval))


def weigh_command(
    path: StudyAddress,
    *,
    as_json: bool,
    own: bool,
    figures: bool,
    times: TimeMeasure | None,
    interval: RateInterval | None,
) -> None:
    """`fresh-chair weigh`."""
    with study_of(path) as opened:
        weighing = weigh(opened, own=own, times=times, interval=interval)
        if as_json:
            from fresh_chair.tell.figure_data import overall_data, threshold_data

            late = list(weighing.thresholds_late)
            held = {"thresholds": threshold_data(weighing), "thresholds_late_wall_ns": late}
            say_json({"overall": overall_data(weighing), **held})
            return
        said = overall_words(weighing)
        for note in said.notes:
            say(note)
        if weighing.thresholds_late:
            say(threshold_heading(weighing))
        for line in threshold_lines(weighing):
            say(f"good enough: {line.threshold}")
            for letter, _, state, figure in line.chairs:
                typer.echo(f"  {letter}  {state:<8} {legible(figure)}")
        for heading, sentence in overall_lines(said.sentences):
            if heading:
                typer.echo()
                say(heading)
            say(f"  {sentence.whole}")
            if figures:
                say(f"    {sentence.figures}")
        for heading, sentences in (*own_scale_sentences(weighing), *group_sentences(weighing)):
            typer.echo()
            say(heading)
            for told in sentences:
                say(f"  {told}")
        if not said.sentences:
            say("It takes two chairs to compare.")


def _table(weighing: Weighing) -> None:
    titles = {card.id: card.title for card in weighing.study.cards}
    times = f"{weighing.choice.times} seconds"
    typer.echo(f"{'task':<30}{'chair':<7}{'completed':<26}{times:<26}{'ease':<20}")
    for cell in weighing.cells.values():
        time = _spread(cell.default_seconds, 0) + ("" if cell.everyone_completed or not cell.n else " *")
        typer.echo(
            f"{clipped(legible(titles[cell.card]), 29):<30}{cell.chair:<7}{rate_words(cell.lenient):<26}{time:<26}"
            f"{_spread(cell.ease, 1):<20}"
        )
        if cell.by_workaround:
            typer.echo(f"{'':<37}{cell.by_workaround} of them only by a workaround")
        if cell.not_reached:
            typer.echo(f"{'':<37}never reached by {cell.not_reached}")
    interval = interval_name(weighing.choice.interval)
    typer.echo(f"\ncompleted: unaided or with help, {interval}. {times}: geometric mean of completed;")
    typer.echo("* not all completed: Kaplan-Meier median of all attempts. All intervals 95 %.")
    for sentence in (*reach_sentences(weighing), *evidence_sentences(weighing)):
        typer.echo(sentence)


def _spread(estimate: Estimate, places: int) -> str:
    if estimate.value is None:
        return estimate.note or "-"
    if estimate.low is None:
        return f"{estimate.value:.{places}f}, n {estimate.n}"
    shape = f".{places}f"
    return f"{estimate.value:{shape}} ({interval_words(estimate.low, estimate.high, shape)}) n {estimate.n}"
