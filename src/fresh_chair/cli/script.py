"""`fresh-chair script` and `fresh-chair library`: task cards as open texts."""

from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from fresh_chair.cli.base.study import (
    JsonOption,
    StudyAddress,
    StudyArgument,
    say,
    say_json,
    say_lines,
    study_address,
    study_of,
)
from fresh_chair.core.errors import FreshChairError, InputError
from fresh_chair.core.text import count_of

if TYPE_CHECKING:
    from fresh_chair.core.plan.cards import TaskCard

script = typer.Typer(help="The task cards of a study, as a text of an open format.", no_args_is_help=True)
library = typer.Typer(help="Task cards that are ready to take.", no_args_is_help=True)

FileArgument = Annotated[Path, typer.Argument(metavar="FILE", help="A script (TOML).", show_default=False)]


@script.command()
def check(
    path: FileArgument,
    study: Annotated[
        StudyAddress | None,
        typer.Option("--study", metavar="STUDY", parser=study_address, help="Hold it against this study's chairs."),
    ] = None,
    json: JsonOption = False,
) -> None:
    """Check a script: exit code 0 where nothing stands against it, 1 where remarks do, 2 where it is no script."""
    from fresh_chair.services.plan.scripts import check_script, read_script

    name = path.name
    try:
        if study is None:
            report = check_script(read_script(path, kept=""), name=name)
        else:
            with study_of(study) as opened:
                report = check_script(read_script(path, kept=""), name=name, study=opened.study)
    except InputError as problem:
        if json:
            lines = [line.strip() for line in problem.title.splitlines()]
            say_json({"file": name, "cards": 0, "problems": lines[1:] or lines, "remarks": []})
        else:
            typer.echo(problem.title, err=True)
        raise typer.Exit(2) from problem
    standing = report.standing
    if json:
        remarks = [asdict(remark) for remark in report.remarks]
        commands = [{"card": card.id, "command": command} for card, command in _commands(report.cards)]
        found = {"file": name, "cards": len(report.cards), "problems": [], "remarks": remarks, "commands": commands}
        say_json(found)
    else:
        for remark in report.remarks:
            mark = "overruled" if remark.overruled else "grave" if remark.grave else "remark"
            say(f"{mark} {remark.rule}: {remark.why} {remark.overruled or remark.advice} @ {remark.card}.{remark.path}")
        for card, command in _commands(report.cards):
            say(f"command, not run before it is approved: {command} @ {card.id}.checks")
        say(f"{count_of(len(report.cards), 'card')}, {count_of(len(standing), 'remark stands', 'remarks stand')}.")
    if standing:
        raise typer.Exit(1)


def _commands(cards: "Sequence[TaskCard]") -> "list[tuple[TaskCard, str]]":
    """Every command of its author's own that a script's checks would run."""
    return [(card, command) for card in cards for line in card.check_lines for command in line.commands]


@script.command()
def show(path: StudyArgument, json: JsonOption = False) -> None:
    """Print a study's script; comments that were written in it are there."""
    from fresh_chair.services.plan.scripts import script_text

    with study_of(path) as opened:
        if json:
            say_json([asdict(card) for card in opened.study.cards])
            return
        say_lines(script_text(opened).rstrip("\n"))


@script.command()
def put(path: StudyArgument, file: FileArgument) -> None:
    """Make a file the study's script, in place of the present one."""
    from fresh_chair.services.plan.scripts import apply_script, read_script

    with study_of(path, write=True) as opened:
        count = apply_script(opened, read_script(file), name=file.name)
        say(f"The script has {count_of(count, 'card')}.")


@script.command()
def take(
    path: StudyArgument,
    cards: Annotated[list[str], typer.Argument(metavar="CARD...", help="Ids of cards in the library.")],
) -> None:
    """Take cards from the library into a study's script."""
    from fresh_chair.services.plan.library import open_shelf, present_id
    from fresh_chair.services.plan.scripts import take_card

    known = {card.id: card for card in open_shelf().cards}
    cards = [name if name in known else present_id(name) for name in cards]
    for name in cards:
        if name not in known:
            raise InputError(f"The library has no card {name}.", "fresh-chair library list shows them.")
    with study_of(path, write=True) as opened:
        for name in cards:
            take_card(opened, known[name])
            say(f"{name}: {known[name].title}")


@script.command()
def overrule(
    path: StudyArgument,
    card: Annotated[str, typer.Argument(help="The card's id.")],
    rule: Annotated[str, typer.Argument(help="The remark's rule.")],
    reason: Annotated[str, typer.Argument(help="Why it does not hold; empty: it holds.")],
) -> None:
    """Say why a remark does not hold."""
    from fresh_chair.services.plan.scripts import overrule as put_reason

    with study_of(path, write=True) as opened:
        put_reason(opened, card, rule, reason)


@script.command()
def benchmarks(path: StudyArgument) -> None:
    """Put the expert's own times on the cards."""
    from fresh_chair.services.sitting.benchmarks import take_benchmarks

    with study_of(path, write=True) as opened:
        say(f"{count_of(take_benchmarks(opened), 'time')} changed.")


@script.command()
def edit(path: StudyArgument) -> None:
    """Open a study's script in $EDITOR, then take the edited text."""
    from fresh_chair.services.plan.scripts import Draft
    from fresh_chair.services.system.editor import edit as let_edit

    with study_of(path, write=True) as opened:
        draft = Draft(opened)
        file = draft.begin()
        code = let_edit(file)
        kept = f"What it left is kept in {file}; the same command goes on with it."
        if code:
            raise InputError(f"The editor ended with error {code}; the script is as it was.", kept)
        try:
            say(f"The script has {count_of(draft.take(), 'card')}.")
        except FreshChairError as problem:
            raise InputError(problem.title, kept) from problem


@library.command("list")
def list_cards(
    words: Annotated[list[str] | None, typer.Argument(metavar="WORD...", help="Words that must stand in it.")] = None,
    area: Annotated[str, typer.Option("--area", help="Only this area.")] = "",
    bench: Annotated[
        list[str] | None, typer.Option("--bench", metavar="FIXTURE", help="Only what needs nothing but these.")
    ] = None,
    json: JsonOption = False,
) -> None:
    """List the cards of the library."""
    from fresh_chair.core.plan.cards import AREAS
    from fresh_chair.services.plan.library import found_cards, open_shelf

    if area and area not in AREAS:
        raise InputError(f"There is no area {area!r}.", f"The areas are: {', '.join(AREAS)}.")
    shelf = open_shelf()
    found = found_cards(shelf.cards, " ".join(words or ()), area=area, bench=bench)
    if json:
        say_json([_plain(card) for card in found])
    else:
        for card in found:
            say(f"{card.id:<28}{card.area:<27}{card.title}")
        say(f"{len(found)} of {len(shelf.cards)} cards.")
    for problem in shelf.problems:
        typer.echo(problem, err=True)


@library.command("show")
def show_card(
    name: Annotated[str, typer.Argument(metavar="CARD", help="The card's id.")], json: JsonOption = False
) -> None:
    """Print one card as it stands in a script."""
    from fresh_chair.core.plan.text.script_editing import new_text
    from fresh_chair.services.plan.library import open_shelf, present_id

    known = {card.id: card for card in open_shelf().cards}
    card = known.get(name) or known.get(present_id(name))
    if card is None:
        raise InputError(f"The library has no card {name}.", "fresh-chair library list shows them.")
    if json:
        say_json(_plain(card))
        return
    say_lines(new_text([card]).rstrip("\n"))


def _plain(card: Any) -> dict[str, Any]:
    return asdict(card)
