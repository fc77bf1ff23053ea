"""Asking a chair: at once, or by a courier who brings the answers later."""

import hashlib
import re
import secrets
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from fresh_chair.core.chair.ledger import ReachChosen
from fresh_chair.core.errors import HostKeyUnknown, InputError, Refused
from fresh_chair.services.chair.enquiries import (
    BASELINE,
    ENQUIRIES,
    FRESH,
    NOISE,
    Brought,
    chair_of,
    known_hosts,
    questions_of,
)
from fresh_chair.services.chair.kept_answers import keep
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.files import Written, name_of, read_bytes, write_file

if TYPE_CHECKING:
    from fresh_chair.probe.questions.framing import Question
    from fresh_chair.probe.runner import Progress


def run_enquiry(
    opened: OpenStudy,
    letter: str,
    enquiry: str,
    *,
    way: str = "",
    cards: Sequence[str] = (),
    identity: tuple[Path, ...] = (),
    progress: "Progress | None" = None,
) -> Brought:
    """Ask a chair and put its answers on record.

    Args:
        opened: The study.
        letter: The chair.
        enquiry: One of the enquiries.
        way: How it is reached; by default as was chosen for it.
        cards: For checks, the cards; all where none is named.
        identity: SSH keys to use besides the user's own.
        progress: Is kept up to date, and says when to stop.

    Raises:
        InputError, Refused: As `questions_of`.
        Unreachable: Where the chair cannot be asked; nothing is put on record then.
        NotSaved: Where the disk refuses.
    """
    from fresh_chair.probe.reach import transport_to
    from fresh_chair.probe.runner import ask

    opened.require_adding()
    asked = questions_of(opened, letter, enquiry, cards)
    way = way or opened.known_chairs.of(letter).reach
    if not way:
        raise Refused(
            f"Nothing says how chair {letter} is reached.",
            "It is one of: here, courier, ssh user@host or user@host:port.",
        )
    if not asked:
        raise Refused("Nothing there has a check to ask.", "Checks stand on the cards, and beside claims.")
    answers = ask(transport_to(way, known_hosts=known_hosts(), identity=identity), asked, progress)
    if progress is not None and progress.stop.is_set() and enquiry in (BASELINE, NOISE, FRESH):
        raise Refused("Stopped.", "Half a state says nothing; nothing was put on record.")
    return keep(opened, letter, enquiry, way, answers, cards=cards)


def courier_for(opened: OpenStudy, letter: str, enquiries: Sequence[str], folder: Path) -> Written:
    """Write the script that a courier carries to a chair.

    Args:
        opened: The study.
        letter: The chair.
        enquiries: What is to be asked, several at once.
        folder: Where to, usually a stick.

    Raises:
        InputError, Refused: As `questions_of`.
        OutsideError: Where it cannot be written.
    """
    from fresh_chair.probe.courier import courier_script

    questions = _all_questions(opened, letter, enquiries)
    number = secrets.token_hex(8)
    script = courier_script(
        questions,
        number=number,
        enquiry=f"{letter} {'.'.join(enquiries)} {_study_mark(opened)}",
        result=f"chair-{letter}-{number[:6]}.answers",
    )
    return write_file(folder / f"ask-chair-{letter}.sh", script.encode(), f"the courier's script for chair {letter}")


def brought_by_courier(opened: OpenStudy, path: Path) -> tuple[str, list[Brought]]:
    """Put a courier's answers on record; returns the chair's letter and a report on each enquiry.

    Raises:
        FileProblem, InputError: Where the file is none, or of another study; nothing is put on record then.
        NotSaved: Where the disk refuses.
    """
    from fresh_chair.probe.courier import MOST_BYTES, enquiry_in, read_courier

    opened.require_adding()
    name = name_of(path)
    data = read_bytes(path, MOST_BYTES, kept="Nothing was taken from it.", what="what a courier brings")
    stamp = re.fullmatch(r"([A-Z]) ([a-z.]+) ([0-9a-f]+)", enquiry_in(data, name))
    if stamp is None:
        raise InputError(f"{name} does not say what it was sent for.", "Nothing was taken from it.")
    letter, enquiries = stamp.group(1), stamp.group(2).split(".")
    if stamp.group(3) != _study_mark(opened):
        raise InputError(f"{name} was sent out by another study.", "Nothing was taken from it.")
    answers = read_courier(data, name, _all_questions(opened, letter, enquiries))
    return letter, [keep(opened, letter, enquiry, "courier", answers) for enquiry in enquiries]


def _all_questions(opened: OpenStudy, letter: str, enquiries: Sequence[str]) -> "list[Question]":
    if not enquiries:
        raise InputError("A courier needs something to ask.", f"It is some of: {', '.join(ENQUIRIES)}.")
    found = {question.name: question for enquiry in enquiries for question in questions_of(opened, letter, enquiry)}
    if not found:
        raise Refused("Nothing there has a check to ask.", "Checks stand on the cards, and beside claims.")
    return list(found.values())


def _study_mark(opened: OpenStudy) -> str:
    return hashlib.sha256(opened.study.id.encode()).hexdigest()[:12]


def choose_reach(opened: OpenStudy, letter: str, way: str) -> str:
    """Choose how a chair is reached; returns it as it is kept.

    Raises:
        InputError: Where it is no way, or there is no such chair.
        NotSaved: Where the disk refuses.
    """
    from fresh_chair.probe.transport import COURIER, HERE, address_of

    chair_of(opened, letter)
    way = " ".join(way.split())
    if way:
        address = address_of(way)
        way = f"ssh {address.text}" if address is not None else way
        assert address is not None or way in (HERE, COURIER)
    if way != opened.known_chairs.of(letter).reach:
        opened.note(letter, ReachChosen(way))
    return way


def trust_host(problem: HostKeyUnknown) -> None:
    """Confirm a chair's host key after the user compared it. Raises FileProblem where it is not kept."""
    from fresh_chair.probe.ssh import HostKeys

    HostKeys(known_hosts()).trust(problem.host, problem.port, problem.key)
