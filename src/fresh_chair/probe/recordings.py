"""The length of a recording, as a player of this machine tells it."""

import re
import shutil
import subprocess
from pathlib import Path

_MOST_SECONDS = 10.0
_SECONDS = re.compile(r"(?m)^(?:length=)?(\d{1,7}(?:\.\d{1,9})?)\s*$")
# Told apart by which of them is there; each prints the length in seconds on a line of its own.
_TOLD_BY = {
    "ffprobe": ("-v", "error", "-show_entries", "format=duration", "-of", "default=nw=1:nk=1"),
    "mpv": (
        *("--no-config", "--load-scripts=no", "--ytdl=no", "--vo=null", "--ao=null", "--frames=1", "--pause=no"),
        "--term-playing-msg=length=${=duration}",
    ),
}


def length_teller() -> str:
    """The program of this machine that can tell how long a recording is; empty for none."""
    return next((name for name in _TOLD_BY if shutil.which(name)), "")


def length_seconds(path: Path) -> float | None:
    """How long a recording is.

    Args:
        path: The file; it is only read.

    Returns:
        Seconds; None where no program here can tell, or the file is no recording.
    """
    name = length_teller()
    if not name:
        return None
    command = [name, *_TOLD_BY[name], *(["--"] if name == "mpv" else []), str(path.absolute())]
    try:
        done = subprocess.run(
            command, stdin=subprocess.DEVNULL, capture_output=True, timeout=_MOST_SECONDS, check=False
        )
    except (OSError, subprocess.SubprocessError):
        return None
    said = _SECONDS.findall(done.stdout.decode("utf-8", "replace"))
    return float(said[-1]) if said else None
