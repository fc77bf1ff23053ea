"""`fresh-chair later`: things put off, in one study or in all that are known on this machine."""

from dataclasses import asdict
from datetime import date
from typing import TYPE_CHECKING, Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudiesArgument, StudyArgument, say, say_json, study_of
from fresh_chair.cli.evidence.study_records import IdArgument, group_of
from fresh_chair.core.errors import InputError

if TYPE_CHECKING:
    from fresh_chair.services.evidence.later import LaterOf

_WORDS = "What was put off: checks, questions without an answer, promises; and what brings each back."
later = group_of("later", _WORDS, alone=True)


@later.callback(invoke_without_command=True)
def later_of_all(context: typer.Context) -> None:
    """List things put off in all studies known on this machine; `later of STUDY` lists one study's."""
    if context.invoked_subcommand is None:
        _everywhere(as_json=False)


@later.command("all")
def all_later(json: JsonOption = False) -> None:
    """List things put off in all studies known on this machine, as of when each was closed."""
    _everywhere(as_json=json)


@later.command("of")
def later_of_studies(paths: StudiesArgument, json: JsonOption = False) -> None:
    """List things put off in these studies, due ones first; questions logged in sittings are on it."""
    from fresh_chair.services.evidence.later import LaterOf, later_of

    found = []
    for path in paths:
        with study_of(path) as opened:
            found.append(LaterOf(path.at, opened.study.title, later_of(opened), there=True))
    _show(found, as_json=json)


@later.command("done")
def close(
    path: StudyArgument, record_id: IdArgument, became: Annotated[str, typer.Argument(help="What came of it.")]
) -> None:
    """Say that one is done, with its result."""
    from fresh_chair.services.evidence.later import close_later, later_of

    with study_of(path, write=True) as opened:
        line = next((line for line in later_of(opened) if record_id in (line.record, line.mark)), None)
        if line is None:
            raise InputError("There is no such thing on the later list.", "See: fresh-chair later of STUDY")
        close_later(opened, line, became)


def _everywhere(*, as_json: bool) -> None:
    from fresh_chair.services.evidence.later import later_everywhere

    _show(later_everywhere(), as_json=as_json)


def _show(found: "list[LaterOf]", *, as_json: bool) -> None:
    from fresh_chair.core.evidence.later import grouped

    if as_json:
        say_json([{**asdict(of), "path": str(of.path)} for of in found])
        return
    if not any(of.lines for of in found):
        say("Nothing was put off.")
    for of in found:
        if of.lines:
            say(f"{of.title}{'' if of.there else '  (its file is not there any more)'}: {of.path}")
        for group, lines in grouped(of.lines, date.today()):
            say(f"  {group}")
            for line in lines:
                back = ", ".join(filter(None, (line.due, line.when, line.chair and f"at {line.chair}", line.whom)))
                say(f"    {line.record or line.mark}  {line.sort}: {line.what}{f'  ({back})' if back else ''}")
