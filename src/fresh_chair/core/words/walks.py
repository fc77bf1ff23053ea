"""Sentences about a walk: its steps, lists, times, remarks, the chair's changes, and the answers of a contest."""

from collections.abc import Iterable, Sequence

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.evidence.kinds import IN_A_WALK, Side
from fresh_chair.core.sitting.contests import ContestRow, ContestView
from fresh_chair.core.sitting.entries.walks.contest import UNDECIDED
from fresh_chair.core.sitting.state.sitting import Remark
from fresh_chair.core.sitting.state.walk import ChairTurn, Item, Judgement
from fresh_chair.core.sitting.walked import StepLine
from fresh_chair.core.words.catalogue import ENGLISH, Words


def step_words(step: StepLine, words: Words = ENGLISH) -> str:
    """How a step ended and how that is known, why, how its list went, and its time as far as it is one."""
    return "; ".join(part for part in (ending_words(step, words), time_words(step, words)) if part)


def ending_words(step: StepLine, words: Words = ENGLISH) -> str:
    """How a step ended and how that is known, why, and how its list went."""
    said = words.say(step.ending.words) if step.ending is not None else words.say("left open")
    if step.evidence != IN_A_WALK:
        said = f"{said} ({words.say(step.evidence)})"
    parts = [said, step.reason, list_words(step.items, words)]
    return "; ".join(part for part in parts if part)


SIDE_WORDS: dict[Side, str] = {
    "praise and blame": "praise and blame at once",
    "taste": "a matter of taste",
    "habit": "a matter of habit",
    "intent": "meant to be so",
}


def remark_words(remark: Remark, words: Words = ENGLISH) -> str:
    """A remark besides its words: how it is known, its sides, whether it was revised."""
    said = [words.say(remark.evidence)] if remark.evidence != IN_A_WALK else []
    if remark.side in SIDE_WORDS:
        said.append(words.say(SIDE_WORDS[remark.side]))
    if remark.revises:
        said.append(words.say("a changed mind"))
    if remark.revised_by:
        said.append(words.say("revised later"))
    return ", ".join(said)


def turn_words(turn: ChairTurn, words: Words = ENGLISH) -> str:
    """The change of a walk's chair: an alteration, or the machine it was left for and why."""
    if turn.machine:
        return words.say("on another machine, {machine}: {reason}", machine=turn.machine, reason=turn.words)
    return words.say("the chair was altered: {what}", what=turn.words)


def better_words(judgement: Judgement | None, words: Words = ENGLISH) -> str:
    """Which chair was better at a step of a contest, and why; that nothing was said where nothing was."""
    if judgement is None:
        return words.say("not said")
    better = judgement.better
    said = words.say(better) if better in UNDECIDED else words.say("{chair} better", chair=better)
    return f"{said}: {judgement.reason}" if judgement.reason else said


def contest_turns(view: ContestView, words: Words = ENGLISH) -> list[str]:
    """The changes of the chairs in a contest, a sentence each: steps after one are of another state of its chair."""
    found = []
    for letter, turns in zip(view.chairs, view.turns, strict=False):
        for number, turn in enumerate(turns, start=1):
            at = [row.title for row, cell in _cells(view, letter) if cell is not None and cell.turn == number]
            steps = ", ".join(at) or words.say("no step so far")
            found.append(
                words.say(
                    "{chair}, {change}; from then: {steps}", chair=letter, change=turn_words(turn, words), steps=steps
                )
            )
    return found


def _cells(view: ContestView, letter: str) -> list[tuple[ContestRow, StepLine | None]]:
    at = view.chairs.index(letter)
    return [(row, row.cells[at]) for row in view.rows]


def contest_counts(view: ContestView, words: Words = ENGLISH) -> str:
    """How often each chair of a contest was better, neither was, it could not be said, or was not."""
    said = [f"{letter} {view.count(letter)}" for letter in view.chairs]
    said += [f"{words.say(answer)} {view.count(answer)}" for answer in UNDECIDED if view.count(answer)]
    if view.undecided:
        said.append(words.say("not said {count}", count=view.undecided))
    if view.empty:
        said.append(words.say("not gone through at a chair {count}", count=view.empty))
    return ", ".join(said)


def list_words(items: Iterable[Item], words: Words = ENGLISH) -> str:
    """How a list went, counted from its results: `14 of 15 work; 1 fails: ogg`; empty without a list."""
    listed = list(items)
    if not listed:
        return ""
    works = sum(item.result == "works" for item in listed)
    said = [words.say("{works} of {all} work", works=works, all=len(listed))]
    for result in ("with trouble", "fails", "not there", "not tried"):
        found = [item for item in listed if item.result == result]
        if found:
            said.append(f"{len(found)} {words.say(result)}: {_named(found)}")
    left = [item for item in listed if item.result is None]
    if left:
        said.append(words.say("{count} not looked at yet: {names}", count=len(left), names=_named(left)))
    return "; ".join(said)


def _named(items: Sequence[Item]) -> str:
    return ", ".join(f"{item.name} ({item.words})" if item.words else item.name for item in items)


def time_words(step: StepLine, words: Words = ENGLISH) -> str:
    """A step's time with how far it is to be trusted; never a time where it is none."""
    if step.timed:
        machine = (
            words.say(", machine {time}", time=_clock(step.machine_seconds)) if step.machine_seconds else ""
        )  # fmt: skip
        return f"{_clock(step.hands_seconds)}{machine}, {words.say(step.trust)}"
    if step.said_seconds is not None:
        return words.say("about {time}, said by the reviewer", time=_clock(step.said_seconds))
    return words.say("time: {trust}", trust=words.say(step.trust))


def _clock(seconds: float) -> str:
    return clock_text(round(seconds * SECOND))
