"""`fresh-chair people`: codes, profiles, screener, consent; in and out as CSV."""

from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, ToOption, say, say_json, study_of
from fresh_chair.core.errors import InputError

if TYPE_CHECKING:
    from fresh_chair.services.file.words_about import WordsAbout

people = typer.Typer(help="The people of a study, by their codes.", no_args_is_help=True)

CodeArgument = Annotated[str, typer.Argument(metavar="CODE", help="The person's code.")]


@people.command("list")
def list_people(path: StudyArgument, json: JsonOption = False) -> None:
    """List all people, with their reasons for not sitting down yet."""
    from fresh_chair.core.plan.people import lacking_consents, screened
    from fresh_chair.services.plan.board_words import people_marks

    with study_of(path) as opened:
        study, seen = opened.study, opened.sees_people
    marks = people_marks(study, seen=seen)
    if json:
        say_json(
            [
                {
                    **asdict(person),
                    "screened": screened(person, study.sheet.screener).result if seen else None,
                    "consents_lacking": list(lacking_consents(person, study.sheet.consents)) if seen else None,
                }
                for person in study.people
            ]
        )
        return
    for person in study.people:
        say(f"{person.code:<18}{person.role:<13}{marks.get(person.code, ''):<14}{person.profile}")


@people.command()
def add(
    path: StudyArgument,
    code: CodeArgument,
    role: Annotated[str, typer.Option("--role", help="participant, pilot or expert.")] = "participant",
    replaces: Annotated[str, typer.Option("--replaces", metavar="CODE", help="Who left and is replaced.")] = "",
    group: Annotated[str, typer.Option("--group", help="Where not everyone sits everywhere.")] = "",
) -> None:
    """Invite one more person."""
    from typing import get_args

    from fresh_chair.core.plan.people import Role
    from fresh_chair.services.plan.people import add_person

    known: tuple[Role, ...] = get_args(Role)
    chosen = next((each for each in known if each == role), None)
    if chosen is None:
        raise InputError(f"{role!r} is none of {', '.join(known)}.", "Nobody was added.")
    with study_of(path, write=True) as opened:
        add_person(opened, code, role=chosen, replaces=replaces, group=group)


@people.command("import")
def take(
    path: StudyArgument,
    file: Annotated[Path, typer.Argument(metavar="CSV", help="A table with a header row.", show_default=False)],
    columns: Annotated[
        list[str] | None, typer.Option("--map", metavar="COLUMN=FIELD", help="What a column is; = alone leaves it out.")
    ] = None,
    dry: Annotated[bool, typer.Option("--dry-run", help="Say what would be added, and add nobody.")] = False,
    partly: Annotated[bool, typer.Option("--skip-bad-rows", help="Add the others where rows cannot be used.")] = False,
    json: JsonOption = False,
) -> None:
    """Add people from a CSV file; columns are guessed from their names unless mapped."""
    from fresh_chair.core.plan.text.people_csv import guessed, mapped
    from fresh_chair.services.plan.people_files import look_through, open_table, take_people

    table = open_table(file)
    with study_of(path, write=not dry) as opened:
        mapping = mapped(guessed(table, opened.study.sheet), columns or (), table, opened.study.sheet)
        found = look_through(opened, table, mapping)
        bad = bool(found.problems) and not partly
        added = 0 if dry or bad else take_people(opened, found)
    if json:
        meanings = {table.header[column]: target for column, target in mapping.items()}
        codes = [person.code for person in found.people]
        said = {"problems": list(found.problems), "remarks": list(found.remarks)}
        say_json({"columns": meanings, "people": codes, "added": added, **said})
    else:
        for column, title in enumerate(table.header):
            say(f"{title}: {mapping.get(column, 'left out')}")
        for sentence in (*found.problems, *found.remarks):
            say(sentence)
        say(f"{added} added." if not dry else f"{len(found.people)} would be added.")
    if bad:
        raise typer.Exit(1)


@people.command("export")
def give(path: StudyArgument, to: ToOption) -> None:
    """Write everybody into a CSV file that import reads back."""
    from fresh_chair.services.plan.people_files import write_people

    with study_of(path) as opened:
        written = write_people(opened, to)
    say(f"{written.path}  {written.what}")


@people.command()
def agree(
    path: StudyArgument,
    code: CodeArgument,
    consents: Annotated[list[str], typer.Argument(metavar="CONSENT...", help="Ids, as the study sheet has them.")],
) -> None:
    """Date the named consents of a person with today."""
    from fresh_chair.services.plan.people import agree as put_down

    with study_of(path, write=True) as opened:
        put_down(opened, code, consents)


@people.command("let-go")
def let_go(path: StudyArgument, code: CodeArgument, why: Annotated[str, typer.Argument(help="Why they left.")]) -> None:
    """Take a participant off the plan; sittings that were run stay."""
    from fresh_chair.services.plan.people import let_go as put_down

    with study_of(path, write=True) as opened:
        put_down(opened, code, why)


@people.command()
def erase(
    path: StudyArgument,
    code: CodeArgument,
    figures: Annotated[str, typer.Option("--figures", help="keep or drop: as they chose.")],
) -> None:
    """Remove a participant's identifying data and words; a dated trace stays. This cannot be taken back."""
    from fresh_chair.services.file.erasing import erase_person, left_after_erasing
    from fresh_chair.services.file.words_about import still_there, words_about

    if figures not in ("keep", "drop"):
        raise InputError("--figures is keep or drop.", "Nothing was erased.")
    with study_of(path, write=True) as opened:
        about = words_about(opened, code)
        erase_person(opened, code, keep_figures=figures == "keep")
        left, stays = left_after_erasing(opened), still_there(opened, about)
    say(f"{code} was erased; their figures were {'kept' if figures == 'keep' else 'dropped'}.")
    if stays:
        say("These words of reviewers rest on their marks, or name them, and stay:")
        _say_words(stays)
        say("Other words for one, or none: fresh-chair people reword STUDY NAME --words TEXT")
    if left:
        say(left)


@people.command("words")
def list_words(path: StudyArgument, code: CodeArgument, json: JsonOption = False) -> None:
    """List reviewers' words that rest on a participant's marks, or hold their code: titles, reasons, advice, notes."""
    from fresh_chair.services.file.words_about import words_about

    with study_of(path) as opened:
        found = words_about(opened, code)
    if json:
        say_json([{"name": each.handle, "what": each.what, "text": each.text} for each in found])
    else:
        _say_words(found)


@people.command()
def reword(
    path: StudyArgument,
    name: Annotated[str, typer.Argument(metavar="NAME", help="As people words lists it: finding:12, sitting:3/15.")],
    words: Annotated[str, typer.Option("--words", help="What is to stand there; by default that it was erased.")] = "",
) -> None:
    """Put other words in the place of a reviewer's, for good: the first ones are gone from the file."""
    from fresh_chair.services.file.words_about import reword as put_other_words
    from fresh_chair.services.file.words_about import text_at

    with study_of(path, write=True) as opened:
        for about in text_at(opened, name):
            put_other_words(opened, about, words)
    say(f"{name} says: {words.strip() or 'erased'}.")


def _say_words(found: Sequence["WordsAbout"]) -> None:
    for each in found:
        say(f"{each.handle:<14} {each.what}: {each.text}")
