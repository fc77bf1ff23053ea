"""Two programs write one sitting, and disks fill up under it, at random moments: nothing that was shown is missing."""

from pathlib import Path

import pytest

from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.spool import leftovers
from tests.builders import small_study
from tests.rounds import FULL_DISKS, KILLS
from tests.store.sqlite.test_study_file import larger_disk, small_disk
from tests.store.sqlite.writers import WRITERS, run

pytestmark = pytest.mark.long

__all__ = ["larger_disk", "small_disk"]
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
    fill(filler)
    time.sleep(dice.uniform(0, 0.06))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    filler.unlink()
    shown += shown_by(back)
    opened = open_study(path)
    apart += opened.replayed.merged
    opened.close()
print(json.dumps([shown, apart]))
"""
# Filled, marked, killed, opened full, marked, killed, and so on; freed, opened.
FULL_AGAIN = f"""{WRITERS}
filler, flag = path.with_name("filler"), path.with_name("no-more-pages")

def leave_no_room():
    if flagged:
        flag.touch()
    else:
        fill(filler)

def free():
    flag.unlink(missing_ok=True)
    filler.unlink(missing_ok=True)

flagged = len(sys.argv) > 4
if flagged:
    from fresh_chair.store.sqlite.study_file import StudyFile
    connected = StudyFile.writer

    def no_more_pages(file):
        writer = connected(file)
        most = 1 if flag.exists() else 1_000_000
        writer.execute(f"PRAGMA max_page_count = {{most}}")
        return writer

    StudyFile.writer = no_more_pages

shown, missing, merged = [], [], 0
dice = random.Random(9)
for number in range(rounds):
    # Up to five times in a row without any room in between.
    for again in range(dice.randint(1, 5)):
        child, back = forked(moderate, number)
        assert select.select([back], [], [], 30)[0]
        time.sleep(dice.uniform(0, 0.01))
        leave_no_room()
        time.sleep(dice.uniform(0.03, 0.09))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        shown += shown_by(back)
        opened = open_study(path)
        there = [entry.id for entry in opened.entries[opened.study.seats[0].number]]
        missing += [entry for entry in shown if entry not in set(there)]
        assert [entry for entry in there if entry in set(shown)] == shown, (number, again, len(there), len(shown))
        opened.close()
    free()
    opened = open_study(path)
    merged += opened.replayed.merged
    assert not opened.spool.waiting, opened.spool.words
    assert not opened.replayed.left_apart, str(opened.replayed.left_apart)
    opened.close()
print(json.dumps([shown, missing, merged]))
"""


def test_a_moderator_and_an_observer_killed_again_and_again_lose_neither_ones_marks(small_path: Path) -> None:
    rounds = max(KILLS // 8, 5)
    shown = run(TOGETHER, small_path, rounds, pause=0)
    assert isinstance(shown, dict)
    opened = open_study(small_path)
    entries = opened.entries[opened.study.seats[0].number]
    opened.close()
    for author, ids in shown.items():
        assert len(ids) > rounds
        own = [entry.id for entry in entries if entry.author == author]
        assert [entry for entry in own if entry in set(ids)] == ids
    assert [entry.number for entry in entries] == list(range(1, len(entries) + 1))
    assert [problem for check in check_file(small_path) for problem in check.problems] == []


def test_a_disk_that_fills_up_under_a_sitting_that_is_killed_loses_nothing_shown(
    small_disk: Path,
) -> None:
    path = small_disk / "small.fresh"
    create_study(path, small_study())
    found = run(FULL, path, FULL_DISKS, pause=0.002)
    assert isinstance(found, list)
    shown, apart = found
    assert apart > FULL_DISKS
    opened = open_study(path)
    there = [entry.id for entry in opened.entries[opened.study.seats[0].number]]
    assert list(leftovers(opened.study.id)) == []
    opened.close()
    assert [entry for entry in shown if entry not in set(there)] == []
    assert [entry for entry in there if entry in set(shown)] == shown
    assert [problem for check in check_file(path) for problem in check.problems] == []


@pytest.mark.parametrize("mounted", [True, False])
def test_a_disk_that_stays_full_over_kills_and_openings_loses_nothing_shown(
    mounted: bool, tmp_path: Path, request: pytest.FixtureRequest
) -> None:
    folder = request.getfixturevalue("larger_disk") if mounted else tmp_path
    path = folder / "small.fresh"
    create_study(path, small_study())
    # Without a mount the disk is only said to be full: the rounds that matter are the others.
    rounds = FULL_DISKS if mounted else max(FULL_DISKS // 3, 5)
    found = run(FULL_AGAIN, path, rounds, pause=0.002, more=() if mounted else ("no mount",))
    assert isinstance(found, list)
    shown, missing, merged = found
    assert missing == []
    assert merged > rounds
    opened = open_study(path)
    entries = opened.entries[opened.study.seats[0].number]
    assert list(leftovers(opened.study.id)) == []
    opened.close()
    assert [entry.id for entry in entries if entry.id in set(shown)] == shown
    assert [problem for check in check_file(path) for problem in check.problems] == []
