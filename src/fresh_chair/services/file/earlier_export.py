"""A study on a server held against an export that was made of it earlier: nothing of it gone, nothing another."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from fresh_chair.core.codec import Unfit, built, plain_json
from fresh_chair.core.errors import InputError
from fresh_chair.core.ledger import Signature
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.file.file_check import FileCheck
from fresh_chair.services.study.snapshot import StudyReading

_MOST_BYTES = 1_000_000_000
_MOST_TOLD = 20


def held_against(opened: StudyReading, file: Path) -> FileCheck:
    """Hold the signatures under a study's entries against those in an earlier export.

    Args:
        opened: The open study.
        file: The export, *study.json*; whole or redacted.

    Raises:
        InputError: Where the file is no export, of another study, or of one that had no signatures.
        FileProblem: Where the server cannot be read.
    """
    before = _signatures_in(file, opened.study.id)
    found = opened.plans.signatures()
    now = {(each.ledger, each.sitting, each.number): each.digest for each in found.kept}
    problems = list(_differences(before, now, found.erased))
    told = problems[:_MOST_TOLD]
    if len(problems) > _MOST_TOLD:
        told.append(f"and {count_of(len(problems) - _MOST_TOLD, 'more entry', 'more entries')} like these")
    return FileCheck("earlier export", f"{count_of(len(before), 'entry', 'entries')} held against it", tuple(told))


def _differences(
    before: list[Signature], now: dict[tuple[str, int, int], str], erased: frozenset[tuple[str, int, int]]
) -> Iterator[str]:
    for each in before:
        key = (each.ledger, each.sitting, each.number)
        if key not in now and key not in erased:
            yield f"{each.place}: it was there when the export was made, and is gone"
        elif key in now and now[key] != each.digest:
            yield f"{each.place}: it is another one than when the export was made"


def _signatures_in(file: Path, study: str) -> list[Signature]:
    """The signatures of an export. Raises InputError."""
    name = legible(file.name)
    try:
        if file.stat().st_size > _MOST_BYTES:
            raise InputError(f"{name} is too large for an export.", "Nothing was held against it.")
        whole: Any = plain_json(file.read_text(encoding="utf-8"))
        listed, of = whole["signatures"], whole["study"]["id"]
        found = [built(Signature, each, "") for each in listed]
    except OSError as problem:
        raise InputError(f"{name} cannot be read: {problem.strerror}.", "Nothing was held against it.") from problem
    except (ValueError, KeyError, TypeError, Unfit) as problem:
        raise InputError(
            f"{name} is no export with signatures.", "One is made of a study on a server by: fresh-chair export"
        ) from problem
    if of != study:
        raise InputError(f"{name} is an export of another study.", "Nothing was held against it.")
    if not found:
        raise InputError(f"{name} was made of a study that was on no server.", "It has no signatures to hold against.")
    return found
