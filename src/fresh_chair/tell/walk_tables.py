"""Open data of walks: one row a step, a thing on a list, a mark; apart from newcomers' tables."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.kinds import OWN
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.contests import ContestView
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.sitting.state.walk import Judgement
from fresh_chair.core.sitting.walked import StepLine, step_lines
from fresh_chair.core.words.walks import list_words, turn_words
from fresh_chair.tell.tables import Cell, table

STEP_COLUMNS = (
    *("study", "sitting", "reviewer", "chair", "step", "title", "task", "ending", "reason", "evidence", "own_evidence"),
    *("opened_seconds", "hands_seconds", "machine_seconds", "said_seconds", "trust", "list"),
    *("chair_change", "chair_change_words"),
)
ITEM_COLUMNS = ("study", "sitting", "reviewer", "chair", "step", "item", "result", "words")
REMARK_COLUMNS = (
    *("study", "sitting", "reviewer", "chair", "step", "id", "kind", "at_seconds", "words", "severity_typed"),
    *("evidence", "own_evidence", "side", "revises", "revised_by"),
)
CONTEST_COLUMNS = (
    *("study", "contest", "reviewer", "title", "task", "chair", "sitting", "step", "ending", "evidence", "better"),
    *("reason", "said_at_chair", "chair_change"),
)
ATTACHMENT_COLUMNS = (
    *("study", "sitting", "about", "file", "name", "size", "sha256", "begin_seconds", "end_seconds", "copied"),
)


def walk_steps_csv(study: Study, sittings: Mapping[int, Sitting]) -> str:
    """One row a step; a time stands there only where it is one, measured live or from an uncut recording."""

    def rows() -> Iterable[Sequence[Cell]]:
        for seat, sitting in _walks(study, sittings):
            turns = sitting.walk.turns if sitting.walk is not None else []
            for step in step_lines(sitting):
                turned = turn_words(turns[step.turn - 1]) if step.turn else ""
                yield *_who(study, seat), *_step(step), step.turn, turned

    return table(STEP_COLUMNS, rows())


def _step(step: StepLine) -> Sequence[Cell]:
    return (
        step.number,
        step.title,
        step.card,
        ending_name(step),
        step.reason,
        step.evidence,
        step.own,
        round(step.opened_seconds, 3),
        round(step.hands_seconds, 3) if step.timed else None,
        round(step.machine_seconds, 3) if step.timed else None,
        step.said_seconds,
        step.trust,
        list_words(step.items),
    )


def walk_items_csv(study: Study, sittings: Mapping[int, Sitting]) -> str:
    """One row a thing on a step's list."""
    return table(
        ITEM_COLUMNS,
        (
            (*who, step.number, item.name, item.result, item.words)
            for who, step in _steps(study, sittings)
            for item in step.items
        ),
    )


def walk_remarks_csv(study: Study, sittings: Mapping[int, Sitting]) -> str:
    """One row a mark of a walk, with how it is known."""

    def rows() -> Iterable[Sequence[Cell]]:
        for seat, sitting in _walks(study, sittings):
            for remark in sorted(sitting.remarks.values(), key=lambda each: each.at_ns):
                yield (
                    *_who(study, seat),
                    remark.step,
                    remark.entry,
                    remark.kind,
                    round(remark.at_ns / SECOND, 3),
                    remark.words,
                    remark.severity,
                    remark.evidence,
                    remark.evidence in OWN,
                    "" if remark.side == "plain" else remark.side,
                    remark.revises,
                    remark.revised_by,
                )

    return table(REMARK_COLUMNS, rows())


def contest_csv(study: Study, contests: Iterable[ContestView]) -> str:
    """One row a step at a chair of a contest; a step that was not gone through there has a row without an ending."""

    def rows() -> Iterable[Sequence[Cell]]:
        for view in contests:
            for row in view.rows:
                for letter, number, cell in zip(view.chairs, view.sittings, row.cells, strict=True):
                    said = row.judgement
                    yield (
                        *(study.id, view.name, view.reviewer, row.title, row.card, letter, number),
                        *((None, "", "") if cell is None else (cell.number, ending_name(cell), cell.evidence)),
                        *(("", "", False) if said is None else (said.better, said.reason, _said_here(cell, said))),
                        None if cell is None else cell.turn,
                    )

    return table(CONTEST_COLUMNS, rows())


def _said_here(cell: StepLine | None, said: Judgement) -> bool:
    return cell is not None and cell.judgement == said


def attachments_csv(study: Study, sittings: Mapping[int, Sitting], *, with_files: bool) -> str:
    """One row a file that is attached to a mark or a step; its name only where the files themselves are told."""

    def rows() -> Iterable[Sequence[Cell]]:
        for number in sorted(sittings):
            for each in sittings[number].attachments:
                file = each.attachment
                yield (
                    *(study.id, number, each.about, file.copy_name, file.name if with_files else "", file.size),
                    *(file.sha256, file.begin_seconds, file.end_seconds, file.copied),
                )

    return table(ATTACHMENT_COLUMNS, rows())


def ending_name(step: StepLine) -> str:
    """How a step ended, as tables name it."""
    return step.ending.value if step.ending is not None else "open"


def _who(study: Study, seat: Seat) -> tuple[str, int, str, str]:
    return study.id, seat.number, seat.participant, seat.chair


def _walks(study: Study, sittings: Mapping[int, Sitting]) -> Iterator[tuple[Seat, Sitting]]:
    for number in sorted(sittings):
        if sittings[number].walk is not None:
            yield study.seat(number), sittings[number]


def _steps(study: Study, sittings: Mapping[int, Sitting]) -> Iterator[tuple[tuple[str, int, str, str], StepLine]]:
    for seat, sitting in _walks(study, sittings):
        for step in step_lines(sitting):
            yield _who(study, seat), step
