"""Two programs write one sitting, and disks fill up under it, at random moments: nothing that was shown is missing."""

from pathlib import Path

from fresh_chair.services.checking import check_file
from fresh_chair.services.desk import create_study, open_desk
from fresh_chair.store.second_place import leftovers
from tests.builders import small_study
from tests.store.test_study_file import small_disk
from tests.store.writers import WRITERS, run

__all__ = ["small_disk"]
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
