"""Telling of a large study: 40 tasks on 6 chairs by 40 people, every document and the open data, time and memory."""

import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from random import Random

from bench.studies import PROGRAM, large_study
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.findings.entries.membership import EvidenceJoined, FindingOpened
from fresh_chair.core.findings.ledger import SortContent, SortEntry, sort_id
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.study.open_study import create_study
from fresh_chair.store.ports import StudyStore

_FINDINGS = 80
_READERS = ("", "decider", "maker", "researcher", "viewer")


def telling(folder: Path) -> None:
    """A line for each kind of file, each in a process of its own, as the command line writes it."""
    path = folder / "telling.fresh"
    create_study(path, large_study(), _fill)
    print("9,600 attempts told   aim: HTML, Markdown and data under 20 s, PDF and ODT under 60 s, under 400 MB")
    _say("short report, HTML and MD", [_report(path, folder, "", "html,md")])
    for name, formats in (("HTML and Markdown", "html,md"), ("PDF", "pdf"), ("ODT", "odt")):
        _say(f"all four readers, {name}", [_report(path, folder, reader, formats) for reader in _READERS[1:]])
    _say("open data", [["export", str(path), "--to", str(folder / "data")]])


def _report(path: Path, folder: Path, reader: str, formats: str) -> list[str]:
    to = str(folder / f"told-{reader or 'brief'}")
    return ["report", str(path), *(["--for", reader] if reader else []), "--format", formats, "--to", to]


def _say(name: str, commands: Sequence[Sequence[str]]) -> None:
    seconds, most = 0.0, 0.0
    for command in commands:
        taken, megabytes = _run(command)
        seconds += taken
        most = max(most, megabytes)
    print(f"  {name:38} {seconds:6.1f} s   {most:5.0f} MB at most")


def _run(command: Sequence[str]) -> tuple[float, float]:
    """Seconds and megabytes of a command, counted in a process of its own."""
    counted = (
        "import resource, subprocess, sys, time\n"
        "begun = time.perf_counter()\n"
        "subprocess.run(sys.argv[1:], check=True, stdout=subprocess.DEVNULL)\n"
        "used = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss\n"
        "print(time.perf_counter() - begun, used / 1024)\n"
    )
    ran = subprocess.run(
        [sys.executable, "-c", counted, *PROGRAM, *command], check=True, capture_output=True, text=True
    )
    seconds, megabytes = map(float, ran.stdout.split())
    return seconds, megabytes


def _fill(store: StudyStore) -> None:
    """Journals with places, waits and snags, and findings of the snags."""
    dice, writer = Random(7), store.journals
    study, snags = large_study(), list[str]()
    for seat in study.seats:
        entries = _journal(seat, dice)
        writer.append(seat.number, entries)
        snags += [f"mark:{entry.id}" for entry in entries if isinstance(entry.content, j.SnagSeen)]
    contents: list[SortContent] = []
    for number in range(_FINDINGS):
        fed = snags[number::_FINDINGS][:60]
        contents.append(FindingOpened(f"finding-{number}", f"Trouble of sort {number}"))
        contents += [EvidenceJoined(f"finding-{number}", target) for target in fed]
    ledger = store.sorting
    ledger.append(
        [
            SortEntry(sort_id(step), step, Moment(step, "b", step), "moderator", content)
            for step, content in enumerate(contents, start=1)
        ]
    )


def _journal(seat: Seat, dice: Random) -> list[Entry]:
    contents: list[tuple[Content, float]] = [(j.SittingBegan(), 60.0)]
    outcomes = (Outcome.UNAIDED,) * 6 + (Outcome.HELPED, Outcome.PARTLY, Outcome.GAVE_UP)
    for card in seat.cards:
        contents += [(j.AttemptStarted(card), dice.uniform(5, 60)), (j.WrongPlace(), dice.uniform(2, 20))]
        if dice.random() < 0.4:
            contents.append((j.SnagSeen(f"something about {card} that was in the way"), dice.uniform(2, 20)))
        contents += [(j.WaitBegan(), dice.uniform(1, 9)), (j.WaitEnded(), dice.uniform(2, 30))]
        contents += [(j.AttemptStopped(), 2.0), (j.OutcomeJudged(dice.choice(outcomes)), 2.0)]
        contents.append((j.EaseRated(dice.randint(1, 7)), 20.0))
    contents.append((j.SittingEnded(), 0.0))
    made, at = [], 1_000.0
    for number, (content, after) in enumerate(contents, start=1):
        moment = Moment(round(at * SECOND), "boot", round((1_790_000_000 + seat.number * 10_000 + at) * SECOND))
        made.append(Entry(f"s{seat.number}e{number}", number, moment, "moderator", content))
        at += after
    return made
