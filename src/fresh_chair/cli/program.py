"""The program's commands."""

from pathlib import Path
from typing import Annotated, Literal

import typer

from fresh_chair import __version__
from fresh_chair.cli.base.study import JsonOption, NewArgument, StudyAddress, StudyArgument, study_address
from fresh_chair.cli.chair_log import chair_log
from fresh_chair.cli.chairs import bench, chairs, hunches
from fresh_chair.cli.documents import FolderOption, open_points, report, trace
from fresh_chair.cli.evidence.judgements import contradictions, scorecard, verdict
from fresh_chair.cli.evidence.later import later
from fresh_chair.cli.evidence.records import records
from fresh_chair.cli.evidence.study_records import add_grid, add_links_of, add_predictions, add_succession, group_of
from fresh_chair.cli.evidence.texts import evidence
from fresh_chair.cli.finding.judgements import finding
from fresh_chair.cli.observing import bring, leave_mark, see_outcome, take_mark
from fresh_chair.cli.opening import choose_on_screen, open_on_screen, require_terminal
from fresh_chair.cli.people import people
from fresh_chair.cli.plan import plan, print_command
from fresh_chair.cli.probe import checks, drift, probe
from fresh_chair.cli.script import library, script
from fresh_chair.cli.server.moving import move
from fresh_chair.cli.server.servers import server, studies
from fresh_chair.cli.server.stations import reserve, stations
from fresh_chair.cli.sitting import sitting
from fresh_chair.cli.walks import walk, walks
from fresh_chair.core.text import count_of

_EVIDENCE = (
    ("references", "reference", "References: named things that chairs are compared with and nobody sits at here."),
    (
        "against",
        "against",
        "Comparisons: better, worse, as it was, new here, gone, ... against a reference or a chair.",
    ),
    ("changes", "change", "Changes that a release brings, announced or found."),
    ("inventory", "inventory", "What is there for a purpose at each chair, and what is not."),
    ("links", "link", "Links: because of, excused by, contradicts, speaks for, speaks against, mended by, same as."),
    ("forecast", "forecast", "Forecasts: what will happen, by when, how sure; sealed, and what came of them."),
    ("advice", "advice", "Advice to people, to makers, to oneself."),
    ("disclosure", "disclosure", "On which terms each chair was had, and what its edition costs."),
    ("paragraph", "paragraph", "Your own paragraphs in documents: a foreword, a remark at a section or figure."),
    ("choice", "choice", "Quotes and pictures that are shown first in documents, or left out."),
    ("reply", "reply", "Makers' answers to a draft."),
)
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
for name, kind, words in _EVIDENCE:
    group = group_of(kind, words)
    if kind == "link":
        add_links_of(group)
    if kind == "inventory":
        add_grid(group)
    if kind == "change":
        add_succession(group)
    if kind == "forecast":
        add_predictions(group)
    app.add_typer(group, name=name)
app.add_typer(evidence, name="evidence")
app.add_typer(verdict, name="verdict")
app.add_typer(scorecard, name="scorecard")
app.add_typer(contradictions, name="contradictions")
app.add_typer(later, name="later")
probe.command("log")(chair_log)
sitting.command("seen")(see_outcome)
sitting.command("take-mark")(take_mark)
sitting.command("leave-mark")(leave_mark)
sitting.command("bring")(bring)
app.add_typer(sitting, name="sitting")
app.command("walk")(walk)
app.add_typer(walks, name="walks")
app.add_typer(finding, name="finding")
app.command("print")(print_command)
app.command("report")(report)
app.command("trace")(trace)
app.command("open-points")(open_points)
app.add_typer(server, name="server")
app.command("studies")(studies)
app.command("move")(move)
app.command("reserve")(reserve)
app.command("stations")(stations)

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
    raise typer.Exit(choose_on_screen(plain=plain, light=light))


@app.command()
def new(
    path: NewArgument,
    title: Annotated[str | None, typer.Option("--title", help="What the study is called.", show_default=False)] = None,
    outline: Annotated[
        Path | None,
        typer.Option("--outline", metavar="TOML", help="An outline: chairs, cards, people.", show_default=False),
    ] = None,
    again: Annotated[
        StudyAddress | None,
        typer.Option("--again", metavar="STUDY", parser=study_address, help="A study: test again what of it is to be."),
    ] = None,
) -> None:
    """Make a new study: empty, from an outline, or again from another one."""
    from fresh_chair.services.file.again_study import again_study
    from fresh_chair.services.file.new_study import new_study

    if again is not None and outline is not None:
        raise typer.BadParameter("a study begins from an outline or again from another study, not from both")
    if again is not None:
        study = again_study(path.at, again.at, title=title or "")
    else:
        study = new_study(path.at, title=title, outline=outline)
    typer.echo(
        f"{path}: {count_of(len(study.people), 'person', 'people')}, {count_of(len(study.chairs), 'chair')}, "
        f"{count_of(len(study.cards), 'card')}, {count_of(len(study.seats), 'sitting')} planned."
    )


@app.command("new-walk")
def new_walk_command(
    path: NewArgument,
    through: Annotated[str, typer.Option("--through", help="distribution | release | desktop.", show_default=False)],
    reviewer: Annotated[str, typer.Option("--reviewer", metavar="CODE", help="Whose walk it is.")] = "R1",
    machine: Annotated[str, typer.Option("--machine", help="On which machine.")] = "not known",
    template: Annotated[str, typer.Option("--template", help="tour, battery, first look or contest.")] = "tour",
) -> None:
    """Make a study for a walk through one chair, with a list to start from."""
    from fresh_chair.services.file.new_walk import new_walk

    study = new_walk(path.at, reviewer=reviewer, through=through, machine=machine, template=template)
    typer.echo(f"{path}: {count_of(len(study.cards), 'card')}. Walk with: fresh-chair walk {path} A")


@app.command("open")
def open_study(
    path: StudyArgument,
    plain: PlainOption = False,
    light: LightOption = False,
    observer: Annotated[str, typer.Option("--observer", metavar="NAME", help="Watch beside the moderator.")] = "",
    rater: Annotated[str, typer.Option("--rater", metavar="NAME", help="Rate findings, unseen by others.")] = "",
) -> None:
    """Open a study on the screen."""
    raise typer.Exit(open_on_screen(path.at, plain=plain, light=light, observer=observer, rater=rater))


@app.command()
def demo(
    to: Annotated[Path, typer.Option("--to", metavar="FILE", help="The file to make.")] = Path("tern-harbour.fresh"),
    no_open: Annotated[bool, typer.Option("--no-open", help="Make it, and open nothing.")] = False,
    walk: Annotated[bool, typer.Option("--walk", help="A reviewer's own walk instead of newcomers' sittings.")] = False,
    second: Annotated[bool, typer.Option("--second", help="A second round: 24 people, every verdict.")] = False,
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
    from fresh_chair.services.file.new_study import new_demo, new_second_round
    from fresh_chair.services.file.new_walk import new_walk_demo

    if not no_open:
        require_terminal()
    if walk:
        new_walk_demo(to)
    elif second:
        new_second_round(to)
    else:
        new_demo(to)
    if no_open:
        typer.echo(f"{to}: the demo study. Open it with: fresh-chair open {to}")
    else:
        raise typer.Exit(open_on_screen(to, plain=plain, light=light))


@app.command()
def export(
    path: StudyArgument,
    to: FolderOption,
    with_people: Annotated[
        bool, typer.Option("--with-people", help="Also what is known of people beside their codes.")
    ] = False,
    with_attachments: Annotated[
        bool, typer.Option("--with-attachments", help="Also the attached files, and their names.")
    ] = False,
    redact: Annotated[
        bool, typer.Option("--redact", help="Without quotes, words about people, observers' names, locations.")
    ] = False,
) -> None:
    """Write the open data: attempts, answers, marks, snags and walks as CSV, and study.json."""
    from fresh_chair.cli.report import write_export_command

    write_export_command(path, to, with_people=with_people, with_attachments=with_attachments, redact=redact)


@app.command()
def charts(
    path: StudyArgument,
    to: Annotated[Path, typer.Option("--to", metavar="FOLDER", help="Where the files go.")],
    language: Annotated[str, typer.Option("--language", help="Of the words in them.")] = "",
) -> None:
    """Write every chart as SVG and as PDF."""
    from fresh_chair.cli.report import write_charts_command

    write_charts_command(path, to, language=language)


OwnOption = Annotated[bool, typer.Option("--own", help="Only what was done, seen or measured.")]
TimesOption = Annotated[
    Literal["hands", "elapsed"] | None, typer.Option("--times", help="Instead of the study sheet's.")
]
IntervalOption = Annotated[
    Literal["adjusted Wald", "Clopper-Pearson"] | None,
    typer.Option("--interval", help="Of completion rates, instead of the study sheet's."),
]


@app.command()
def figures(
    path: StudyArgument,
    json: Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")] = False,
    own: OwnOption = False,
    times: TimesOption = None,
    interval: IntervalOption = None,
) -> None:
    """Print every cell's figures."""
    from fresh_chair.cli.report import figures_command

    figures_command(path, as_json=json, own=own, times=times, interval=interval)


@app.command()
def weigh(
    path: StudyArgument,
    figures: Annotated[bool, typer.Option("--figures", help="Every number below its sentence.")] = False,
    own: OwnOption = False,
    times: TimesOption = None,
    interval: IntervalOption = None,
    json: JsonOption = False,
) -> None:
    """Say how the chairs compare over all tasks."""
    from fresh_chair.cli.report import weigh_command

    weigh_command(path, as_json=json, own=own, figures=figures, times=times, interval=interval)


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
