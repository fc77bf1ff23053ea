"""The report on an unforeseen failure, with nothing of the study in it."""

import os
import platform
import tempfile
import traceback
from pathlib import Path

from platformdirs import user_state_path

from fresh_chair import __version__
from fresh_chair.core.errors import FreshChairError
from fresh_chair.services.system.files import write_file


def report_bug(error: BaseException) -> Path | None:
    """Write where it failed, without the values that failed, and return the file; None where none can be written."""
    frames = traceback.extract_tb(error.__traceback__)
    lines = [
        f"Fresh Chair {__version__}, Python {platform.python_version()}",
        # The message of an exception may quote what a participant said; its kind never does.
        f"{type(error).__module__}.{type(error).__qualname__}",
        *(f"  {Path(frame.filename).name}:{frame.lineno} in {frame.name}" for frame in frames),
    ]
    text = ("\n".join(lines) + "\n").encode("utf-8", "replace")
    try:
        return write_file(user_state_path("fresh-chair") / "last-failure.txt", text, "the report").path
    except FreshChairError:
        pass
    try:
        # A folder that everybody may write into: under a name that nobody could have prepared.
        descriptor, name = tempfile.mkstemp("-failure.txt", "fresh-chair-")
        with os.fdopen(descriptor, "wb") as file:
            file.write(text)
    except OSError:
        return None
    return Path(name)
