"""Law 1 on the wrong day: killed at random moments, and nothing that was shown is ever missing, nor any time bent."""

from itertools import pairwise
from pathlib import Path

import pytest

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import open_study
from tests.rounds import KILLS
from tests.store.sqlite.writers import WRITERS, run

pytestmark = pytest.mark.long

# The kills of one run go over sittings, walks and sorting; stations are killed in tests/faults.
ROUNDS = max(KILLS // 3, 4)
PROGRAM = f"""{WRITERS}
shown = []
dice = random.Random(4)
for number in range(rounds):
    child, back = forked(globals()[sys.argv[4]], number)
    assert select.select([back], [], [], 30)[0]
    time.sleep(dice.uniform(0, 0.03))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    shown += shown_by(back)
print(json.dumps(shown))
"""


@pytest.mark.parametrize("work", ["moderate", "stroll"])
def test_kills_at_random_moments_lose_no_mark_and_bend_no_clock(small_path: Path, work: str) -> None:
    shown = run(PROGRAM, small_path, ROUNDS, pause=0, more=(work,))
    assert isinstance(shown, list)
    assert len(shown) > ROUNDS
    opened = open_study(small_path)
    (number,) = opened.entries
    entries = opened.entries[number]
    there = [entry.id for entry in entries]
    sitting = opened.sittings[number]
    opened.close()
    assert [entry for entry in shown if entry not in set(there)] == []
    # In the order in which they were shown, and each once.
    assert [entry for entry in there if entry in set(shown)] == shown
    assert sum(isinstance(entry.content, j.SittingResumed) for entry in entries) == ROUNDS - 1
    # Every mark stands where its key was pressed: on one boot the ticks alone say when that was.
    begun = entries[0].moment.ticks_ns
    assert entry_times(entries) == [entry.moment.ticks_ns - begun for entry in entries]
    assert all(one.moment.ticks_ns <= other.moment.ticks_ns for one, other in pairwise(entries))
    if sitting.walk is None:
        (attempt,) = sitting.attempts
        now_ns = sitting.at_ns
        assert sum(attempt.lane_ns(lane, now_ns) for lane in Lane) == attempt.elapsed_ns(now_ns)
        assert attempt.elapsed_ns(now_ns) == now_ns - attempt.started_ns
    else:
        stretches = [stretch for step in sitting.walk.steps for stretch in step.in_hand]
        assert all(begin <= end for begin, end in stretches)
    assert [problem for check in check_file(small_path) for problem in check.problems] == []


def test_kills_while_findings_are_sorted_lose_none(small_path: Path) -> None:
    opened = open_study(small_path)
    live = LiveSitting(opened, opened.study.seats[0])
    live.begin(opened.clock.now())
    for number in range(5):
        live.log(j.SnagSeen(f"snag {number}"), opened.clock.now())
    live.break_off("enough", opened.clock.now())
    opened.close()
    shown = run(PROGRAM, small_path, ROUNDS, pause=0, more=("sort",))
    assert isinstance(shown, list)
    assert len(shown) > ROUNDS
    opened = open_study(small_path)
    there = list(opened.findings.by_id)
    opened.close()
    assert [finding for finding in there if finding in set(shown)] == shown
    assert [problem for check in check_file(small_path) for problem in check.problems] == []
