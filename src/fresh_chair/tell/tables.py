"""Open data: tidy tables, one row an attempt, a mark, a snag; units in the names of the columns."""

import csv
from collections.abc import Iterable, Mapping, Sequence
from io import StringIO

from fresh_chair.core.clock import SECOND
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.findings.observations import TO_SORT
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import CODEC, Entry
from fresh_chair.core.sitting.replay import entry_times
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import legible, looks_like_formula

ATTEMPT_COLUMNS = (
    "study",
    "sitting",
    "participant",
    "chair",
    "position",
    "task",
    "attempt",
    "first_try",
    "outcome",
    "reason",
    "hands_seconds",
    "wait_seconds",
    "aside_seconds",
    "elapsed_seconds",
    "ease",
    "helped",
    "wrong_places",
    "snags",
    "said_done",
    "chair_found",
    "tries",
    "hesitations",
    "no_reactions",
    "misled",
    "longest_silent_wait_seconds",
    "grade",
    "route",
    "why",
    "chair_says",
    "restarts",
    "new_logins",
    "left_running_seconds",
    "expectation",
    "evidence",
    "own_evidence",
)
ANSWER_COLUMNS = ("study", "sitting", "participant", "chair", "task", "attempt", "question", "asked", "score", "words")
MARK_COLUMNS = (
    "study",
    "sitting",
    "participant",
    "chair",
    "entry",
    "id",
    "kind",
    "at_seconds",
    "wall_utc",
    "author",
    "struck",
    "words",
    "content_json",
)
SNAG_COLUMNS = (
    "study",
    "sitting",
    "participant",
    "chair",
    "task",
    "id",
    "at",
    "words",
    "severity_typed",
    "finding",
    "finding_title",
    "severity",
    "severity_reason",
    "evidence",
    "own_evidence",
)
Cell = str | int | float | bool | None


def attempts_csv(study: Study, facts: Iterable[AttemptFact]) -> str:
    """One row an attempt that was judged, void ones too."""
    return table(
        ATTEMPT_COLUMNS,
        (
            (
                study.id,
                fact.sitting,
                fact.participant,
                fact.chair,
                fact.position,
                fact.card,
                fact.attempt,
                fact.first_try,
                fact.outcome.value,
                fact.reason,
                fact.hands_seconds,
                fact.wait_seconds,
                fact.aside_seconds,
                fact.elapsed_seconds,
                fact.ease,
                fact.helped,
                fact.wrong_places,
                fact.snags,
                fact.said_done,
                fact.chair_found,
                fact.tries,
                fact.hesitations,
                fact.no_reactions,
                fact.misled,
                fact.longest_silent_wait_seconds,
                fact.grade,
                fact.route,
                fact.why,
                fact.chair_says,
                fact.restarts,
                fact.new_logins,
                fact.left_running_seconds,
                fact.expectation,
                fact.evidence,
                fact.own,
            )
            for fact in facts
        ),
    )


def answers_csv(study: Study, sittings: Mapping[int, Sitting]) -> str:
    """One row an answer to a question of the study's own, and one a chair preferred, the place in the order as score.

    Pilots' and experts' stand beside the others, as in the marks; the participant tells them apart.
    """
    asked_words = {question.id: question.ask for question in study.sheet.questions}

    def rows() -> Iterable[Sequence[Cell]]:
        for number in sorted(sittings):
            seat, sitting = study.seat(number), sittings[number]
            who = (study.id, number, seat.participant, seat.chair)
            for (question, attempt), given in sitting.asked.items():
                task = sitting.attempts[attempt - 1].card if attempt else ""
                asked = asked_words.get(question, "")
                yield (*who, task, attempt or None, question, asked, given.score, given.words)
            for index, letter in enumerate(sitting.preference or (), start=1):
                words = sitting.preference_words if index == 1 else ""
                yield (*who, "", None, f"preference {letter}", "Which would you rather have?", index, words)

    return table(ANSWER_COLUMNS, rows())


def marks_csv(study: Study, journals: Mapping[int, Sequence[Entry]]) -> str:
    """One row an entry of every journal, struck ones and corrections too, as they were written."""

    def rows() -> Iterable[Sequence[Cell]]:
        for number in sorted(journals):
            seat, entries = study.seat(number), journals[number]
            struck = {entry.content.entry for entry in entries if isinstance(entry.content, j.Struck)}
            for entry, at_ns in zip(entries, entry_times(entries), strict=True):
                yield (
                    study.id,
                    number,
                    seat.participant,
                    seat.chair,
                    entry.number,
                    entry.id,
                    entry.content.kind,
                    round(at_ns / SECOND, 3),
                    entry.moment.wall.isoformat(timespec="milliseconds"),
                    entry.author,
                    entry.id in struck,
                    getattr(entry.content, "words", ""),
                    CODEC.body_of(entry.content),
                )

    return table(MARK_COLUMNS, rows())


def snags_csv(study: Study, found: SortedFindings) -> str:
    """One row a snag, with the findings it feeds, parted by semicolons."""

    def rows() -> Iterable[Sequence[Cell]]:
        snags = [each for each in found.observations if each.kind == TO_SORT]
        for snag in sorted(snags, key=lambda each: (each.sitting, each.at_ns)):
            fed = found.findings_of(snag)
            severities = [str(view.severity) if view.severity is not None else "" for view in fed]
            yield (
                study.id,
                snag.sitting,
                snag.participant,
                snag.chair,
                snag.card,
                snag.entry,
                snag.at,
                snag.words,
                snag.severity,
                "; ".join(view.finding.name for view in fed),
                "; ".join(view.title for view in fed),
                "; ".join(severities),
                "; ".join(view.reason for view in fed),
                snag.evidence,
                snag.own,
            )

    return table(SNAG_COLUMNS, rows())


def people_csv(header: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """One row a person."""
    return table(header, rows)


def cell_text(value: Cell) -> str:
    """A cell as text that no spreadsheet takes for a formula, and that fits one line.

    >>> cell_text("=HYPERLINK(1)")
    "'=HYPERLINK(1)"
    """
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int | float):
        return f"{value:.9g}" if isinstance(value, float) else str(value)
    text = legible(value)
    return f"'{text}" if looks_like_formula(text) else text


def table(columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """Rows as CSV, no cell of which a spreadsheet takes for a formula."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows([cell_text(cell) for cell in row] for row in rows)
    return out.getvalue()
