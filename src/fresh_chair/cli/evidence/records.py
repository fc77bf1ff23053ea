"""`fresh-chair records`: claims, readings, installation, first-boot pages, defaults, warnings and looks of a chair."""

from dataclasses import asdict
from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, LetterArgument, StudyArgument, say, say_json, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.text import count_of

records = typer.Typer(help="What is put on record about a chair by hand.", no_args_is_help=True)

KindArgument = Annotated[
    str, typer.Argument(metavar="KIND", help="claim, reading, install, page, consent, warning or look.")
]
IdArgument = Annotated[str, typer.Argument(metavar="ID", help="As `records list` shows it.")]
PartsArgument = Annotated[list[str], typer.Argument(metavar="FIELD=TEXT...", help="Such as: promised='dark at once'.")]


@records.command("list")
def list_records(
    path: StudyArgument,
    letter: LetterArgument,
    kind: KindArgument,
    json: JsonOption = False,
    own: Annotated[bool, typer.Option("--own", help="Only what was done, seen or measured.")] = False,
) -> None:
    """List the records of one kind about a chair."""
    from fresh_chair.core.chair.records import KINDS, borrowed_words, evidence_of
    from fresh_chair.core.evidence.kinds import OWN
    from fresh_chair.services.chair.enquiries import chair_of
    from fresh_chair.services.chair.records import record_lines, records_of

    if kind not in KINDS:
        raise InputError("There is no such kind of record.", f"These are: {', '.join(KINDS)}.")
    with study_of(path) as opened:
        held = records_of(opened, chair_of(opened, letter), kind)
    held = [each for each in held if not own or evidence_of(each.record) in OWN]
    if json:
        say_json(
            [
                {
                    **asdict(each.record),
                    "evidence": evidence_of(each.record),
                    "wall_ns": each.moment.wall_ns,
                    "source": each.source,
                }
                for each in held
            ]
        )
        return
    for each in held:
        fields = "; ".join(f"{line.words}: {line.text}" for line in record_lines(each.record) if line.text)
        carried = f"  (carried from {each.source})" if each.source else ""
        say(f"{each.record.id}  {fields}{borrowed_words(each.record)}{carried}")


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


@records.command()
def attach(
    path: StudyArgument,
    letter: LetterArgument,
    kind: KindArgument,
    record_id: IdArgument,
    file: Annotated[str, typer.Argument(metavar="FILE", help='"page.png", or "walk.webm 1:01-1:10".')],
    copy: Annotated[bool, typer.Option("--copy", help="Keep a copy in the folder beside the study.")] = False,
) -> None:
    """Attach a picture, a file or a stretch of a clip to a record."""
    from fresh_chair.services.chair.enquiries import chair_of
    from fresh_chair.services.chair.records import find_record
    from fresh_chair.services.evidence.attachments import attach_to_record, named_file, read_attachment

    with study_of(path, write=True) as opened:
        find_record(opened, chair_of(opened, letter), kind, record_id)
        found = read_attachment(named_file(file), opened.beside, copy=copy)
        attach_to_record(opened, letter, kind, record_id, found)
        say(f"{found.name}: {count_of(found.size, 'byte')}, {found.sha256}")


@records.command()
def bring(
    path: StudyArgument,
    letter: LetterArgument,
    other: Annotated[Path, typer.Argument(metavar="OTHER", help="The study file they were taken in.")],
    from_letter: Annotated[str, typer.Argument(metavar="CHAIR", help="The chair's letter there.")],
) -> None:
    """Let a chair's readings of another study stand beside its own here: marked, and in no comparison."""
    from fresh_chair.services.file.carrying import bring_readings

    with study_of(path, write=True) as opened:
        count = bring_readings(opened, letter, other, from_letter.upper())
        say(f"{count_of(count, 'reading')} beside, from {other.name}.")


def _parted(parts: list[str]) -> dict[str, str]:
    found = {}
    for part in parts:
        field, sign, text = part.partition("=")
        if not sign:
            raise InputError("A field is given as FIELD=TEXT.", "Such as: answer='as promised'.")
        found[field.strip().replace("-", "_")] = text
    return found
