"""Sit under load: keys at a hundred thousand entries, the start of a sitting, the look back, a whole day."""

import asyncio
import gc
import sqlite3
import subprocess
import sys
import time
from dataclasses import dataclass
from pathlib import Path

from bench.pty_program import PtyProgram
from bench.spread import spread, timed
from bench.studies import PROGRAM, busy_study, study_that_is_over, study_with_journal
from fresh_chair.core.clock import SECOND, Moment

PRESSES = 200
MARKS = ((b"p", b"wrong place"), (b"h", b"helped"))
DAY, CARDS, MINUTES = 6, 8, 60


def sitting(folder: Path) -> None:
    """Everything about Sit, one line each."""
    _presses(folder)
    _other_person(folder)
    _begin(folder)
    _look_back(folder)
    _soak(folder)


def _presses(folder: Path) -> None:
    print(f"key press to committed and painted mark, {PRESSES} presses in a pseudo-terminal")
    bare = _bare_inserts(folder / "bare.db")
    for name, entries in (("2 entries", 2), ("10,000 in this sitting", 10_000)):
        path = folder / f"journal-{entries}.fresh"
        study_with_journal(path, entries)
        print(f"  {name:<26} {spread(_pressed(path))}   aim p99 under 50 ms")
    path = folder / "busy.fresh"
    busy_study(path, 100_000)
    print(f"  {'100,000 in the study':<26} {spread(_pressed(path))}   aim p99 under 50 ms")
    print(f"  {'bare insert, as durable':<26} {spread(bare)}")


def _pressed(path: Path) -> list[float]:
    program = PtyProgram([*PROGRAM, "open", str(path)])
    program.wait_for(b"was running")
    program.key(b"c")
    program.wait_for(b"resumed")
    program.quiet()
    taken = []
    for press in range(PRESSES):
        key, painted = MARKS[press % 2]
        begun = program.key(key)
        taken.append(program.wait_for(painted) - begun)
        program.quiet(0.03)
    program.close()
    return taken


def _bare_inserts(path: Path) -> list[float]:
    connection = sqlite3.connect(path, isolation_level=None)
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("CREATE TABLE entry (number INTEGER PRIMARY KEY, body TEXT)")
    taken = [
        timed(lambda n=number: connection.execute("INSERT INTO entry VALUES (?, ?)", (n, "x" * 120)))  # type: ignore[misc]
        for number in range(PRESSES)
    ]
    connection.close()
    return taken


def _other_person(folder: Path) -> None:
    """From one person's key to the other one's screen, two programs on one study."""
    path = folder / "journal-2.fresh"
    moderator = PtyProgram([*PROGRAM, "open", str(path)])
    moderator.wait_for(b"was running")
    moderator.key(b"c")
    moderator.wait_for(b"resumed")
    observer = PtyProgram([*PROGRAM, "open", str(path), "--observer", "Mo"])
    observer.wait_for(b"watches too")
    taken = []
    for press in range(40):
        moderator.quiet(0.05)
        observer.quiet(0.05)
        writes, reads = (moderator, observer) if press % 2 else (observer, moderator)
        key, painted = MARKS[(press // 2) % 2]
        begun = writes.key(key)
        taken.append(reads.wait_for(painted) - begun)
    moderator.close()
    observer.close()
    print(f"  {'on the other one’s screen':<26} {spread(taken)}   aim under 1 s")


def _begin(folder: Path) -> None:
    program = PtyProgram([*PROGRAM, "open", str(folder / "busy.fresh")])
    program.wait_for(b"was running")
    program.key(b"v")
    program.wait_for(b"resumed")
    taken = []
    for turn in range(9):
        program.quiet(0.2)
        program.key(b"\x7f")
        if turn:
            # Nothing was started in the ones that this began.
            program.wait_for(b"it is broken off")
            program.key(b"b")
        program.wait_for(b"why is the sitting broken off")
        program.key(b"next\r")
        program.wait_for(b"broken off: next")
        program.key(b"1")
        program.wait_for(b"is the plan ready")
        program.key(b"n")
        program.quiet(0.2)
        begun = program.key(b"\r")
        taken.append(program.wait_for(b"start the clock") - begun)
    program.close()
    print(f"  {'start of a sitting':<26} {spread(taken)}   100,000 entries in the study")


def _look_back(folder: Path) -> None:
    path = folder / "over.fresh"
    study_that_is_over(path, 10_000)
    program = PtyProgram([*PROGRAM, "open", str(path)])
    program.wait_for(b"is the plan ready")
    program.quiet()
    program.key(b"\x1b[A\x1b[A\x1b[D\x1b[D")
    program.quiet()
    taken, steps = {}, []
    for name, key, painted in (
        ("the sitting opened", b"\r", b"broken off"),
        ("its drawing opened", b"l", b"entries"),
        ("back from there", b"\x1b", b"broken off"),
        ("its journal opened", b"j", b"reword"),
    ):
        begun = program.key(key)
        taken[name] = program.wait_for(painted) - begun
        program.quiet()
        if key == b"l":
            for _ in range(20):
                begun = program.key(b"\x1b[C")
                steps.append(program.wait_for(b"entry") - begun)
                program.quiet(0.05)
    program.close()
    print("looking back at a sitting of 10,000 entries, in a pseudo-terminal")
    for name, seconds in taken.items():
        print(f"  {name:<26} {1000 * seconds:7.0f} ms")
    print(f"  {'a step of the arrows':<26} {spread(steps)}")


@dataclass
class FastClock:
    """A clock that the soak moves, so that a day passes in a minute."""

    ticks_ns: int = 10_000 * SECOND

    def now(self) -> Moment:
        """The moment it was moved to."""
        return Moment(self.ticks_ns, "soak", 1_790_000_000 * SECOND + self.ticks_ns)


def _soak(folder: Path) -> None:
    program = "import sys; from bench.sitting import soak_alone; soak_alone(sys.argv[1])"
    command = [sys.executable, "-c", program, str(folder / "soak.fresh")]
    ended = subprocess.run(command, capture_output=True, text=True, check=True)
    print(f"a moderator's day: {DAY} sittings of {MINUTES} minutes, a mark every 6 s, on the screen, accelerated clock")
    print(ended.stdout.rstrip())


def soak_alone(path: str) -> None:
    """Run the day in a process of its own, and print a line a sitting."""
    asyncio.run(_day(Path(path)))


async def _day(path: Path) -> None:
    from textual import events

    from bench.studies import large_study
    from fresh_chair.core.sitting import journal as j
    from fresh_chair.core.sitting.state.outcome import Outcome
    from fresh_chair.services.study.open_study import create_study, open_study
    from fresh_chair.tui.app import FreshChair

    create_study(path, large_study(cards=CARDS, chairs=1, people=DAY))
    opened = open_study(path)
    opened.clock = clock = FastClock()
    app = FreshChair(opened)
    async with app.run_test(size=(142, 38)) as pilot:
        for number in range(1, DAY + 1):
            await pilot.press("1")
            await pilot.pause(0.3)
            await pilot.press("n", "enter")
            live = None
            while live is None or not live.state.phase.open:
                await pilot.pause(0.01)
                live = app.session.live
            taken = []
            for card in live.seat.cards:
                live.log(j.AttemptStarted(card), clock.now())
                for mark in range(MINUTES * 60 // CARDS // 6):
                    clock.ticks_ns += 6 * SECOND
                    before = len(live.entries)
                    begun = time.perf_counter()
                    key = "phztr"[mark % 5]
                    app.post_message(events.Key(key, key))
                    while len(live.entries) == before:
                        await pilot.pause(0)
                    taken.append(time.perf_counter() - begun)
                for content in (j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.EaseRated(5)):
                    live.log(content, clock.now())
            live.log(j.UsabilityDeclined(), clock.now())
            live.log(j.SittingEnded(), clock.now())
            gc.collect()
            print(f"  sitting {number}, {len(taken)} marks       {spread(taken)}   {_memory():6.1f} MB in memory")
    opened.close()


def _memory() -> float:
    """Megabytes that the process holds in memory now."""
    pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1])
    return pages * 4096 / 1e6
