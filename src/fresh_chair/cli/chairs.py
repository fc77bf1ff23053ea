"""`fresh-chair chairs`, `hunches` and `bench`: the machines on the table, and predictions about them."""

from dataclasses import asdict
from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, LetterArgument, StudyArgument, say, say_json, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.text import count_of

chairs = typer.Typer(help="The chairs of a study.", no_args_is_help=True)
hunches = typer.Typer(help="What is predicted before anyone sits down.", no_args_is_help=True)
bench = typer.Typer(help="The fixtures the cards ask for.", no_args_is_help=True)


@chairs.command("list")
def list_chairs(path: StudyArgument, json: JsonOption = False) -> None:
    """List the chairs with their machines and the records carried over with them."""
    with study_of(path) as opened:
        study = opened.study
    if json:
        machines = {machine.id: asdict(machine) for machine in study.machines}
        carried = [asdict(finding) for finding in study.carried]
        listed = [{**asdict(chair), "machine": machines[chair.machine]} for chair in study.chairs]
        say_json({"chairs": listed, "carried": carried})
        return
    for chair in study.chairs:
        say(f"{chair.letter}  {chair.title:<26}  {chair.desktop:<18}  {study.machine_of(chair).name}")


@chairs.command()
def add(
    path: StudyArgument,
    name: Annotated[str, typer.Argument(help="The distribution.")],
    release: Annotated[str, typer.Argument(help="Its release.")],
    desktop: Annotated[str, typer.Argument(help="Its desktop.")],
    machine: Annotated[str, typer.Option("--machine", help="Id of a machine; a new one where it is left out.")] = "",
) -> None:
    """Add a chair."""
    from fresh_chair.services.plan.chairs import add_chair

    with study_of(path, write=True) as opened:
        say(f"{add_chair(opened, name, release, desktop, machine=machine).letter}")


@chairs.command()
def copy(path: StudyArgument, letter: LetterArgument) -> None:
    """Add a chair like another one."""
    from fresh_chair.services.plan.chairs import copy_chair

    with study_of(path, write=True) as opened:
        say(f"{copy_chair(opened, letter).letter}")


@chairs.command()
def carry(
    path: StudyArgument,
    other: Annotated[Path, typer.Argument(metavar="OTHER", help="Another study file.", show_default=False)],
    letter: LetterArgument,
) -> None:
    """Carry a chair over from another study, with its machine and the records made there."""
    from fresh_chair.services.file.carrying import carry_over

    with study_of(path, write=True) as opened:
        chair, carried = carry_over(opened, other, letter)
        found = count_of(carried.findings, "finding or delight", "findings and delights")
        say(f"{chair.letter}  {chair.title}: {found}, {count_of(carried.records, 'record')} carried over")


@chairs.command()
def remove(path: StudyArgument, letter: LetterArgument) -> None:
    """Take out a chair without sittings."""
    from fresh_chair.services.plan.chairs import remove_chair

    with study_of(path, write=True) as opened:
        remove_chair(opened, letter)


@hunches.command("list")
def list_hunches(path: StudyArgument, json: JsonOption = False) -> None:
    """List the hunches."""
    with study_of(path) as opened:
        found = opened.hunches
    if json:
        say_json([asdict(hunch) for hunch in found])
        return
    for hunch in found:
        state = "late" if hunch.late else "sealed" if hunch.sealed_wall_ns is not None else "open"
        say(f"{hunch.card:<22}{hunch.chair}  {hunch.severity}  {state:<8}{hunch.words}")


@hunches.command("add")
def add_hunch(
    path: StudyArgument,
    card: Annotated[str, typer.Argument(help="The card's id.")],
    letter: LetterArgument,
    severity: Annotated[int, typer.Argument(min=0, max=4, help="0 to 4.")],
    words: Annotated[str, typer.Argument(help="What will trip people.")],
) -> None:
    """Predict a trouble at one card and chair."""
    from fresh_chair.services.plan.preparation import write_hunch

    with study_of(path, write=True) as opened:
        hunch = write_hunch(opened, card, letter, words, severity)
        say("Added as late: somebody has sat at this chair." if hunch.late else "Written; not sealed yet.")


@hunches.command()
def seal(
    path: StudyArgument,
    letters: Annotated[list[str] | None, typer.Argument(metavar="CHAIR...", help="All if none.")] = None,
) -> None:
    """Seal every open hunch; it cannot change afterwards."""
    from fresh_chair.services.plan.preparation import seal_hunches

    with study_of(path, write=True) as opened:
        say(f"{seal_hunches(opened, letters or list(opened.study.chair_by_letter))} sealed.")


@bench.command("list")
def list_fixtures(path: StudyArgument, json: JsonOption = False) -> None:
    """List every fixture, whether it is there, and who asks for it."""
    from fresh_chair.core.plan.fixtures import bench_of

    with study_of(path) as opened:
        found = bench_of(opened.study, opened.fixture_checks)
    if json:
        say_json([asdict(fixture) for fixture in found])
        return
    for fixture in found:
        state = fixture.check.presence if fixture.check else "not looked for"
        say(f"{state:<16}{fixture.name}  (for {'; '.join(fixture.cards)})")


@bench.command()
def look(
    path: StudyArgument,
    name: Annotated[str, typer.Argument(metavar="FIXTURE", help="Its name, as a card has it.")],
    presence: Annotated[str, typer.Argument(help="ready or missing.")],
    note: Annotated[str, typer.Option("--note", help="What is wrong with it.")] = "",
) -> None:
    """Put on record whether a fixture is on the bench."""
    from fresh_chair.services.plan.preparation import look_at_fixture

    if presence not in ("ready", "missing"):
        raise InputError("A fixture is ready or missing.", "Nothing was written.")
    with study_of(path, write=True) as opened:
        look_at_fixture(opened, name, "ready" if presence == "ready" else "missing", note)
