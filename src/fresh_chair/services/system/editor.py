"""The reviewer's own editor."""

import os
import shlex
import shutil
import subprocess
from pathlib import Path

from fresh_chair.core.errors import OutsideError


def edit(path: Path) -> int:
    """Let the reviewer edit a file; returns the editor's exit code.

    Raises:
        OutsideError: Where there is no editor, or it cannot be started.
    """
    command = editor_command()
    try:
        return subprocess.run([*command, str(path)], check=False).returncode
    except OSError as problem:
        raise OutsideError(
            f"The editor {command[0]!r} cannot be started: {problem.strerror}.", "Set EDITOR to another one."
        ) from problem


def editor_command() -> list[str]:
    """The editor as a command: $VISUAL or $EDITOR, or the first of the usual ones that is installed.

    Raises:
        OutsideError: Where none is named and none is there, or the one named is not.
    """
    named = os.environ.get("VISUAL") or os.environ.get("EDITOR")
    if named:
        try:
            command = shlex.split(named)
        except ValueError as problem:
            raise OutsideError("$EDITOR cannot be read as a command.", "Close its quotes.") from problem
        if not command or shutil.which(command[0]) is None:
            raise OutsideError(
                f"The editor {command[0] if command else ''!r} is not there.", "Set EDITOR to another one."
            )
        return command
    for name in ("sensible-editor", "nano", "vi"):
        if shutil.which(name):
            return [name]
    raise OutsideError("No editor is named.", "Set EDITOR, such as EDITOR=nano.")
