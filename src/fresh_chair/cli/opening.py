"""Opening a study on the screen; the two commonest starts without the library behind the other commands."""

from __future__ import annotations

import locale
import os
import sys
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from fresh_chair.core.errors import FreshChairError, InputError
from fresh_chair.core.text import legible
from fresh_chair.store.address import Address, read_address

if TYPE_CHECKING:
    from fresh_chair.services.sitting.live import LiveSitting
    from fresh_chair.services.study.open_study import OpenStudy

_FLAGS = {"--plain", "--light"}


def quick_open(arguments: Sequence[str]) -> tuple[Address, bool, bool] | None:
    """The file, plain and light of a plain `open FILE`; None for everything else, which Typer then reads."""
    if len(arguments) < 2 or arguments[0] != "open" or not set(arguments[2:]) <= _FLAGS or arguments[1].startswith("-"):
        return None
    return read_address(arguments[1]), "--plain" in arguments, "--light" in arguments


def quick_start(arguments: Sequence[str]) -> tuple[bool, bool] | None:
    """Plain and light of a start without a command; None for everything else."""
    if not set(arguments) <= _FLAGS:
        return None
    return "--plain" in arguments, "--light" in arguments


def choose_on_screen(*, plain: bool, light: bool) -> int:
    """Let the user choose a study at the start screen and open it; returns the exit code.

    Raises:
        InputError: Where there is no terminal.
    """
    require_terminal()
    from fresh_chair.store.recent import RecentStudies
    from fresh_chair.tui.start import Start

    problem: FreshChairError | None = None
    while True:
        start = Start(RecentStudies(), problem=problem, light=light)
        start.watch_threads()
        chosen = start.run()
        if start.return_code:
            print("\n".join(start.failure_lines()))
            return start.return_code
        if chosen is None:
            return 0
        try:
            if chosen.reviewer:
                return walk_on_screen(chosen.path, ["A"], reviewer=chosen.reviewer, plain=plain, light=light)
            return open_on_screen(chosen.path, plain=plain, light=light)
        except FreshChairError as failed:
            problem = failed


def open_on_screen(path: Address, *, plain: bool, light: bool, observer: str = "", rater: str = "") -> int:
    """Open a study until the user leaves; returns the exit code.

    Args:
        path: The study file, or a study on a server.
        plain: Draw with ASCII only.
        light: Start in daylight.
        observer: The name of a second observer, who adds marks beside the moderator; empty for the moderator.
        rater: The name of a rater, who judges findings without seeing others' severities; empty for none.

    Raises:
        InputError: Where there is no terminal, or the observer's name is none.
        FileProblem, JournalError: Where the file cannot be used.
    """
    require_terminal()
    from fresh_chair.services.study.open_study import observer_name, open_study
    from fresh_chair.store.recent import RecentStudies

    if rater:
        from fresh_chair.services.findings.ratings import require_rater

        opened = open_study(path, author=require_rater(rater), later=True)
    elif observer:
        opened = open_study(path, observe=True, author=observer_name(observer), later=True)
    else:
        opened = open_study(path, recent=RecentStudies(), later=True)
    return _stay(opened, lambda: None, plain=plain, light=light, rater=rater)


def walk_on_screen(
    path: Address,
    letters: Sequence[str],
    *,
    reviewer: str,
    recording: str = "",
    began: str = "",
    absent: bool = False,
    minutes: float = 0,
    plain: bool,
    light: bool,
) -> int:
    """Begin a walk or a contest, or go on with the one that is open, and stay on the screen until the user leaves.

    Args:
        path: The study file, or a study on a server.
        letters: The chair; two or more for a contest.
        reviewer: Whose walk; empty for the study's own reviewer.
        recording: The recording it is logged from; empty for a walk of now.
        began: When that was recorded.
        absent: True where the recording is not on this machine, and that was said.
        minutes: How long it is to last; 0 for as long as it takes.
        plain, light: As in `open_on_screen`.

    Raises:
        As `open_on_screen` and `begin_walk`.
    """
    require_terminal()
    from fresh_chair.core.sitting.journal import WalkTimeboxed
    from fresh_chair.services.study.open_study import open_study
    from fresh_chair.services.walk.contests import begin_contest_or_walk
    from fresh_chair.store.recent import RecentStudies

    opened = open_study(path, recent=RecentStudies())
    _require_recording(opened, "" if absent else recording, began)

    def begun() -> LiveSitting | None:
        # One that was cut short is asked about on the screen, as everywhere.
        if opened.cut_short():
            return None
        live = begin_contest_or_walk(opened, letters, code=reviewer, recording=recording, began=began)
        if minutes:
            live.log(WalkTimeboxed(minutes * 60.0), live.now())
        return live

    return _stay(opened, begun, plain=plain, light=light)


def _require_recording(opened: OpenStudy, recording: str, began: str) -> None:
    """Do nothing where a recording is here; else ask whether it is logged from all the same.

    Raises:
        InputError: Where nothing says when it was recorded.
        typer.Exit: Where it is not to be logged from.
    """
    import typer

    from fresh_chair.services.sitting.recording import absence_of

    if not recording.strip():
        return
    try:
        absence = absence_of(opened, recording)
        if absence and not began.strip():
            raise InputError(
                f"{absence}, and no file to tell when it was recorded.",
                "Say the path as it is, or --began 2026-11-09T10:00. Nothing was begun.",
            )
        if absence and not typer.confirm(f"{absence}. Does it play elsewhere, and is it logged from all the same?"):
            raise typer.Exit(1)
    except BaseException:
        opened.close()
        raise


def _stay(
    opened: OpenStudy, begin: Callable[[], LiveSitting | None], *, plain: bool, light: bool, rater: str = ""
) -> int:
    """Stay on the screen until the user leaves, with the sitting that is begun first, if any; returns the exit code."""
    from fresh_chair.tui.app import run

    clean = False
    if opened.store.link is not None:
        opened.store.link.join(opened.author)
    try:
        code = run(opened, plain=plain or needs_plain(), light=light, live=begin(), rater=rater)
        if opened.adds:
            from fresh_chair.services.evidence.later import remember_later

            remember_later(opened)
        clean = True
        return code
    finally:
        opened.close(clean=clean)
        if opened.loaded and opened.spool.left_words():
            print(legible(opened.spool.left_words()), file=sys.stderr)


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
