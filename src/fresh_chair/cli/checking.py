"""Commands that look a study through."""

from dataclasses import asdict
from pathlib import Path

import typer

from fresh_chair.cli.base.study import StudyAddress, say, say_json, study_of
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.file.earlier_export import held_against
from fresh_chair.services.file.file_check import check_file, sound_copy
from fresh_chair.services.file.study_check import check_study


def sound_copy_command(path: StudyAddress, to: Path, *, as_json: bool) -> None:
    """`fresh-chair check --sound-copy`."""
    left_out = sound_copy(path.file, to)
    if as_json:
        say_json({"copy": str(to), "left_out": left_out})
        return
    for each in left_out:
        say(f"left out: {each}")
    say(f"{to}: {'all of it is there.' if not left_out else f'the rest is there; {len(left_out)} left out.'}")


def check_command(path: StudyAddress, earlier: Path | None, *, as_json: bool) -> None:
    """`fresh-chair check`."""
    checks = check_file(path.at)
    if earlier is not None:
        with study_of(path) as opened:
            checks.append(held_against(opened, earlier))
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
