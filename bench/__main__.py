"""All figures, one line each, with what they are held against."""

import resource
import subprocess
import sys
import tempfile
from dataclasses import replace
from pathlib import Path
from statistics import median
from typing import Literal

from bench.chairs import chairs
from bench.evidence import evidence
from bench.idle import idle
from bench.processor import processor
from bench.pty_program import PtyProgram
from bench.servers import servers
from bench.sitting import sitting
from bench.sorting import sorting
from bench.spread import spread, timed
from bench.studies import PROGRAM, large_facts, large_study, long_journal, random_orders, study_to_plan
from bench.telling import telling
from bench.verdict_errors import verdict_errors
from bench.walks import walks
from fresh_chair.core.plan.orders import planned_seats, unevenness
from fresh_chair.core.sitting.replay import replay
from fresh_chair.services.file.new_study import new_demo


def main() -> None:
    """Measure, and print."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        _start(folder)
        idle(folder)
        processor(folder)
        sitting(folder)
        walks(folder)
        evidence(folder)
        sorting(folder)
        telling(folder)
        _replay()
        _large_plan(folder)
        chairs(folder)
        servers(folder)
    _script()
    _orders()
    _figures()
    verdict_errors()


def _start(folder: Path) -> None:
    demo = folder / "demo.fresh"
    new_demo(demo)
    begun: dict[str, list[float]] = {"bare Textual application": [], "empty start screen": [], "demo study": []}
    for _ in range(9):
        begun["bare Textual application"].append(_first_paint([sys.executable, "-m", "bench.bare"], b"bare and ready"))
        begun["empty start screen"].append(_first_paint(PROGRAM, b"a new study"))
        begun["demo study"].append(_first_paint([*PROGRAM, "open", str(demo)], b"Enter seats"))
    bare = median(begun["bare Textual application"])
    print("start to first paint, whole process, median of 9")
    for name, taken in begun.items():
        print(f"  {name:27}{1000 * median(taken):7.0f} ms   ratio {median(taken) / bare:.2f}, aim under 2")


def _first_paint(command: list[str], mark: bytes) -> float:
    program = PtyProgram(command)
    try:
        return program.wait_for(mark) - program.begun
    finally:
        program.close()


def _replay() -> None:
    entries = long_journal("card-1", 10_000)
    taken = [timed(lambda: replay(1, ("card-1",), entries)) for _ in range(9)]
    print("replay")
    print(f"  10,000 entries             {1000 * median(taken):7.1f} ms   aim well under 100 ms")


def _script() -> None:
    """A script whose chairs were renamed since its text was written: each card's text is brought to what it is now."""
    from fresh_chair.core.plan.cards import TaskCard
    from fresh_chair.core.plan.text.script_editing import brought_to, new_text

    def cards(first: str) -> list[TaskCard]:
        return [
            TaskCard(
                id=f"card-{n}", title=f"Card {n}", area="looks", goal="Please do it.", success="It is done.",
                limit_seconds=60, routes={first: ("Menu", "Door"), "Z": ("Sign",)}, benchmark_seconds={first: 9.0},
            )
            for n in range(400)
        ]  # fmt: skip

    before, now = cards("A"), cards("B")
    text = new_text(before)
    taken = [timed(lambda: brought_to(text, now, before)) for _ in range(3)]
    print("a script of 400 cards whose chairs were renamed")
    print(f"  brought to them            {1000 * median(taken):7.0f} ms   aim under 500 ms")


def _orders() -> None:
    study = study_to_plan()
    taken = [timed(lambda: planned_seats(study)) for _ in range(5)]
    ids = [card.id for card in study.cards]
    planned = unevenness([seat.cards for seat in planned_seats(study)], ids)
    by_chance = unevenness(random_orders(study), ids)
    print("orders of 60 people x 8 chairs x 40 cards, a third of them with prerequisites")
    print(f"  planned                    {median(taken):7.2f} s    aim under 2 s")
    print(f"  unevenness of positions    {planned:7.2f}      of orders drawn by chance {by_chance:.2f}")


def _large_plan(folder: Path) -> None:
    from fresh_chair.services.plan.editing import set_field
    from fresh_chair.services.plan.plan_changes import plan_again
    from fresh_chair.services.plan.readiness import readiness
    from fresh_chair.services.study.open_study import create_study, open_study

    study = study_to_plan()
    create_study(folder / "plan.fresh", replace(study, seats=planned_seats(study)))
    opened = open_study(folder / "plan.fresh")
    opened.warm_up()
    set_field(opened, "chair.A.kernel", "0")
    glance = [timed(lambda: readiness(opened)) for _ in range(5)]
    field = [timed(lambda n=n: set_field(opened, "chair.A.kernel", str(n))) for n in range(1, 20)]  # type: ignore[misc]
    again = [timed(lambda n=n: plan_again(opened, seed=n)) for n in range(100, 105)]  # type: ignore[misc]
    opened.close()
    print("the same study, 480 sittings")
    print(f"  what is ready, at a glance {1000 * median(glance):7.0f} ms")
    print(f"  a field changed, durable   {spread(field)}")
    print(f"  all orders drawn anew      {1000 * median(again):7.0f} ms, written and durable")


def _figures() -> None:
    program = "from bench.__main__ import figures_alone; figures_alone()"
    ended = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    print("all figures of 40 tasks x 6 chairs x 40 people, 9,600 attempts")
    for line in ended.stdout.strip().splitlines():
        print(f"  {line}")


def figures_alone() -> None:
    """Compute all figures once, in a process of its own, so that its memory is its own."""
    begun = timed(_import_arithmetic)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    from fresh_chair.core.figures.whole.study_figures import Weighing, weigh_facts
    from fresh_chair.services.figures.turning import turning_of

    study = large_study()
    facts = large_facts(study)
    found: list[Weighing] = []
    taken = timed(lambda: found.append(weigh_facts(study, facts)))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"all of them {taken:14.2f} s, aim under 2 s; {peak - before:.0f} MB beyond the imports, aim under 300 MB")
    print(f"imports {begun:18.2f} s")
    (weighing,) = found
    taken = timed(lambda: turning_of(weighing, facts, "who fared better"))
    print(f"would it turn {taken:12.2f} s, aim under 15 s, beside the screen")
    print(f"a ranking drawn again {timed(lambda: _ranked(weighing)):4.2f} s, aim under 5 s, beside the screen")


def _import_arithmetic() -> None:
    import scipy.special  # noqa: F401

    import fresh_chair.core.figures.overall.measures  # noqa: F401


def _ranked(weighing: object) -> None:
    from fresh_chair.core.evidence.judged import Criterion
    from fresh_chair.core.figures.whole.study_figures import Weighing
    from fresh_chair.core.judgement.scorecard import Scorecard, ScoreCell, ScoreRow
    from fresh_chair.services.judgement.firmness import firmness_of

    assert isinstance(weighing, Weighing)
    rules: tuple[tuple[Literal["completion", "who fared better", "ease"], float, float], ...]
    rules = (("completion", 0.0, 1.0), ("who fared better", -1.0, 1.0), ("ease", 1.0, 7.0))
    rows = tuple(
        ScoreRow(
            Criterion(id=figure.replace(" ", "-"), name=figure, figure=figure, worst=worst, best=best),
            tuple(ScoreCell(chair.letter, 5.0) for chair in weighing.study.chairs),
        )
        for figure, worst, best in rules
    )
    assert firmness_of(weighing, Scorecard("", "", rows, (), (), ())) is not None


if __name__ == "__main__":
    main()
