"""The database's failures, in words a reviewer can act on."""

import sqlite3
from contextlib import AbstractContextManager

from fresh_chair.core.text import legible
from fresh_chair.store.failures import reading_from, writing_to

_SENTENCES = (
    ("disk is full", "The disk that holds {name} is full.", "Free some space and try again."),
    ("readonly", "{name} can only be read here.", "Allow writing to the file and its folder."),
    ("locked", "{name} is held by another program.", "Close it there and try again."),
    (
        "malformed",
        "{name} is damaged: it is shorter than it says, or was changed.",
        "Restore a copy; it was left as is.",
    ),
    ("not a database", "{name} is not a study file.", "It was left as it is."),
    ("unable to open", "{name} cannot be opened here.", "Check that the folder exists and may be read."),
    ("disk i/o error", "The disk that holds {name} failed.", "Check the disk, or that the file is still there."),
    ("hunches are sealed", "{name} refused to change a hunch that is sealed.", "Another one can be added, as late."),
    ("appended", "{name} refused to change an entry that was written.", "Corrections are entries of their own."),
)


def reading(name: str) -> AbstractContextManager[None]:
    """Turn the database's errors of reading into a FileProblem."""
    return reading_from(name, (sqlite3.Error, OSError, UnicodeDecodeError), _sentence)


def writing(name: str) -> AbstractContextManager[None]:
    """Turn the database's errors of writing into a NotSaved."""
    return writing_to(name, (sqlite3.Error, OSError), _sentence)


def _sentence(problem: Exception, name: str) -> tuple[str, str]:
    if isinstance(problem, OSError):
        return f"{name}: {problem.strerror or 'the system refused'}.", "Check the path and try again."
    if isinstance(problem, UnicodeDecodeError):
        # What is told of a broken schema may quote bytes that are no text.
        return f"{name} is damaged: names in it are no text.", "Restore a copy; it was left as it is."
    said = str(getattr(problem, "orig", None) or problem)
    for sign, title, hint in _SENTENCES:
        if sign in said.lower():
            return title.format(name=name), hint
    return f"{name} could not be used: {legible(said)}.", "It was left as it is."
