"""Commands from a script's author: shown first, and run only once they are approved for this study.

What is approved is kept with the user, not in the study: a study file from elsewhere cannot bring its own approval.
"""

import hashlib
import os
from collections.abc import Iterable
from pathlib import Path

from platformdirs import user_data_path

from fresh_chair.core.chair.records import Claim
from fresh_chair.core.checks.parser import read_check
from fresh_chair.core.errors import FileProblem
from fresh_chair.core.plan.study import Study
from fresh_chair.services.study.open_study import OpenStudy


def commands_in(opened: OpenStudy) -> list[tuple[str, str]]:
    """Every command that checks of this study would run, with where it stands."""
    found = [
        (f"card {card.id}", command)
        for card in opened.study.cards
        for line in card.check_lines
        for command in line.commands
    ]
    for letter, ledger in opened.known_chairs.all.items():
        for held in ledger.held("claim"):
            if isinstance(held.record, Claim) and held.record.check:
                found += [(f"a claim about {letter}", c) for c in read_check(held.record.check).commands]
    return list(dict.fromkeys(found))


def approved(study: Study) -> set[str]:
    """The commands of this study that its user has approved, each by its checksum."""
    try:
        return set(_file(study).read_text(encoding="ascii").split())
    except (OSError, UnicodeDecodeError):
        return set()


def is_approved(command: str, known: set[str]) -> bool:
    """Whether a command is among those approved."""
    return _sum(command) in known


def approve(study: Study, commands: Iterable[str]) -> int:
    """Approve commands for this study; returns how many were new.

    Raises:
        FileProblem: Where that cannot be kept; then nothing is approved.
    """
    known = approved(study)
    new = [checksum for checksum in dict.fromkeys(map(_sum, commands)) if checksum not in known]
    file = _file(study)
    try:
        file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        descriptor = os.open(file, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o600)
        with os.fdopen(descriptor, "a", encoding="ascii") as kept:
            kept.writelines(f"{checksum}\n" for checksum in new)
    except OSError as problem:
        raise FileProblem(f"The approval cannot be kept: {problem.strerror}.", "Nothing was approved.") from problem
    return len(new)


def _sum(command: str) -> str:
    return hashlib.sha256(command.encode()).hexdigest()


def _file(study: Study) -> Path:
    return user_data_path("fresh-chair") / "approved" / _sum(study.id)[:32]
