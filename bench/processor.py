"""Commands in processor time, each in a process of its own, and the most memory it held."""

import subprocess
import sys
from pathlib import Path
from statistics import median

from bench.sorting import remarks
from bench.studies import PROGRAM
from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.study.open_study import create_study

_COUNTED = (
    "import resource, subprocess, sys\n"
    "subprocess.run(sys.argv[1:], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)\n"
    "used = resource.getrusage(resource.RUSAGE_CHILDREN)\n"
    "print(used.ru_utime + used.ru_stime, used.ru_maxrss / 1024)\n"
)
_REMARKS = 85_000


def processor(folder: Path) -> None:
    """A help text beside a bare import, the demo checked and told, a study of many remarks listed and weighed."""
    print("processor time, median; memory at most")
    bare, _ = _median([sys.executable, "-c", "import textual.app"], 11)
    shown, _ = _median([*PROGRAM, "finding", "--help"], 11)
    print(f"  finding --help             {shown:5.2f} s    {shown / bare:.2f} of a bare `import textual.app`, aim 1.2")
    demo = folder / "processor.fresh"
    new_demo(demo)
    _say("check of the demo", ["check", str(demo)], "aim 1.5 s")
    decider = ["report", str(demo), "--for", "decider", "--to", str(folder / "decider")]
    _say("decider and full report", decider, "aim 3 s")
    many = folder / "remarks.fresh"
    study, fill = remarks(_REMARKS, per_sitting=200)
    create_study(many, study, fill)
    for name, words in (("finding list", ["finding", "list"]), ("figures", ["figures"])):
        _say(f"{name}, {_REMARKS:,} remarks", [*words, str(many)], "aim 3 s, 120 MB")


def _say(name: str, words: list[str], aim: str) -> None:
    seconds, megabytes = _median([*PROGRAM, *words], 3)
    print(f"  {name:28} {seconds:5.2f} s  {megabytes:4.0f} MB   {aim}")


def _median(command: list[str], times: int) -> tuple[float, float]:
    """Seconds of processor and megabytes."""
    found = [_counted(command) for _ in range(times)]
    return median(seconds for seconds, _ in found), max(megabytes for _, megabytes in found)


def _counted(command: list[str]) -> tuple[float, float]:
    ran = subprocess.run([sys.executable, "-c", _COUNTED, *command], check=True, capture_output=True, text=True)
    seconds, megabytes = map(float, ran.stdout.split())
    return seconds, megabytes
