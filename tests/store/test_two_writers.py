"""Two programs write one sitting, and disks fill up under it, at random moments: nothing that was shown is missing."""

import json
import subprocess
import sys
from pathlib import Path

from fresh_chair.services.checking import check_file
from fresh_chair.services.desk import create_study, open_desk
from fresh_chair.store.second_place import leftovers
from tests.builders import small_study
from tests.store.test_study_file import small_disk

__all__ = ["small_disk"]
# What both loops begin with: a moderator and an observer who press keys as fast as the disk lets them.
WRITERS = """
import json, os, random, select, signal, sys, time
from pathlib import Path
from fresh_chair.core import journal as j
from fresh_chair.services.desk import open_desk
from fresh_chair.services.live import LiveSitting
import fresh_chair.store.rows

path, rounds, pause = Path(sys.argv[1]), int(sys.argv[2]), float(sys.argv[3])

def press(live, out, dice):
    kinds = [j.WrongPlace(), j.Helped(), j.SnagSeen("words"), j.Marked("no reaction")]
    while True:
        time.sleep(pause)
        entry = live.log(dice.choice(kinds), live.desk.clock.now())
        # What is written here is what a screen would show now.
        os.write(out, (entry.id + "\\n").encode())

def moderate(out, dice):
    desk = open_desk(path)
    live = LiveSitting(desk, desk.study.seats[0])
    now = desk.clock.now
    if not live.entries:
        live.begin(now())
        live.log(j.AttemptStarted(live.seat.cards[0]), now())
    else:
        live.resume(live.interruption(now()), j.Gap.COUNT, now())
    press(live, out, dice)

def observe(out, dice):
    desk = open_desk(path, observe=True, author="Mo")
    live = LiveSitting(desk, desk.study.seats[0])
    while not live.state.phase.open or live.state.latest is None:
        live.read_on()
    live.join(desk.clock.now())
    press(live, out, dice)

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
TOGETHER = f"""{WRITERS}
shown = {{"moderator": [], "Mo": []}}
dice = random.Random(11)
for number in range(rounds):
    pair = [forked(moderate, number), forked(observe, number + 1000)]
    for _, back in pair:
        assert select.select([back], [], [], 30)[0]
    time.sleep(dice.uniform(0, 0.05))
    dice.shuffle(pair)
    # One dies first, and the other goes on alone for a moment.
    order = {{back: name for (_, back), name in zip(sorted(pair, key=lambda p: p[0]), ("moderator", "Mo"))}}
    for child, back in pair:
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        time.sleep(dice.uniform(0, 0.01))
    for child, back in pair:
        shown[order[back]] += shown_by(back)
print(json.dumps(shown))
"""
FULL = f"""{WRITERS}
filler = path.with_name("filler")
shown, apart = [], 0
dice = random.Random(5)
for number in range(rounds):
    child, back = forked(moderate, number)
    assert select.select([back], [], [], 30)[0]
    time.sleep(dice.uniform(0, 0.01))
    # The disk fills up under it, and it goes on all the same.
    with filler.open("wb", buffering=0) as file:
        try:
            while True:
                file.write(b"x" * 4096)
        except OSError:
            pass
    time.sleep(dice.uniform(0, 0.06))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    filler.unlink()
    shown += shown_by(back)
    desk = open_desk(path)
    apart += desk.merged
    desk.close()
print(json.dumps([shown, apart]))
"""


def run(program: str, path: Path, rounds: int, *, pause: float) -> object:
    command = [sys.executable, "-c", program, str(path), str(rounds), str(pause)]
    ran = subprocess.run(command, capture_output=True, text=True, check=False, timeout=280)
    assert ran.returncode == 0, ran.stderr
    return json.loads(ran.stdout)


def test_a_moderator_and_an_observer_killed_twenty_five_times_lose_neither_ones_marks(small_path: Path) -> None:
    shown = run(TOGETHER, small_path, 25, pause=0)
    assert isinstance(shown, dict)
    desk = open_desk(small_path)
    entries = desk.entries[desk.study.seats[0].number]
    desk.close()
    for author, ids in shown.items():
        assert len(ids) > 25
        own = [entry.id for entry in entries if entry.author == author]
        assert [entry for entry in own if entry in set(ids)] == ids
    assert [entry.number for entry in entries] == list(range(1, len(entries) + 1))
    assert [problem for check in check_file(small_path) for problem in check.problems] == []


def test_a_disk_that_fills_up_forty_times_under_a_sitting_that_is_killed_loses_nothing_shown(small_disk: Path) -> None:
    path = small_disk / "small.fresh"
    create_study(path, small_study())
    found = run(FULL, path, 40, pause=0.002)
    assert isinstance(found, list)
    shown, apart = found
    assert apart > 40
    desk = open_desk(path)
    there = [entry.id for entry in desk.entries[desk.study.seats[0].number]]
    assert list(leftovers(desk.study.id)) == []
    desk.close()
    assert [entry for entry in shown if entry not in set(there)] == []
    assert [entry for entry in there if entry in set(shown)] == shown
    assert [problem for check in check_file(path) for problem in check.problems] == []
