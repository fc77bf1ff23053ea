"""Programs that press keys as fast as the disk lets them, to be killed."""

import json
import subprocess
import sys
from pathlib import Path

# What every loop begins with: a moderator and an observer, each in a process that is forked once all is loaded.
WRITERS = """
import json, os, random, select, signal, sys, time
from pathlib import Path
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.study.open_study import open_study
from fresh_chair.services.sitting.live import LiveSitting
import fresh_chair.store.tables.rows

path, rounds, pause = Path(sys.argv[1]), int(sys.argv[2]), float(sys.argv[3])

def press(live, out, dice):
    kinds = [j.WrongPlace(), j.Helped(), j.SnagSeen("words"), j.Marked("no reaction")]
    while True:
        time.sleep(pause)
        entry = live.log(dice.choice(kinds), live.opened.clock.now())
        # What is written here is what a screen would show now.
        os.write(out, (entry.id + "\\n").encode())

def moderate(out, dice):
    opened = open_study(path)
    live = LiveSitting(opened, opened.study.seats[0])
    now = opened.clock.now
    if not live.entries:
        live.begin(now())
        live.log(j.AttemptStarted(live.seat.cards[0]), now())
    else:
        live.resume(live.interruption(now()), j.Gap.COUNT, now())
    press(live, out, dice)

def stroll(out, dice):
    from fresh_chair.services.walk.walks import begin_walk

    opened = open_study(path)
    now = opened.clock.now
    going = [seat for seat in opened.study.seats if opened.phase(seat.number).open]
    if going:
        live = LiveSitting(opened, going[0])
        live.resume(live.interruption(now()), j.Gap.COUNT, now())
    else:
        live = begin_walk(opened, "A")
    while True:
        time.sleep(pause)
        walk = live.state.walk
        kinds = [j.LineTyped("a line"), j.NoteTaken("a note"), j.DelightSeen("quiet")]
        # A walk holds only so many steps.
        kinds += [j.StepOpened("a step")] if len(walk.steps) < 90 else []
        kinds += [j.StepSetAside()] if walk.step is not None else []
        entry = live.log(dice.choice(kinds), now())
        os.write(out, (entry.id + "\\n").encode())

def sort(out, dice):
    from fresh_chair.services.findings.sorting import open_finding

    opened = open_study(path)
    marks = [f"mark:{entry}" for sitting in opened.sittings.values() for entry in sitting.remarks]
    while True:
        time.sleep(pause)
        os.write(out, (open_finding(opened, "a finding", [dice.choice(marks)]) + "\\n").encode())

def observe(out, dice):
    opened = open_study(path, observe=True, author="Mo")
    live = LiveSitting(opened, opened.study.seats[0])
    while not live.state.phase.open or live.state.latest is None:
        live.read_on()
    live.join(opened.clock.now())
    press(live, out, dice)

def fill(filler):
    with filler.open("wb", buffering=0) as file:
        try:
            while True:
                file.write(b"x" * 4096)
        except OSError:
            pass

def forked(work, seed):
    back, out = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(back)
        try:
            work(out, random.Random(seed))
        finally:
            os._exit(9)
    os.close(out)
    return child, back

def shown_by(back):
    data = b""
    while chunk := os.read(back, 65536):
        data += chunk
    os.close(back)
    # A line that was cut off was not shown.
    return data.decode().split("\\n")[:-1]
"""


def run(program: str, path: Path, rounds: int, *, pause: float, more: tuple[str, ...] = ()) -> object:
    command = [sys.executable, "-c", program, str(path), str(rounds), str(pause), *more]
    ran = subprocess.run(command, capture_output=True, text=True, check=False, timeout=280)
    assert ran.returncode == 0, ran.stderr
    return json.loads(ran.stdout)
