"""`fresh-chair records`: claims, readings, installation, first-boot pages, defaults, warnings and looks of a chair."""

from dataclasses import asdict
from typing import Annotated

import typer

from fresh_chair.cli.chairs import LetterArgument
from fresh_chair.cli.study import JsonOption, StudyArgument, say, say_json, study_of
from fresh_chair.core.errors import InputError

records = typer.Typer(help="What is put on record about a chair by hand.", no_args_is_help=True)

KindArgument = Annotated[
    str, typer.Argument(metavar="KIND", help="claim, reading, install, page, consent, warning or look.")
]
IdArgument = Annotated[str, typer.Argument(metavar="ID", help="As `records list` shows it.")]
PartsArgument = Annotated[list[str], typer.Argument(metavar="FIELD=TEXT...", help="Such as: promised='dark at once'.")]


@records.command("list")
def list_records(path: StudyArgument, letter: LetterArgument, kind: KindArgument, json: JsonOption = False) -> None:
    """List the records of one kind about a chair."""
    from fresh_chair.core.chair.records import KINDS
    from fresh_chair.services.chair.enquiries import chair_of
    from fresh_chair.services.chair.records import record_lines, records_of

    if kind not in KINDS:
        raise InputError("There is no such kind of record.", f"These are: {', '.join(KINDS)}.")
    with study_of(path) as opened:
        held = records_of(opened, chair_of(opened, letter), kind)
    if json:
        say_json([{**asdict(each.record), "wall_ns": each.moment.wall_ns, "source": each.source} for each in held])
        return
    for each in held:
        fields = "; ".join(f"{line.words}: {line.text}" for line in record_lines(each.record) if line.text)
        carried = f"  (carried from {each.source})" if each.source else ""
        say(f"{each.record.id}  {fields}{carried}")


@records.command("add")
def add_record(path: StudyArgument, letter: LetterArgument, kind: KindArgument, parts: PartsArgument) -> None:
    """Put a record down. A reading may say value='40 to 55 s' instead of its parts; at='2:31' says when it was so."""
    from fresh_chair.services.chair.records import put_fields

    with study_of(path, write=True) as opened:
        say(put_fields(opened, letter, kind, _parted(parts)).id)


@records.command("set")
def set_record(
    path: StudyArgument, letter: LetterArgument, kind: KindArgument, record_id: IdArgument, parts: PartsArgument
) -> None:
    """Change fields of a record; its earlier values stay in the file."""
    from fresh_chair.services.chair.records import put_fields

    with study_of(path, write=True) as opened:
        put_fields(opened, letter, kind, _parted(parts), record_id=record_id)


@records.command()
def strike(
    path: StudyArgument,
    letter: LetterArgument,
    kind: KindArgument,
    record_id: IdArgument,
    reason: Annotated[str, typer.Argument(help="Why it does not hold.")],
) -> None:
    """Strike a record, with a reason."""
    from fresh_chair.services.chair.records import strike_record

    with study_of(path, write=True) as opened:
        strike_record(opened, letter, kind, record_id, reason)


def _parted(parts: list[str]) -> dict[str, str]:
    found = {}
    for part in parts:
        field, sign, text = part.partition("=")
        if not sign:
            raise InputError("A field is given as FIELD=TEXT.", "Such as: answer='as promised'.")
        found[field.strip().replace("-", "_")] = text
    return found
