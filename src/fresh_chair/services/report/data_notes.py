"""The words that go with open data: contents, cautions, and cells so small that a person may be told from them."""

from collections.abc import Sequence

from fresh_chair.core.text import count_of
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.tell.document.markdown import safe

# Fewer people than this may be told apart by somebody who knows them.
FEW = 5


# A task's title, a chair's, and how many people: some, and fewer than may not be told apart.
SmallCell = tuple[str, str, int]


def small_cells(opened: StudyReading) -> list[SmallCell]:
    """Each task and chair with some, and fewer than five, people."""
    study = opened.study
    people: dict[tuple[str, str], set[str]] = {}
    for fact in opened.facts():
        if study.counted(fact.participant):
            people.setdefault((fact.card, fact.chair), set()).add(fact.participant)
    return [
        (card.title, chair.title, len(here))
        for card in study.cards
        for chair in study.chairs
        if 0 < len(here := people.get((card.id, chair.letter), set())) < FEW
    ]


def data_notes(
    opened: StudyReading, small: Sequence[SmallCell], *, with_people: bool, redacted: bool, identifying: int = 0
) -> list[str]:
    """Cautions about the data, a sentence each; `identifying` texts of reviewers may identify a person."""
    notes = ["People are told by their codes." if not with_people else "People's own data are in it: keep it."]
    if redacted:
        notes.append(
            "Redacted: quotes, words typed about people, names of observers and locations of files are left out, and "
            "stand there as (left out). Names of observers and raters in other texts are replaced by numbers."
        )
        notes.append(
            "Titles, reasons, advice and paragraphs are the reviewer's own words and are in it; "
            f"{count_of(identifying, 'of them holds', 'of them hold')} words that may say who somebody is."
        )
    if opened.study.sample:
        notes.append("Sample data: everybody and everything in it is made up.")
    if small:
        few = count_of(len(small), "cell has", "cells have")
        notes.append(f"{few} fewer than {FEW} people; who knows the people may tell them from these.")
    return notes


def readme(
    opened: StudyReading, tables: Sequence[tuple[str, str]], notes: Sequence[str], small: Sequence[SmallCell]
) -> str:
    """The contents of the data, as a file that goes with them.

    Args:
        opened: The study.
        tables: The file and the title of each table.
        notes: What to be careful with.
        small: The cells of few people.
    """
    lines = [f"# Open data: {safe(opened.study.title)}", ""]
    if opened.study.question:
        lines += [safe(opened.study.question), ""]
    lines += [f"- {note}" for note in notes]
    lines += [
        "",
        "The tables are CSV (RFC 4180, UTF-8), described with types, units and meanings in `datapackage.json`, which "
        "is a Data Package of the open Frictionless format. `study.json` is the whole study. A cell that begins with "
        "an apostrophe is text that a spreadsheet would work out.",
        "",
        "`python3 reproduce.py` and `Rscript reproduce.R` (with the package survival) work the main figures out again "
        "from `attempts.csv` alone.",
        "",
        *(f"- `{path}`: {title}" for path, title in tables),
        "- `study.json`: the whole study",
    ]
    if small:
        lines += ["", f"Cells of fewer than {FEW} people:", ""]
        lines += [f"- {safe(card)}, {safe(chair)}: {count}" for card, chair, count in small]
    return "\n".join(lines) + "\n"
