"""Opening a study on the screen."""

import locale
import os
import sys
from pathlib import Path

from fresh_chair.core.errors import InputError


def open_on_screen(path: Path, *, plain: bool, light: bool, observer: str = "") -> int:
    """Open a study until the user leaves; returns the exit code.

    Args:
        path: The study file.
        plain: Draw with ASCII only.
        light: Start in daylight.
        observer: The name of a second observer, who adds marks beside the moderator; empty for the moderator.

    Raises:
        InputError: Where there is no terminal, or the observer's name is none.
        FileProblem, JournalError: Where the file cannot be used.
    """
    require_terminal()
    from fresh_chair.services.study.open_study import observer_name, open_study
    from fresh_chair.store.recent import RecentStudies
    from fresh_chair.tui.app import run

    if observer:
        opened = open_study(path, observe=True, author=observer_name(observer), later=True)
    else:
        opened = open_study(path, recent=RecentStudies(), later=True)
    clean = False
    try:
        code = run(opened, plain=plain or needs_plain(), light=light)
        clean = True
        return code
    finally:
        opened.close(clean=clean)


def needs_plain() -> bool:
    """True where the locale cannot write the signs."""
    name = os.environ.get("LC_ALL") or os.environ.get("LC_CTYPE") or os.environ.get("LANG") or "C"
    return name in ("C", "POSIX") or "utf" not in f"{name}{locale.getpreferredencoding(False)}".lower()


def require_terminal() -> None:
    """Do nothing where there is a terminal.

    Raises:
        InputError: Where there is none.
    """
    if not (sys.stdin.isatty() and sys.stdout.isatty()):
        raise InputError(
            "Fresh Chair's screen needs a terminal, and this is none.",
            "The commands report, export, figures and check work without one.",
        )
