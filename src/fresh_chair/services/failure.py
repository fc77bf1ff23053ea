"""What becomes of a failure nobody foresaw: a report, with nothing of the study in it."""

import platform
import tempfile
import traceback
from pathlib import Path

from platformdirs import user_state_path

from fresh_chair import __version__


def report_bug(error: BaseException) -> Path | None:
    """Write where it failed, without the values that failed, and return the file; None where none can be written."""
    frames = traceback.extract_tb(error.__traceback__)
    lines = [
        f"Fresh Chair {__version__}, Python {platform.python_version()}",
        # The message of an exception may quote what a participant said; its kind never does.
        f"{type(error).__module__}.{type(error).__qualname__}",
        *(f"  {Path(frame.filename).name}:{frame.lineno} in {frame.name}" for frame in frames),
    ]
    for folder in (user_state_path("fresh-chair"), Path(tempfile.gettempdir())):
        try:
            folder.mkdir(parents=True, exist_ok=True)
            file = folder / "last-failure.txt"
            file.write_text("\n".join(lines) + "\n", encoding="utf-8")
        except OSError:
            continue
        return file
    return None
