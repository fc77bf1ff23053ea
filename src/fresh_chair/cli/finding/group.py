"""The group of commands and the arguments they share; each module adds its own to the group it imports."""

from typing import Annotated

import typer

finding = typer.Typer(
    help="Findings: observations joined, judged, explained, and the entries they are made of.", no_args_is_help=True
)
FindingArgument = Annotated[str, typer.Argument(metavar="FINDING", help="Its number, such as F3, or its id.")]
TargetsArgument = Annotated[
    list[str],
    typer.Argument(metavar="OBSERVATION...", help="As `finding loose` lists them: mark:ID, record:A/warning/ID."),
]
ReasonOption = Annotated[str, typer.Option("--reason", help="Why.")]
RaterOption = Annotated[str, typer.Option("--rater", metavar="NAME", help="Who rates, unseen by the others.")]
PartOption = Annotated[
    str, typer.Option("--change", metavar="ID", help="The one that is changed, by id or number; else a new one.")
]
DropOption = Annotated[
    str, typer.Option("--drop", metavar="ID", help="The one that does not hold any more, with --reason.")
]
