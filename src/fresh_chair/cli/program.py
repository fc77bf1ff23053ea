"""The program's commands."""

from pathlib import Path
from typing import Annotated

import typer

from fresh_chair import __version__
from fresh_chair.cli.chairs import bench, chairs, hunches
from fresh_chair.cli.ledgers import chair_log, findings
from fresh_chair.cli.opening import open_on_screen, require_terminal
from fresh_chair.cli.people import people
from fresh_chair.cli.plan import plan, print_command
from fresh_chair.cli.probe import checks, drift, probe
from fresh_chair.cli.records import records
from fresh_chair.cli.script import library, script
from fresh_chair.cli.sitting import sitting
from fresh_chair.cli.study import JsonOption, StudyArgument, folder_named
from fresh_chair.core.text import count_of

app = typer.Typer(
    name="fresh-chair",
    help="Time newcomers at freshly booted desktops, and say honestly which served them better.",
    no_args_is_help=False,
    add_completion=True,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)

app.add_typer(plan, name="plan")
app.add_typer(script, name="script")
app.add_typer(library, name="library")
app.add_typer(people, name="people")
app.add_typer(chairs, name="chairs")
app.add_typer(hunches, name="hunches")
app.add_typer(bench, name="bench")
app.add_typer(probe, name="probe")
app.command("drift")(drift)
app.add_typer(checks, name="checks")
app.add_typer(records, name="records")
probe.command("log")(chair_log)
app.add_typer(sitting, name="sitting")
app.add_typer(findings, name="findings")
app.command("print")(print_command)

FolderOption = Annotated[
    Path,
    typer.Option("--to", metavar="DIR", parser=folder_named, help="The folder to write into.", show_default=False),
]
PlainOption = Annotated[bool, typer.Option("--plain", help="Draw with ASCII signs only.")]
LightOption = Annotated[bool, typer.Option("--light", help="Start in daylight colours.")]


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"fresh-chair {__version__}")
        raise typer.Exit


@app.callback(invoke_without_command=True)
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
    from fresh_chair.core.errors import FreshChairError
    from fresh_chair.store.recent import RecentStudies
    from fresh_chair.tui.start import Start

    require_terminal()
    problem: FreshChairError | None = None
    while True:
        chosen = Start(RecentStudies(), problem=problem, light=light).run()
        if chosen is None:
            return
        try:
            code = open_on_screen(chosen.path, plain=plain, light=light)
        except FreshChairError as failed:
            problem = failed
        else:
            raise typer.Exit(code)


@app.command()
def new(
    path: Annotated[Path, typer.Argument(metavar="FILE", help="The file to make.", show_default=False)],
    title: Annotated[str | None, typer.Option("--title", help="What the study is called.", show_default=False)] = None,
    outline: Annotated[
        Path | None,
        typer.Option("--outline", metavar="TOML", help="An outline: chairs, cards, people.", show_default=False),
    ] = None,
) -> None:
    """Make a new study file, empty or from an outline."""
    from fresh_chair.services.file.new_study import new_study

    study = new_study(path, title=title, outline=outline)
    typer.echo(
        f"{path}: {count_of(len(study.people), 'person', 'people')}, {count_of(len(study.chairs), 'chair')}, "
        f"{count_of(len(study.cards), 'card')}, {count_of(len(study.seats), 'sitting')} planned."
    )


@app.command("open")
def open_study(
    path: StudyArgument,
    plain: PlainOption = False,
    light: LightOption = False,
    observer: Annotated[str, typer.Option("--observer", metavar="NAME", help="Watch beside the moderator.")] = "",
) -> None:
    """Open a study on the screen."""
    raise typer.Exit(open_on_screen(path, plain=plain, light=light, observer=observer))


@app.command()
def demo(
    to: Annotated[Path, typer.Option("--to", metavar="FILE", help="The file to make.")] = Path("tern-harbour.fresh"),
    no_open: Annotated[bool, typer.Option("--no-open", help="Make it, and open nothing.")] = False,
    plain: PlainOption = False,
    light: LightOption = False,
    chair: Annotated[bool, typer.Option("--chair", help="Serve a stand-in chair over SSH instead.")] = False,
    letter: Annotated[str, typer.Option("--letter", help="Which chair it stands in for.")] = "B",
    port: Annotated[int, typer.Option("--port", min=1, max=65_535, help="Where it listens.")] = 2299,
) -> None:
    """Make the demo study, a made-up one to look at and to practise on, and open it."""
    if chair:
        from fresh_chair.services.chair.stand_in import serve_demo_chair

        serve_demo_chair(letter, port, lambda line: typer.echo(line, color=False))
        return
    from fresh_chair.services.file.new_study import new_demo

    if not no_open:
        require_terminal()
    new_demo(to)
    if no_open:
        typer.echo(f"{to}: the demo study. Open it with: fresh-chair open {to}")
    else:
        raise typer.Exit(open_on_screen(to, plain=plain, light=light))


@app.command()
def report(
    path: StudyArgument,
    to: FolderOption,
    language: Annotated[str, typer.Option("--language", metavar="CODE", help="Whose sentences to write.")] = "en",
) -> None:
    """Write charts (SVG, PDF) and a short report (Markdown, HTML)."""
    from fresh_chair.cli.report import write_report_command

    write_report_command(path, to, language=language)


@app.command()
def export(
    path: StudyArgument,
    to: FolderOption,
    with_people: Annotated[
        bool, typer.Option("--with-people", help="Also what is known of people beside their codes.")
    ] = False,
) -> None:
    """Write the open data: attempts.csv, answers.csv, marks.csv, snags.csv, study.json."""
    from fresh_chair.cli.report import write_export_command

    write_export_command(path, to, with_people=with_people)


@app.command()
def figures(
    path: StudyArgument,
    json: Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")] = False,
) -> None:
    """Print every cell's figures."""
    from fresh_chair.cli.report import figures_command

    figures_command(path, as_json=json)


@app.command()
def manual() -> None:
    """Print the manual page; see it with: fresh-chair manual | man -l -"""
    from fresh_chair.cli.manual import manual as made

    typer.echo(made(app).rstrip("\n"))


@app.command()
def check(
    path: StudyArgument,
    sound_copy: Annotated[
        Path | None,
        typer.Option(
            "--sound-copy", metavar="TO", help="Copy what is sound in it into a new file.", show_default=False
        ),
    ] = None,
    json: JsonOption = False,
) -> None:
    """Check a study file from end to end, and print the problems."""
    from fresh_chair.cli.report import check_command, sound_copy_command

    if sound_copy is not None:
        sound_copy_command(path, sound_copy, as_json=json)
    else:
        check_command(path, as_json=json)
