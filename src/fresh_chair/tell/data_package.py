"""The open data as a Data Package (Frictionless): a schema for each table, with types, units and meanings."""

import csv
import json
from collections.abc import Mapping, Sequence
from io import StringIO
from typing import Any

_INTEGERS = (
    "sitting position attempt helped wrong_places snags tries hesitations no_reactions misled grade restarts "
    "new_logins expectation ease score step entry comes_met comes_tries comes_count excused suggested size "
    "chair_change left_out people degrees pairs better_at_first better_at_second even"
).split()
_NUMBERS = (
    "hands_seconds wait_seconds aside_seconds elapsed_seconds longest_silent_wait_seconds left_running_seconds "
    "at_seconds opened_seconds machine_seconds said_seconds begin_seconds end_seconds estimate low high level margin "
    "standard_error p p_holm alike_p alike_p_holm beyond_margin_p beyond_margin_p_holm rank_p censored_p value weight "
    "worst best"
).split()
_BOOLEANS = (
    "first_try said_done own_evidence struck settled holds unseen sealed done copied said_at_chair same_people primary "
    "workaround_known"
).split()
# Columns whose type is another one in some table.
_OTHERWISE: Mapping[tuple[str, str], str] = {
    ("inventory.csv", "step"): "string",
    ("workarounds.csv", "helped"): "string",
    ("workarounds.csv", "steps"): "string",
    ("snags.csv", "severity"): "string",
    ("findings.csv", "merged"): "string",
    ("trials.csv", "step"): "string",
}
_MEANINGS: Mapping[str, str] = {
    "study": "The study's id.",
    "sitting": "The sitting's number; 0 for none.",
    "participant": "A person by their code.",
    "chair": "The letter of a machine with one distribution on it.",
    "position": "Which of their sittings it is, from 1.",
    "task": "The id of the task card.",
    "attempt": "The attempt's number within its sitting.",
    "first_try": "False for a later try of the same person at the same card and chair.",
    "outcome": "unaided, helped, partly, gave_up, out_of_time, blocked; void counts nowhere.",
    "hands_seconds": "Elapsed time less waits and asides, in seconds.",
    "wait_seconds": "Time in which the machine was busy, in seconds.",
    "aside_seconds": "Time that is neither the person's nor the machine's, in seconds.",
    "elapsed_seconds": "Time from the card to its end, in seconds.",
    "ease": "How easy it was, 1 (very difficult) to 7 (very easy).",
    "expectation": "How easy it was expected to be, 1 to 7.",
    "chair_found": "Whether the machine was proved to be as at its first start: fresh, not fresh, not checked.",
    "evidence": "How it is known: done, seen, measured, shown by others, read about, heard, remembered, expected.",
    "own_evidence": "True where it is the reviewer's own: done, seen or measured.",
    "at_seconds": "Seconds since the sitting began.",
    "content_json": "The whole entry as JSON; study-export.schema.json describes it.",
    "struck": "True where the entry was struck since.",
    "severity": "0 (no trouble) to 4 (catastrophe).",
    "met_by": "Counted newcomers who met it.",
    "tried_by": "Counted newcomers who tried what it was met on.",
    "first_utc": "When it was first put down, UTC.",
    "last_utc": "When it was last changed, UTC.",
    "p": "Two-sided p, raw.",
    "p_holm": "The same after Holm over the family.",
    "low": "Lower end of the interval, or of a scale.",
    "high": "Upper end of the interval, or of a scale; empty where it is open.",
}


def column_type(table: str, column: str) -> str:
    """The type of a column by the names of the open format.

    >>> column_type("attempts.csv", "ease"), column_type("attempts.csv", "hands_seconds")
    ('integer', 'number')
    """
    if (table, column) in _OTHERWISE:
        return _OTHERWISE[table, column]
    for names, kind in ((_INTEGERS, "integer"), (_NUMBERS, "number"), (_BOOLEANS, "boolean")):
        if column in names:
            return kind
    return "string"


def resource(name: str, text: str, title: str) -> dict[str, Any]:
    """A table as a resource of the package.

    Args:
        name: Its file.
        text: Its content, whose first line names its columns.
        title: What it holds.
    """
    columns = next(csv.reader(StringIO(text)))
    return {
        "name": name.removesuffix(".csv").replace("_", "-"),
        "path": name,
        "title": title,
        "profile": "tabular-data-resource",
        "format": "csv",
        "mediatype": "text/csv",
        "encoding": "utf-8",
        "dialect": {"delimiter": ",", "lineTerminator": "\n", "header": True},
        "schema": {
            "fields": [{"name": column, "type": column_type(name, column), **_described(column)} for column in columns],
            "missingValues": [""],
        },
    }


def _described(column: str) -> dict[str, str]:
    return {"description": _MEANINGS[column]} if column in _MEANINGS else {}


def data_package(study: str, title: str, tables: Sequence[dict[str, Any]], notes: Sequence[str]) -> str:
    """The package as JSON text.

    Args:
        study: The study's id.
        title: The study's title.
        tables: Its resources.
        notes: What was left out, and what to be careful with.
    """
    package = {
        "profile": "tabular-data-package",
        "name": "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in study.lower()),
        "title": title,
        "description": " ".join(notes),
        "resources": list(tables),
    }
    return json.dumps(package, indent=1, ensure_ascii=False) + "\n"
