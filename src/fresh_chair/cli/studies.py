"""`new`, `new-walk`, `open`, `demo`, `check`: whole studies, made, opened and looked through."""

from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import (
    JsonOption,
    LightOption,
    NewArgument,
    PlainOption,
    StudyAddress,
    StudyArgument,
    study_address,
)
from fresh_chair.cli.opening import open_on_screen, require_terminal
from fresh_chair.core.text import count_of


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


def open_study(
    path: StudyArgument,
    plain: PlainOption = False,
    light: LightOption = False,
    observer: Annotated[str, typer.Option("--observer", metavar="NAME", help="Watch beside the moderator.")] = "",
    rater: Annotated[str, typer.Option("--rater", metavar="NAME", help="Rate findings, unseen by others.")] = "",
) -> None:
    """Open a study on the screen."""
    raise typer.Exit(open_on_screen(path.at, plain=plain, light=light, observer=observer, rater=rater))


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


def check(
    path: StudyArgument,
    sound_copy: Annotated[
        Path | None,
        typer.Option(
            "--sound-copy", metavar="TO", help="Copy what is sound in it into a new file.", show_default=False
        ),
    ] = None,
    earlier: Annotated[
        Path | None,
        typer.Option(
            "--earlier",
            metavar="STUDY.JSON",
            help="Hold the entries on a server against an export that was made earlier.",
            show_default=False,
        ),
    ] = None,
    json: JsonOption = False,
) -> None:
    """Check a study from end to end, and print the problems."""
    from fresh_chair.cli.checking import check_command, sound_copy_command

    if sound_copy is not None:
        sound_copy_command(path, sound_copy, as_json=json)
    else:
        check_command(path, earlier, as_json=json)
