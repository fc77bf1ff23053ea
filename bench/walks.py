"""A walk under load: opening one of 2,000 marks, and a note in it to durable, with the line for its words painted."""

from dataclasses import replace
from pathlib import Path
from statistics import median

from bench.pty_program import PtyProgram
from bench.spread import spread
from bench.studies import PROGRAM, large_study
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.services.study.open_study import create_study
from fresh_chair.store.ports import StudyStore

MARKS, STEPS, PRESSES = 2_000, 60, 40


def walks(folder: Path) -> None:
    """All of it, two lines."""
    empty, long = folder / "walk-0.fresh", folder / "walk-2000.fresh"
    study_with_walk(empty, 0)
    study_with_walk(long, MARKS)
    taken: dict[Path, list[float]] = {empty: [], long: []}
    for _ in range(7):
        for path, seconds in taken.items():
            seconds.append(_opened(path))
    beyond = median(taken[long]) - median(taken[empty])
    print(f"a walk of {MARKS} marks in {STEPS} steps")
    print(f"  opened, beyond an empty one {1000 * beyond:5.0f} ms   aim under 300 ms")
    print(f"  a note, line for its words {spread(_pressed(long))}   an empty one {spread(_pressed(empty))}")


def study_with_walk(path: Path, marks: int) -> None:
    """A study file with a walk that is running, of that many marks."""
    study = large_study(cards=8, chairs=3, people=0)
    seat = Seat(number=1, participant="R1", chair="A", position=1, cards=tuple(card.id for card in study.cards))
    walked = replace(study, people=(Participant(code="R1", role="reviewer"),), seats=(seat,))
    create_study(path, walked, lambda store: _fill(store, marks))


def _fill(store: StudyStore, marks: int) -> None:
    contents: list[Content] = [j.SittingBegan(), j.WalkBegan()]
    for step in range(1, (STEPS if marks else 0) + 1):
        contents.append(j.StepOpened(f"step {step}"))
        opened = f"w{len(contents)}"
        contents += [j.NoteTaken(f"note {number} of step {step}") for number in range(marks // STEPS)]
        contents.append(j.StepClosed(opened, StepEnding.UNAIDED))
    entries = [
        Entry(f"w{n}", n, Moment(n * SECOND, "b", n * SECOND), "moderator", content)
        for n, content in enumerate(contents, start=1)
    ]
    store.journals.append(1, entries)


def _opened(path: Path) -> float:
    """Seconds from the key that goes on with the walk to its screen, the start of the program included."""
    program = PtyProgram([*PROGRAM, "open", str(path)])
    program.wait_for(b"was cut short")
    program.key(b"\r")
    took = program.wait_for(b"Nothing is in hand") - program.begun
    program.close()
    return took


def _pressed(path: Path) -> list[float]:
    program = PtyProgram([*PROGRAM, "open", str(path)])
    program.wait_for(b"was cut short")
    program.key(b"\r")
    program.wait_for(b"Nothing is in hand")
    program.quiet()
    taken = []
    for _ in range(PRESSES):
        begun = program.key(b"n")
        taken.append(program.wait_for(b"note at") - begun)
        program.quiet(0.05)
        program.key(b"x\r")
        program.quiet(0.1)
    program.close()
    return taken
