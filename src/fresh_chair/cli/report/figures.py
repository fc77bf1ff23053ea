"""`figures` and `weigh`: the numbers, and their verdicts."""

from typing import Annotated, Literal

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument

OwnOption = Annotated[bool, typer.Option("--own", help="Only what was done, seen or measured.")]
TimesOption = Annotated[
    Literal["hands", "elapsed"] | None, typer.Option("--times", help="Instead of the study sheet's.")
]
IntervalOption = Annotated[
    Literal["adjusted Wald", "Clopper-Pearson"] | None,
    typer.Option("--interval", help="Of completion rates, instead of the study sheet's."),
]


def figures(
    path: StudyArgument,
    json: Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")] = False,
    own: OwnOption = False,
    times: TimesOption = None,
    interval: IntervalOption = None,
) -> None:
    """Print every cell's figures."""
    from fresh_chair.cli.report.weighing import figures_command

    figures_command(path, as_json=json, own=own, times=times, interval=interval)


def weigh(
    path: StudyArgument,
    figures: Annotated[bool, typer.Option("--figures", help="Every number below its sentence.")] = False,
    own: OwnOption = False,
    times: TimesOption = None,
    interval: IntervalOption = None,
    json: JsonOption = False,
) -> None:
    """Say how the chairs compare over all tasks."""
    from fresh_chair.cli.report.weighing import weigh_command

    weigh_command(path, as_json=json, own=own, figures=figures, times=times, interval=interval)
