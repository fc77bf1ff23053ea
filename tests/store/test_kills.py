"""Law 1 on the wrong day: killed at random moments, two hundred times, and nothing that was shown is ever missing."""

import json
import subprocess
import sys
from pathlib import Path

from fresh_chair.core import journal as j
from fresh_chair.services.checking import check_file
from fresh_chair.services.desk import open_desk

ROUNDS = 200
# Loads everything once, then forks a writer for each round, so that two hundred of them take seconds.
PROGRAM = """
import json, os, random, select, signal, sys, time
from pathlib import Path
from fresh_chair.core import journal as j
from fresh_chair.services.desk import open_desk
from fresh_chair.services.live import LiveSitting
import fresh_chair.store.rows

path, rounds = Path(sys.argv[1]), int(sys.argv[2])
dice = random.Random(4)

def write(out):
    desk = open_desk(path)
    live = LiveSitting(desk, desk.study.seats[0])
    now = desk.clock.now
    if not live.entries:
        live.begin(now())
        live.log(j.AttemptStarted(live.seat.cards[0]), now())
    else:
        live.resume(live.interruption(now()), j.Gap.COUNT, now())
    while True:
        kind = dice.randrange(4)
        content = [j.WrongPlace(), j.Helped(), j.SnagSeen("words"), j.Marked("no reaction")][kind]
        entry = live.log(content, now())
        # What is written here is what a screen would show now.
        os.write(out, (entry.id + "\\n").encode())

shown = []
for number in range(rounds):
    dice.seed(number)
    back, out = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(back)
        write(out)
    os.close(out)
    select.select([back], [], [], 30)
    time.sleep(dice.uniform(0, 0.03))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    data = b""
    while chunk := os.read(back, 65536):
        data += chunk
    os.close(back)
    # A line that was cut off was not shown.
    shown += data.decode().split("\\n")[:-1]
print(json.dumps(shown))
"""


def test_two_hundred_kills_at_random_moments_lose_nothing_that_was_shown(small_path: Path) -> None:
    command = [sys.executable, "-c", PROGRAM, str(small_path), str(ROUNDS)]
    ran = subprocess.run(command, capture_output=True, text=True, check=True, timeout=280)
    shown = json.loads(ran.stdout)
    assert len(shown) > ROUNDS
    desk = open_desk(small_path)
    number = desk.study.seats[0].number
    there = [entry.id for entry in desk.entries[number]]
    desk.close()
    assert [entry for entry in shown if entry not in set(there)] == []
    # In the order in which they were shown, and each once.
    assert [entry for entry in there if entry in set(shown)] == shown
    resumed = sum(isinstance(entry.content, j.SittingResumed) for entry in desk.entries[number])
    assert resumed == ROUNDS - 1
    assert [problem for check in check_file(small_path) for problem in check.problems] == []
