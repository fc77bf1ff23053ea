"""The answer of a reviewer's walks where no newcomer sat down: things done at each chair, and the better one."""

from collections import Counter
from collections.abc import Iterator, Sequence

from fresh_chair.core.sitting.contests import contests_of
from fresh_chair.core.sitting.state.walk import StepEnding
from fresh_chair.core.sitting.walked import StepLine, step_lines
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Paragraph, Run, Table, Text

_DONE = (StepEnding.UNAIDED, StepEnding.HELPED)
_FAILED = (StepEnding.PARTLY, StepEnding.GAVE_UP, StepEnding.OUT_OF_TIME, StepEnding.BLOCKED)


def walk_answer(told: ToldStudy) -> Iterator[Block]:
    """The answer of walks: the reviewer's verdict, and how often each side of a contest was better."""
    yield Paragraph(
        told.prose.say("This is one reviewer's answer: it was walked through, and nobody else was watched at it."),
        "lead",
    )
    for contest in contests_of(told.study, told.opened.sittings):
        parts = [
            told.words.count(
                "{chair} was better at {count} step", "{chair} was better at {count} steps",
                contest.count(letter), chair=told.titles.get(letter, letter),
            )
            for letter in contest.chairs
        ]  # fmt: skip
        rest = len(contest.rows) - sum(contest.count(letter) for letter in contest.chairs)
        yield Paragraph(
            told.prose.say(
                "{name}: {counts}; even, or not decided: {rest} of {all}.",
                name=Run(contest.name, "strong"),
                counts=", ".join(parts),
                rest=rest,
                all=Run(str(len(contest.rows)), id=f"contest/{'-'.join(contest.chairs)}"),
            )
        )


def walk_table(told: ToldStudy, letters: Sequence[str] = ()) -> Table:
    """Counts of the steps of walks at each chair, by how they ended.

    Args:
        told: The study.
        letters: Of these chairs alone; empty for all.
    """
    say = told.words.say
    steps = {letter: _steps(told, letter) for letter in letters or told.titles}
    walked = [letter for letter in steps if steps[letter]]
    rows: list[tuple[Text, ...]] = []
    for name, figure, endings in (
        (say("steps gone through"), "steps", None),
        (say("worked"), "worked", _DONE),
        (say("worked in part, or not at all"), "failed", _FAILED),
        (say("looked at only"), "looked-at", (StepEnding.LOOKED_AT,)),
        (say("not tried, or nothing to try it on"), "not-tried", (StepEnding.NOT_TRIED, StepEnding.NOTHING_FOR_IT)),
    ):
        row: list[Text] = [(Run(name),)]
        for letter in walked:
            here = [step for step in steps[letter] if endings is None or step.ending in endings]
            row.append((Run(str(len(here)), id=f"{figure}/{letter}"),))
        rows.append(tuple(row))
    known: list[Text] = [(Run(say("known otherwise than by doing it")),)]
    for letter in walked:
        borrowed = Counter(step.evidence for step in steps[letter] if not step.own)
        listed = ", ".join(f"{count} {say(kind)}" for kind, count in sorted(borrowed.items()))
        known.append((Run(listed or "–"),))
    if any(span.text != "–" for text in known[1:] for span in text):
        rows.append(tuple(known))
    return Table(((Run(""),), *((Run(told.titles[letter]),) for letter in walked)), tuple(rows))


def _steps(told: ToldStudy, letter: str) -> list[StepLine]:
    return [
        step
        for seat in told.walked
        if seat.chair == letter
        for step in step_lines(told.opened.sittings[seat.number])
        if step.own or not told.own
    ]
