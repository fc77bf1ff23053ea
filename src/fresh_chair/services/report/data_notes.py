"""The words that go with open data: contents, cautions, and cells so small that a person may be told from them."""

from collections.abc import Sequence

from fresh_chair.core.text import legible
from fresh_chair.services.study.snapshot import StudyReading

# Fewer people than this may be told apart by somebody who knows them.
FEW = 5


def small_cells(opened: StudyReading) -> list[tuple[str, str, int]]:
    """Each task and chair with some, and fewer than five, people: the card's title, the chair's, how many."""
    study, found = opened.study, []
    for card in study.cards:
        for chair in study.chairs:
            here = {
                fact.participant
                for fact in opened.facts()
                if (fact.card, fact.chair) == (card.id, chair.letter) and study.counted(fact.participant)
            }
            if 0 < len(here) < FEW:
                found.append((card.title, chair.title, len(here)))
    return found


def data_notes(opened: StudyReading, *, with_people: bool, redacted: bool) -> list[str]:
    """Cautions about the data, a sentence each."""
    notes = ["People are told by their codes." if not with_people else "People's own data are in it: keep it."]
    if redacted:
        notes.append(
            "Redacted: quotes, words typed about people, names of observers and locations of files are left out, and "
            "stand there as (left out)."
        )
    if opened.study.sample:
        notes.append("Sample data: everybody and everything in it is made up.")
    few = len(small_cells(opened))
    if few:
        notes.append(f"{few} cells have fewer than {FEW} people; who knows the people may tell them from these.")
    return notes


def readme(opened: StudyReading, tables: Sequence[tuple[str, str]], notes: Sequence[str]) -> str:
    """The contents of the data, as a file that goes with them.

    Args:
        opened: The study.
        tables: The file and the title of each table.
        notes: What to be careful with.
    """
    lines = [f"# Open data: {legible(opened.study.title)}", ""]
    if opened.study.question:
        lines += [legible(opened.study.question), ""]
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
    cells = small_cells(opened)
    if cells:
        lines += ["", f"Cells of fewer than {FEW} people:", ""]
        lines += [f"- {legible(card)}, {legible(chair)}: {count}" for card, chair, count in cells]
    return "\n".join(lines) + "\n"
