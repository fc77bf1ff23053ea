"""Law 1 on the wrong day: killed at random moments, and nothing that was shown is ever missing."""

from pathlib import Path

import pytest

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import open_study
from tests.rounds import KILLS as ROUNDS
from tests.store.sqlite.writers import WRITERS, run

pytestmark = pytest.mark.long

PROGRAM = f"""{WRITERS}
shown = []
dice = random.Random(4)
for number in range(rounds):
    child, back = forked(moderate, number)
    assert select.select([back], [], [], 30)[0]
    time.sleep(dice.uniform(0, 0.03))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    shown += shown_by(back)
print(json.dumps(shown))
"""


def test_kills_at_random_moments_lose_nothing_that_was_shown(small_path: Path) -> None:
    shown = run(PROGRAM, small_path, ROUNDS, pause=0)
    assert isinstance(shown, list)
    assert len(shown) > ROUNDS
    opened = open_study(small_path)
    number = opened.study.seats[0].number
    there = [entry.id for entry in opened.entries[number]]
    opened.close()
    assert [entry for entry in shown if entry not in set(there)] == []
    # In the order in which they were shown, and each once.
    assert [entry for entry in there if entry in set(shown)] == shown
    resumed = sum(isinstance(entry.content, j.SittingResumed) for entry in opened.entries[number])
    assert resumed == ROUNDS - 1
    assert [problem for check in check_file(small_path) for problem in check.problems] == []
