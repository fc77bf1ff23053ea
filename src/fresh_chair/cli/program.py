"""The program's commands, and which of them a command line needs."""

from importlib import import_module
from typing import Annotated

import typer

from fresh_chair import __version__
from fresh_chair.cli.base.study import LightOption, PlainOption
from fresh_chair.cli.opening import choose_on_screen

# Every command or group, in the order in which --help lists them, with its module and the name it has there.
COMMANDS = {
    "new": "studies:new",
    "new-walk": "studies:new_walk_command",
    "open": "studies:open_study",
    "demo": "studies:demo",
    "plan": "plan:plan",
    "script": "script:script",
    "library": "script:library",
    "people": "people:people",
    "chairs": "chairs:chairs",
    "hunches": "chairs:hunches",
    "bench": "chairs:bench",
    "probe": "chair_log:probe",
    "drift": "probe:drift",
    "checks": "probe:checks",
    "records": "evidence.records:records",
    "references": "evidence.groups:references",
    "against": "evidence.groups:against",
    "changes": "evidence.groups:changes",
    "inventory": "evidence.groups:inventory",
    "links": "evidence.groups:links",
    "forecast": "evidence.groups:forecast",
    "advice": "evidence.groups:advice",
    "disclosure": "evidence.groups:disclosure",
    "paragraph": "evidence.groups:paragraph",
    "choice": "evidence.groups:choice",
    "reply": "evidence.groups:reply",
    "evidence": "evidence.texts:evidence",
    "verdict": "evidence.judgements:verdict",
    "scorecard": "evidence.judgements:scorecard",
    "contradictions": "evidence.judgements:contradictions",
    "later": "evidence.later:later",
    "sitting": "observing:sitting",
    "walk": "walks:walk",
    "walks": "walks:walks",
    "finding": "finding.judgements:finding",
    "print": "plan:print_command",
    "figures": "report.figures:figures",
    "weigh": "report.figures:weigh",
    "report": "report.documents:report",
    "charts": "report.documents:charts",
    "export": "report.documents:export",
    "trace": "report.documents:trace",
    "open-points": "report.documents:open_points",
    "check": "studies:check",
    "server": "server.servers:server",
    "studies": "server.servers:studies",
    "move": "server.moving:move",
    "reserve": "server.stations:reserve",
    "stations": "server.stations:stations",
}


def program(first_word: str = "") -> typer.Typer:
    """The command line.

    Args:
        first_word: What it begins with. Where that is a command, nothing else is loaded: all of them take three times
            as long to come as the one that is meant.
    """
    app = typer.Typer(
        name="fresh-chair",
        help="Time newcomers at freshly booted desktops, and say honestly which served them better.",
        no_args_is_help=False,
        add_completion=True,
        rich_markup_mode=None,
        pretty_exceptions_enable=False,
    )
    app.callback(invoke_without_command=True)(start)
    for name in (first_word,) if first_word in COMMANDS else COMMANDS:
        module, _, attribute = COMMANDS[name].partition(":")
        found = getattr(import_module(f"fresh_chair.cli.{module}"), attribute)
        if isinstance(found, typer.Typer):
            app.add_typer(found, name=name)
        else:
            app.command(name)(found)
    if first_word not in COMMANDS:
        app.command()(manual)
    return app


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"fresh-chair {__version__}")
        raise typer.Exit


def start(
    context: typer.Context,
    plain: PlainOption = False,
    light: LightOption = False,
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Say the version.")
    ] = False,
) -> None:
    """Open the start screen where no command is given."""
    if context.invoked_subcommand is not None:
        return
    raise typer.Exit(choose_on_screen(plain=plain, light=light))


def manual() -> None:
    """Print the manual page; see it with: fresh-chair manual | man -l -"""
    from fresh_chair.cli.manual import manual as made

    typer.echo(made(program()).rstrip("\n"))
