"""`fresh-chair findings` and `fresh-chair probe log`: the entries of the other two ledgers, listed and struck."""

from collections.abc import Sequence
from dataclasses import fields
from datetime import UTC, datetime
from typing import Annotated, Any

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, say, say_json, study_of
from fresh_chair.core.clock import SECOND
from fresh_chair.core.ledger import EntryStruck, LedgerEntry
from fresh_chair.core.text import clipped

findings = typer.Typer(help="Findings: the entries that sorting is made of.", no_args_is_help=True)
NumberArgument = Annotated[int, typer.Argument(metavar="ENTRY", help="The entry's number in the list.")]
ReasonOption = Annotated[str, typer.Option("--reason", help="Why.")]


@findings.command("log")
def findings_log(path: StudyArgument, json: JsonOption = False) -> None:
    """List every entry of the sorting ledger, struck ones too."""
    with study_of(path) as opened:
        _listed(opened.sorting.entries, opened.findings.left_out, as_json=json)


@findings.command("strike")
def findings_strike(path: StudyArgument, entry: NumberArgument, reason: ReasonOption = "") -> None:
    """Say that an entry of the sorting ledger does not hold; it stays where it is."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.strike(opened, entry, reason)


def chair_log(
    path: StudyArgument,
    letter: Annotated[str, typer.Argument(metavar="CHAIR", help="The chair's letter.")],
    strike: Annotated[int, typer.Option("--strike", metavar="ENTRY", help="Say that this entry does not hold.")] = 0,
    reason: ReasonOption = "",
    json: JsonOption = False,
) -> None:
    """List every entry about a chair, struck ones too, or strike one with a reason."""
    from fresh_chair.services.chair.enquiries import chair_of
    from fresh_chair.services.chair.records import strike_entry

    with study_of(path, write=bool(strike)) as opened:
        chair_of(opened, letter)
        if strike:
            strike_entry(opened, letter, strike, reason)
        else:
            entries = [entry for entry in opened.known_chairs.entries() if entry.chair == letter]
            _listed(entries, {}, as_json=json)


def _listed(entries: Sequence[LedgerEntry], left_out: dict[str, str], *, as_json: bool) -> None:
    struck = {entry.content.entry for entry in entries if isinstance(entry.content, EntryStruck)}
    rows = [_row(entry, struck=entry.id in struck, left_out=left_out.get(entry.id, "")) for entry in entries]
    if as_json:
        say_json(rows)
        return
    for row in rows:
        note = "  struck" if row["struck"] else f"  left out: {row['left_out']}" if row["left_out"] else ""
        kind = row["kind"].replace("_", " ")
        say(f"{row['number']:>5}  {row['at'][:16]}  {row['author']}  {kind}  {row['text']}{note}")


def _row(entry: LedgerEntry, *, struck: bool, left_out: str) -> dict[str, Any]:
    values = ((part.name, getattr(entry.content, part.name)) for part in fields(entry.content))
    text = ", ".join(f"{name} {value}" for name, value in values if name != "kind" and isinstance(value, str | int))
    return {
        "number": entry.number,
        "at": datetime.fromtimestamp(entry.moment.wall_ns / SECOND, tz=UTC).isoformat(),
        "author": entry.author,
        "kind": entry.content.kind,
        "text": clipped(text, 200),
        "struck": struck,
        "left_out": left_out,
    }
