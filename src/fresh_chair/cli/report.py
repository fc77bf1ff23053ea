"""Commands that write or print the contents of the screens."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict
from datetime import date
from pathlib import Path
from typing import Literal

import typer

from fresh_chair.cli.base.study import StudyAddress, say, say_json, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.telling import Reader
from fresh_chair.core.figures.estimate import Estimate, interval_words, rate_words
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.plan.fields import require_date
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.core.words.figures import evidence_sentences, interval_name, reach_sentences
from fresh_chair.core.words.groups import group_sentences, own_scale_sentences
from fresh_chair.core.words.overall import overall_lines, overall_words
from fresh_chair.core.words.thresholds import threshold_heading, threshold_lines
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.file_check import check_file, sound_copy
from fresh_chair.services.file.study_check import check_study
from fresh_chair.services.report.outputs import figures_json, write_export
from fresh_chair.services.report.printing import PAPERS
from fresh_chair.services.report.reports import Telling, finalize, formats_meant, write_documents
from fresh_chair.services.report.writing import staged
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.system.files import Written
from fresh_chair.services.system.language import words_in


def write_report_command(path: StudyAddress, folder: Path, telling: Telling, *, final: bool) -> None:
    """`fresh-chair report`."""
    # A language that is not there is said before anything is made.
    words_in(telling.language)
    if final:
        with study_of(path, write=True) as opened:
            for name in finalize(opened, telling, date.today().isoformat()):
                say(f"{name} is final as it is now.")
    _write(path, folder, lambda opened, beside: write_documents(opened, beside, telling, beside=opened.beside))


def telling_meant(
    reader: Reader | None, formats: str, language: str, chairs: Sequence[str], sittings: Sequence[int], until: str, *,
    own: bool, paper: str,
) -> Telling:  # fmt: skip
    """Which documents are meant by options. Raises InputError where one is none there is."""
    if paper not in PAPERS:
        raise InputError(f"The papers are {' and '.join(PAPERS)}.", "Nothing was written.")
    try:
        require_date("the day until when makers may answer", until)
    except ValueError as problem:
        raise InputError(f"{problem}.", "Nothing was written.") from problem
    size: Literal["a4", "letter"] = "letter" if paper == "letter" else "a4"
    listed = tuple(letter.upper() for letter in chairs)
    return Telling(reader, formats_meant(formats), language, listed, tuple(sittings), until, own, size)


def write_charts_command(path: StudyAddress, folder: Path, *, language: str) -> None:
    """`fresh-chair charts`."""
    from fresh_chair.services.report.charts import write_charts

    words = words_in(language)
    _write(path, folder, lambda opened, beside: write_charts(opened, beside, words))


def write_export_command(
    path: StudyAddress, folder: Path, *, with_people: bool, with_attachments: bool, redact: bool
) -> None:
    """`fresh-chair export`."""
    _write(
        path,
        folder,
        lambda opened, beside: write_export(
            opened,
            beside,
            with_people=with_people,
            with_attachments=opened.beside if with_attachments else None,
            redact=redact,
        ),
    )


def figures_command(
    path: StudyAddress, *, as_json: bool, own: bool, times: TimeMeasure | None, interval: RateInterval | None
) -> None:
    """`fresh-chair figures`."""
    with study_of(path) as opened:
        if as_json:
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


def sound_copy_command(path: StudyAddress, to: Path, *, as_json: bool) -> None:
    """`fresh-chair check --sound-copy`."""
    left_out = sound_copy(path.file, to)
    if as_json:
        say_json({"copy": str(to), "left_out": left_out})
        return
    for each in left_out:
        say(f"left out: {each}")
    say(f"{to}: {'all of it is there.' if not left_out else f'the rest is there; {len(left_out)} left out.'}")


def check_command(path: StudyAddress, *, as_json: bool) -> None:
    """`fresh-chair check`."""
    checks = check_file(path.at)
    if not any(check.problems for check in checks):
        # Judgements can be held together where all of the file can be read.
        with study_of(path) as opened:
            checks += check_study(opened)
    if as_json:
        say_json([asdict(check) for check in checks])
        if any(check.problems for check in checks):
            raise typer.Exit(1)
        return
    for check in checks:
        typer.echo(f"{check.what:<22} {check.found}")
        for problem in check.problems:
            typer.echo(f"{'':<22} ! {legible(problem)}")
        for remark in check.remarks:
            typer.echo(f"{'':<22} ? {legible(remark)}")
    wrong = sum(len(check.problems) for check in checks)
    typer.echo("Nothing is wrong with it." if not wrong else f"{count_of(wrong, 'problem')}.")
    if wrong:
        raise typer.Exit(1)


def _write(path: StudyAddress, folder: Path, write: Callable[[OpenStudy, Path], Iterator[Written]]) -> None:
    opened = open_study(path.at, write=False)
    try:
        for written in staged(folder, lambda beside: write(opened, beside)):
            typer.echo(f"{legible(str(written.path))}  {written.what}")
    finally:
        opened.close()


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
