"""A study on a server held against an export that was made of it earlier: nothing of it gone, nothing another."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from fresh_chair.core.codec import Unfit, built, plain_json
from fresh_chair.core.errors import InputError
from fresh_chair.core.ledger import Signature
from fresh_chair.core.text import count_of, in_short, legible
from fresh_chair.services.file.file_check import FileCheck
from fresh_chair.services.study.snapshot import StudyReading

_MOST_BYTES = 1_000_000_000


def held_against(opened: StudyReading, file: Path) -> FileCheck:
    """Hold the signatures under a study's entries against those in an earlier export.

    Args:
        opened: The open study.
        file: The export, *study.json*; whole or redacted.

    Raises:
        InputError: Where the study is in a file, or the export is none, of another study, or without signatures.
        FileProblem: Where the server cannot be read.
    """
    found = opened.plans.signatures()
    if not found.signed:
        raise InputError(
            "Entries in a file have no signatures to hold against.", "Say the study's address on a server."
        )
    before = _signatures_in(file, opened.study.id)
    now = {each.key: each.digest for each in found.kept}
    problems = in_short(list(_differences(before, now, found.erased)))
    return FileCheck("earlier export", f"{count_of(len(before), 'entry', 'entries')} held against it", problems)


def _differences(
    before: list[Signature], now: dict[tuple[str, int, int], str], erased: frozenset[tuple[str, int, int]]
) -> Iterator[str]:
    for each in before:
        if each.key not in now and each.key not in erased:
            yield f"{each.place}: it was there when the export was made, and is gone"
        elif now.get(each.key, each.digest) != each.digest:
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
