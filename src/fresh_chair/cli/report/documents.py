"""`report`, `trace`, `export`, `charts`: documents for readers, the marks under a number of theirs, open data."""

from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Literal

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, folder_named, progress, say, say_json, study_of

FolderOption = Annotated[
    Path,
    typer.Option("--to", metavar="DIR", parser=folder_named, help="The folder to write into.", show_default=False),
]


def report(
    path: StudyArgument,
    to: FolderOption,
    reader: Annotated[
        Literal["decider", "maker", "researcher", "viewer"] | None,
        typer.Option("--for", help="Whom it is for; without, the short report."),
    ] = None,
    formats: Annotated[str, typer.Option("--format", metavar="LIST", help="html, md, pdf, odt.")] = "html,md",
    language: Annotated[
        str, typer.Option("--lang", "--language", metavar="CODE", help="Whose sentences to write: en, de.")
    ] = "en",
    chair: Annotated[
        list[str] | None, typer.Option("--chair", metavar="LETTER", help="For makers: whose. Several may be.")
    ] = None,
    sitting: Annotated[
        list[int] | None, typer.Option("--sitting", metavar="NUMBER", help="For viewers: of which.")
    ] = None,
    until: Annotated[
        str, typer.Option("--until", metavar="DATE", help="For makers: a draft to be answered until then.")
    ] = "",
    final: Annotated[bool, typer.Option("--final", help="Keep in the study that it is final as it is now.")] = False,
    own: Annotated[bool, typer.Option("--own", help="Only what was done, seen or measured.")] = False,
    paper: Annotated[str, typer.Option("--paper", help="Of PDF: a4 or letter.")] = "a4",
) -> None:
    """Write the documents for a reader; without one, charts and a short report for everyone."""
    progress("What the record says is worked out ...")
    from fresh_chair.cli.report.writing import telling_meant, write_report_command

    telling = telling_meant(reader, formats, language, chair or (), sitting or (), until, own=own, paper=paper)
    write_report_command(path, to, telling, final=final)


def trace(
    path: StudyArgument,
    number: Annotated[str, typer.Argument(metavar="ID", help="Such as completion/dark-screen/A; reports carry it.")],
    json: JsonOption = False,
) -> None:
    """List the marks under a number of a report."""
    from fresh_chair.services.figures.study_figures import weigh
    from fresh_chair.services.report.trace import trace as traced

    with study_of(path) as opened:
        found = traced(opened, weigh(opened), number)
    if json:
        say_json(asdict(found))
        return
    say(f"{found.id}: {found.words}")
    before = ("", 0)
    for mark in found.marks:
        if (mark.under, mark.sitting) != before:
            before = (mark.under, mark.sitting)
            where = f"sitting {mark.sitting}, {mark.participant} at {mark.chair}" if mark.sitting else mark.chair
            say(f"{mark.under}  {where}".strip())
        say(f"  {mark.at:>8}  {mark.entry:>4}  {mark.words}")
    if not found.marks:
        say("There is no mark under it.")


def open_points(path: StudyArgument, json: JsonOption = False) -> None:
    """List the points that are open before a document goes out; `contradictions answer` takes the key behind each."""
    from fresh_chair.services.report.telling.open_points import points_of_study

    with study_of(path) as opened:
        points = points_of_study(opened)
    if json:
        say_json([asdict(each) for each in points])
        return
    for each in points:
        state = "" if each.answer is None else f"  ({each.answer.answer}: {each.answer.because})"
        say(f"{each.sort}: {each.words}{state}  [{each.key}]")
    if not points:
        say("Nothing is open.")


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
    from fresh_chair.cli.report.writing import write_export_command

    write_export_command(path, to, with_people=with_people, with_attachments=with_attachments, redact=redact)


def charts(
    path: StudyArgument,
    to: Annotated[Path, typer.Option("--to", metavar="FOLDER", help="Where the files go.")],
    language: Annotated[str, typer.Option("--language", help="Of the words in them.")] = "",
) -> None:
    """Write every chart as SVG and as PDF."""
    progress("The charts are drawn ...")
    from fresh_chair.cli.report.writing import write_charts_command

    write_charts_command(path, to, language=language)
