"""`fresh-chair probe log`: the entries about a chair, listed and struck."""

from typing import Annotated

import typer

from fresh_chair.cli.base.ledger import listed
from fresh_chair.cli.base.study import JsonOption, StudyArgument, study_of
from fresh_chair.cli.probe import probe as probe


@probe.command("log")
def chair_log(
    path: StudyArgument,
    letter: Annotated[str, typer.Argument(metavar="CHAIR", help="The chair's letter.")],
    strike: Annotated[int, typer.Option("--strike", metavar="ENTRY", help="Say that this entry does not hold.")] = 0,
    reason: Annotated[str, typer.Option("--reason", help="Why.")] = "",
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
            listed(entries, {}, as_json=json)
