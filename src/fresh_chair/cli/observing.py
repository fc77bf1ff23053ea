"""`fresh-chair sitting seen|take-mark|leave-mark|bring`: an observer's outcome and marks; a dead station's marks."""

from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import StudyArgument, say, study_of
from fresh_chair.cli.sitting import AttemptArgument, EntryArgument, NumberArgument, OutcomeOption, ReasonOption
from fresh_chair.cli.sitting import sitting as sitting
from fresh_chair.core.errors import InputError
from fresh_chair.core.text import count_of


@sitting.command("seen")
def see_outcome(
    path: StudyArgument,
    number: NumberArgument,
    attempt: AttemptArgument,
    ended: OutcomeOption,
    observer: Annotated[str, typer.Option("--observer", metavar="NAME", help="Who watched.", show_default=False)],
    reason: ReasonOption = "",
) -> None:
    """Say how an attempt ended as a second observer saw it; it is counted nowhere."""
    from fresh_chair.services.findings import observers
    from fresh_chair.services.sitting.corrections import outcome_of
    from fresh_chair.services.study.open_study import observer_name, open_study

    opened = open_study(path.at, observe=True, author=observer_name(observer))
    try:
        observers.see_outcome(opened, number, attempt, outcome_of(ended), reason)
    finally:
        opened.close()


@sitting.command("take-mark")
def take_mark(path: StudyArgument, number: NumberArgument, entry: EntryArgument, reason: ReasonOption = "") -> None:
    """Let a mark that an observer alone made count like the moderator's."""
    _decide(path, number, entry, taken=True, reason=reason)


@sitting.command("leave-mark")
def leave_mark(path: StudyArgument, number: NumberArgument, entry: EntryArgument, reason: ReasonOption = "") -> None:
    """Leave a mark that an observer alone made out."""
    _decide(path, number, entry, taken=False, reason=reason)


@sitting.command()
def bring(
    path: StudyArgument,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="A station's marks, from its disk.", show_default=False)],
) -> None:
    """Bring in the marks of a station that died, from the file they lie in on its disk."""
    from fresh_chair.services.sitting.bringing import bring_marks

    with study_of(path, write=True) as opened:
        opened.load()
        say(f"{count_of(bring_marks(opened, file), 'mark')} brought in.")


def _decide(path: StudyArgument, number: int, entry: int, *, taken: bool, reason: str) -> None:
    from fresh_chair.services.findings import observers

    with study_of(path, write=True) as opened:
        named = next((each.id for each in opened.entries.get(number, ()) if each.number == entry), None)
        if named is None:
            raise InputError(f"Sitting {number} has no entry {entry}.", "Nothing was changed.")
        observers.decide(opened, number, named, taken=taken, reason=reason)
