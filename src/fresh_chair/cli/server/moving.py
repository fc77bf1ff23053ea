"""`fresh-chair move`: a study goes from a file to a server and back, or a working copy comes home."""

from typing import Annotated

import typer

from fresh_chair.cli.base.study import StudyAddress, StudyArgument, say, study_address


def move(
    source: StudyArgument,
    to: Annotated[
        StudyAddress,
        typer.Argument(metavar="TO", parser=study_address, help="Where it goes: a file, or a server's address."),
    ],
    copy: Annotated[bool, typer.Option("--copy", help="Leave the source open: a working copy to take along.")] = False,
) -> None:
    """Move a study to another place, whole and compared row by row; or bring a working copy back into its study."""
    from fresh_chair.services.file.moving import move_study, moved_sentences

    for sentence in moved_sentences(move_study(source.at, to.at, copy=copy), to.at):
        say(sentence)
