"""A study for the length of one command."""

import json
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import legible, legible_lines
from fresh_chair.store.address import Address, read_address

if TYPE_CHECKING:
    from fresh_chair.services.study.open_study import OpenStudy

LetterArgument = Annotated[str, typer.Argument(metavar="CHAIR", help="The chair's letter.")]


@frozen
class StudyAddress:
    """A study as it is named on the command line.

    Attributes:
        at: Its file, or its place on a server.
    """

    at: Address

    def __str__(self) -> str:
        return str(self.at)

    @property
    def file(self) -> Path:
        """Its file. Raises InputError where it is on a server."""
        if isinstance(self.at, Path):
            return self.at
        raise InputError(
            "This is done with a study file, and that study is on a server.",
            "Take a copy of it first: fresh-chair move ADDRESS FILE --copy",
        )


def study_address(text: str) -> StudyAddress:
    """A typed address of a study. Raises InputError."""
    return StudyAddress(read_address(text))


StudyArgument = Annotated[
    StudyAddress,
    typer.Argument(
        metavar="STUDY",
        parser=study_address,
        help="A study file, or postgresql://HOST/DATABASE?study=NAME",
        show_default=False,
    ),
]
StudiesArgument = Annotated[
    list[StudyAddress], typer.Argument(metavar="STUDY...", parser=study_address, help="Studies, each by its address.")
]
NewArgument = Annotated[
    StudyAddress,
    typer.Argument(
        metavar="STUDY",
        parser=study_address,
        help="The file to make, or postgresql://HOST/DATABASE?study=NAME",
        show_default=False,
    ),
]


def folder_named(text: str) -> Path:
    """A folder as it is typed; nothing is not this folder."""
    if not text.strip():
        raise typer.BadParameter("say which folder; nothing is none")
    return Path(text)


PlainOption = Annotated[bool, typer.Option("--plain", help="Draw with ASCII signs only.")]
LightOption = Annotated[bool, typer.Option("--light", help="Start in daylight colours.")]
JsonOption = Annotated[bool, typer.Option("--json", help="Print JSON instead of text.")]
ToOption = Annotated[Path, typer.Option("--to", metavar="FILE", help="The file to write.", show_default=False)]


@contextmanager
def study_of(path: StudyAddress, *, write: bool = False) -> "Iterator[OpenStudy]":
    """The study at an address, closed afterwards.

    Args:
        path: Its address.
        write: To change it, which several programs may at once.

    Raises:
        Refused: Where it is to be written and may only be read.
    """
    from fresh_chair.services.study.open_study import open_study

    opened = open_study(path.at, write=write)
    clean = False
    try:
        if write:
            opened.require_adding()
            _finish(opened)
        yield opened
        if write:
            _remember(opened)
            _carry(opened)
        clean = True
    finally:
        opened.close(clean=clean)
        left = opened.spool.left_words() if opened.loaded else ""
        if left:
            typer.echo(legible(left), err=True)


def _remember(opened: "OpenStudy") -> None:
    """Put the study's later list into this machine's index."""
    from fresh_chair.services.evidence.later import remember_later

    opened.load()
    remember_later(opened)


def _carry(opened: "OpenStudy") -> None:
    """Bring attached files to the server of a study; print why where that has to wait."""
    if opened.store.link is None:
        return
    from fresh_chair.core.errors import OutsideError
    from fresh_chair.services.evidence.server_files import carry_files

    try:
        carry_files(opened)
    except OutsideError as problem:
        typer.echo(legible(str(problem)), err=True)


def _finish(opened: "OpenStudy") -> None:
    """Overwrite the freed bytes of an erasure that was cut short; print why where another program reads the file."""
    if not opened.writable or not any(person.erased for person in opened.study.people):
        return
    from fresh_chair.core.errors import NotSaved
    from fresh_chair.services.file.erasing import finish_erasing

    try:
        finish_erasing(opened)
    except NotSaved as problem:
        typer.echo(legible(str(problem)), err=True)


def say(text: str) -> None:
    """Print a line in which nothing can act."""
    typer.echo(legible(text))


def progress(words: str) -> None:
    """Announce long work at a terminal: the first line of its output can take some seconds."""
    if sys.stderr.isatty():
        typer.echo(words, err=True)


def say_lines(text: str) -> None:
    """Print lines in which nothing can act."""
    typer.echo(legible_lines(text))


def say_json(data: Any) -> None:
    """Print plain data as JSON, ASCII only, so that nothing in it acts on a terminal."""
    typer.echo(json.dumps(data, indent=1, allow_nan=False))
