"""Sorting under load: 2,000 loose remarks and 60 findings; every key from the press to the painted answer."""

from collections.abc import Callable
from pathlib import Path

from bench.pty_program import PtyProgram
from bench.spread import spread
from bench.studies import PROGRAM, large_study
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.findings.entries.membership import EvidenceJoined, FindingOpened
from fresh_chair.core.findings.ledger import SortContent, SortEntry, sort_id
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.services.findings.observations import similar_to, sorted_findings_of
from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.ports import StudyStore

LOOSE, FINDINGS, PER_SITTING, PRESSES = 2_000, 60, 100, 30
_DOWN = b"\x1b[B"


def sorting(folder: Path) -> None:
    """All of it, seven lines."""
    path = folder / "sorting.fresh"
    create_study(path, *remarks(LOOSE, per_sitting=PER_SITTING))
    print(f"{LOOSE} loose remarks, {FINDINGS} findings   aim under 50 ms each key")
    opened = open_study(path, write=False)
    try:
        every = sorted_findings_of(opened).observations
        print(f"  both lists computed      {_taken(lambda: sorted_findings_of(opened))}")
        print(f"  what looks like one      {_taken(lambda: similar_to('the menu hides itself', every))}")
    finally:
        opened.close()
    program = PtyProgram([*PROGRAM, "open", str(path)])
    program.wait_for(b"seats")
    program.quiet()
    program.key(b"4")
    program.wait_for(b"loose snags")
    program.quiet()
    print(f"  the next line            {spread(_keys(program, _DOWN, b'times'))}")
    print(f"  taken up, put back       {spread(_keys(program, b' ', b'loose snags'))}")
    print(f"  put into a finding       {spread(_keys(program, b'j', b'put into'))}")
    print(f"  taken back               {spread(_keys(program, b'u', b'Taken back'))}")
    program.key(b"/")
    program.wait_for(b"words in it")
    program.quiet()
    typed = [_pressed(program, letter, b"shown") for letter in (b"m", b"e", b"n", b"u", b" ", b"h", b"i", b"d")]
    print(f"  a letter of a search     {spread(typed)}")
    program.close()


def _taken(act: Callable[[], object]) -> str:
    from bench.spread import timed

    return spread([timed(act) for _ in range(10)])


def _keys(program: PtyProgram, key: bytes, answer: bytes) -> list[float]:
    return [_pressed(program, key, answer) for _ in range(PRESSES)]


def _pressed(program: PtyProgram, key: bytes, answer: bytes) -> float:
    begun = program.key(key)
    took = program.wait_for(answer) - begun
    program.quiet(0.08)
    return took


def remarks(loose: int, *, per_sitting: int) -> tuple[Study, Callable[[StudyStore], None]]:
    """A study with so many loose remarks and `FINDINGS` findings of one each, and how it is filled."""
    study = large_study(cards=8, chairs=1, people=(loose + FINDINGS) // per_sitting + 1)

    def fill(store: StudyStore) -> None:
        number, targets = 0, []
        for seat in study.seats:
            contents: list[Content] = [j.SittingBegan(), j.AttemptStarted(seat.cards[0])]
            for _ in range(min(per_sitting, loose + FINDINGS - number)):
                number += 1
                contents.append(j.SnagSeen(f"w{number:04} the menu hides, seen {number * 7919 % 1000} times"))
            contents += [j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED), j.SittingBrokenOff("enough")]
            entries = [
                Entry(f"s{seat.number}-{n}", n, Moment(n * SECOND, "b", n * SECOND), "moderator", content)
                for n, content in enumerate(contents, start=1)
            ]
            targets += [f"mark:{entry.id}" for entry in entries if isinstance(entry.content, j.SnagSeen)]
            store.journals.append(seat.number, entries)
        sorted_so_far: list[SortContent] = []
        for index, target in enumerate(targets[-FINDINGS:]):
            sorted_so_far += [FindingOpened(f"f{index}", f"finding {index}"), EvidenceJoined(f"f{index}", target)]
        moment = Moment(SECOND, "b", SECOND)
        store.sorting.append(
            [SortEntry(sort_id(n), n, moment, "moderator", content) for n, content in enumerate(sorted_so_far, start=1)]
        )

    return study, fill
