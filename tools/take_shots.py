"""Takes one picture of each main view, and writes two documents as examples, from the demo study."""

import os
import subprocess
import tempfile
import time
from pathlib import Path

from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.file.new_walk import new_walk_demo
from tools.window import Window

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
EXAMPLES = FOLDER.parent / "examples"
PROGRAM = str(Path(__file__).parents[1] / ".venv" / "bin" / "fresh-chair")


def main() -> None:
    """All of them."""
    with tempfile.TemporaryDirectory() as name:
        study = Path(name) / "tern-harbour.fresh"
        new_demo(study)
        state = {"XDG_STATE_HOME": name, "XDG_DATA_HOME": name}
        write_examples(study, state)
        with Window([PROGRAM, "open", str(study)], environment=state) as window:
            _shoot(window, "plan", wait=2.0)
            _shoot(window, "tasks", "t", "Down", "Down", "Down", "Down")
            _shoot(window, "library", "l", "Down", "Down", wait=1.5)
            _leave(window, times=2)
            _shoot(window, "hunches", "h", "Right")
            _leave(window)
            _shoot(window, "releases", "e", "r", wait=1.5)
            _leave(window, times=2)
            _chair(window, state)
            _shoot(window, "sort", "4", "Down", "Down", "Down", "space", "Tab", "Down", "Down", wait=1.5)
            _leave(window)
            _shoot(window, "finding", "Tab", "Home", "Return", wait=1.5)
            _shoot(window, "weigh", "5", wait=4.0)
            _shoot(window, "scorecard", "s", wait=3.0)
            _leave(window)
            _shoot(window, "tell", "6", wait=8.0)
            _sitting(window)
        day = study.with_name("day.fresh")
        new_demo(day)
        with Window([PROGRAM, "open", str(day), "--light"], environment=state) as window:
            time.sleep(2.5)
            _over_time(window)
        take_walk(Path(name), state)
        take_contest(Path(name), state)
        take_later(Path(name), state)
        new_demo(study.with_name("small.fresh"))
        small = [PROGRAM, "open", str(study.with_name("small.fresh"))]
        with Window(small, columns=80, rows=24, environment=state) as window:
            _seat(window)
            window.keys("Return", "w")
            time.sleep(2)
            window.keys("w", "s")
            window.write("two pictures side by side")
            _shoot(window, "sit-80x24")


def write_examples(study: Path, state: dict[str, str]) -> None:
    """The two pages for those who decide, the report they lead into, and one chair's findings for its makers."""
    for wanted in (("decider", "--format", "pdf"), ("maker", "--chair", "A", "--format", "md")):
        with tempfile.TemporaryDirectory() as folder:
            command = [PROGRAM, "report", str(study), "--to", folder, "--for", *wanted]
            subprocess.run(command, check=True, env={**os.environ, **state}, stdout=subprocess.DEVNULL)
            for path in Path(folder).iterdir():
                if path.suffix in (".pdf", ".md", ".html"):
                    (EXAMPLES / path.name).write_bytes(path.read_bytes())


def take_walk(folder: Path, state: dict[str, str]) -> None:
    """The second part of the demo's walk, with a list gone through and a step left running."""
    study = folder / "walk.fresh"
    new_walk_demo(study)
    with Window([PROGRAM, "walk", str(study), "A"], environment=state) as window:
        time.sleep(3)
        for title, keys in (("a second person", ("s",)), ("installing a program by hand", ("minus",))):
            window.keys("Return")
            window.write(title)
            window.keys("Return")
            time.sleep(4)
            window.keys(*keys)
            if keys == ("s",):
                window.write("the second one sees the first one's pictures")
                window.keys("Return")
                time.sleep(2)
                window.keys("c", "p")
                window.write("no limits can be set")
                window.keys("Return")
                time.sleep(1)
        window.keys("Return")
        window.write("every kind of moving picture")
        window.keys("Return")
        time.sleep(2)
        window.keys("space")
        window.write("the bar hides under the picture")
        window.keys("Return", "l")
        window.write("webm | mp4 | mkv | avi | ogv")
        window.keys("Return")
        for key in ("w", "w", "w", "f"):
            time.sleep(2)
            window.keys(key)
        window.write("sound only")
        window.keys("Return")
        _shoot(window, "walk", wait=1.0)


def take_contest(folder: Path, state: dict[str, str]) -> None:
    """A contest of two chairs in its middle: steps closed, compared, and one that the second chair still waits for."""
    study = folder / "contest.fresh"
    new_walk_demo(study)
    with Window([PROGRAM, "walk", str(study), "B", "C"], environment=state) as window:
        time.sleep(3)
        steps = (
            ("Dark screen", "u", "", "p", "the menu stays light", "b", "everything follows"),
            ("A program to paint with", "h", "found by its project's name alone", "u", "", "c", "found by its purpose"),
            ("a letter from the boiler firm", "u", "", "u", "", "1", "both look inside letters"),
            ("the printer in the hall", "b", "no driver on the medium", "g", "", "2", "neither printed a page"),
        )
        for title, first, why, second, reason, better, because in steps:
            _step(window, title)
            time.sleep(2)
            _close(window, first, why)
            window.keys("o")
            time.sleep(2.5)
            _close(window, second, reason)
            window.keys("equal", better)
            window.write(because)
            window.keys("Return")
            time.sleep(0.5)
            window.keys("o")
            time.sleep(0.5)
        _step(window, "a stick from elsewhere")
        time.sleep(1.5)
        window.keys("d")
        window.write("opens at once, and says whose it is")
        window.keys("Return")
        _shoot(window, "contest", wait=2.0)


# Things put off in the picture of the later list.
_PUT_OFF = (
    ("what=the scanner, with the cable from the hall", "due=2026-01-20", "sort=put off", "whom=the desk"),
    ("what=whether the share wakes the other computer", "due=2031-01-15", "chair=A"),
    ("what=the headset", "when=the headset is back", "sort=put off", "chair=A"),
    ("what=the same letters elsewhere", "chair=B"),
)


def take_later(folder: Path, state: dict[str, str]) -> None:
    """The later list of the demo's walk: what is due, what waits for a release, and questions of its sittings."""
    study = folder / "later.fresh"
    new_walk_demo(study)
    for parts in _PUT_OFF:
        command = [PROGRAM, "later", "add", str(study), *parts]
        subprocess.run(command, check=True, env={**os.environ, **state}, stdout=subprocess.DEVNULL)
    with Window([PROGRAM, "open", str(study)], environment=state) as window:
        time.sleep(3)
        _shoot(window, "later", "z", wait=1.5)


def _step(window: Window, title: str) -> None:
    """Open a step."""
    window.keys("Return")
    window.write(title)
    window.keys("Return")
    time.sleep(0.4)


def _close(window: Window, ending: str, why: str) -> None:
    """Close the step in hand."""
    window.keys("c", ending)
    time.sleep(0.2)
    if why:
        window.write(why)
    window.keys("Return")
    time.sleep(0.4)


def _chair(window: Window, state: dict[str, str]) -> None:
    """Set, with the demo's stand-in chair behind it: proved fresh, sat at, and not fresh any more."""
    with subprocess.Popen(
        [PROGRAM, "demo", "--chair"], stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, env={**os.environ, **state}
    ) as chair:
        assert chair.stdin is not None
        time.sleep(3)
        window.keys("2", "Right", "f")
        time.sleep(3)
        window.keys("y")
        time.sleep(5)
        chair.stdin.write(b"\n")
        chair.stdin.flush()
        window.keys("f")
        _shoot(window, "set", wait=5.0)
        _shoot(window, "readings", "g", wait=1.5)
        _leave(window)
        chair.terminate()


def _seat(window: Window) -> None:
    """Seat whoever is in hand, up to the first card; no to what is asked as the person likes."""
    window.keys("Return")
    time.sleep(1)
    for key in ("Return", "n"):
        window.keys(key)
        time.sleep(0.7)


def _sitting(window: Window) -> None:
    window.keys("1", "n")
    _seat(window)
    window.keys("Return")
    time.sleep(6)
    window.keys("p")
    time.sleep(4)
    window.keys("w")
    time.sleep(5)
    window.keys("w", "s")
    window.write("trusts the green sign")
    window.keys("Return")
    time.sleep(3)
    window.keys("h")
    time.sleep(5)
    window.keys("i")
    time.sleep(1)
    window.keys("Return")
    time.sleep(4)
    window.keys("z")
    time.sleep(3)
    window.keys("d")
    window.write("finds the list and reads it aloud")
    _shoot(window, "sit")
    window.keys("Return", "f", "Return")
    time.sleep(0.5)
    _shoot(window, "sit-ending")


def _over_time(window: Window) -> None:
    """The sitting with an installation that was left running, and one of its marks in hand."""
    window.keys(*["Up"] * 12, *["Left"] * 3, "Right", "Return")
    time.sleep(1.2)
    window.keys("l")
    time.sleep(1)
    window.keys(*["Right"] * 27)
    _shoot(window, "over-time-daylight")


def _leave(window: Window, *, times: int = 1) -> None:
    """Press Esc, and wait until the terminal cannot take it for the beginning of another key."""
    for _ in range(times):
        window.keys("Escape")
        time.sleep(0.7)


def _shoot(window: Window, name: str, *keys: str, wait: float = 0.8) -> None:
    window.keys(*keys)
    time.sleep(wait)
    window.settle(most=4)
    window.photograph(FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
