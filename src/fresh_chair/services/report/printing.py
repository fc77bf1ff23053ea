"""The printed documents of a plan."""

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.fixtures import bench_of
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import legible
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import Written, write_file

if TYPE_CHECKING:
    from fresh_chair.tell.paper.document import Printed
    from fresh_chair.tell.paper.style import Paper

PARTS: "dict[Printed, str]" = {
    "cards": "task cards, one to a page",
    "cards-4": "task cards, four to a page",
    "running": "running sheets, one a sitting",
    "consent": "consent form",
    "ratings": "rating forms, one a sitting",
    "fixtures": "list for the bench",
}
PAPERS: "tuple[Paper, ...]" = ("a4", "letter")


def print_plan(
    opened: StudyReading,
    path: Path,
    parts: "Sequence[Printed]",
    *,
    paper: "Paper" = "a4",
    sittings: Sequence[int] = (),
    words: Words = ENGLISH,
) -> Written:
    """Write a PDF with these parts.

    Args:
        opened: The open study.
        path: Where it goes; a file of that name is replaced.
        parts: What goes into it.
        paper: Its size.
        sittings: Which get a running sheet; all to come where none is named.
        words: The language of its sentences.

    Raises:
        InputError: Where nothing is to be printed, or a part, paper or sitting is none there is.
        OutsideError: Where the disk refuses.
    """
    unknown = [part for part in parts if part not in PARTS]
    if not parts or unknown:
        wrong = f"{legible(unknown[0])} is no part" if unknown else "No part was chosen"
        raise InputError(f"{wrong}; there are {', '.join(PARTS)}.", "Nothing was written.")
    if paper not in PAPERS:
        raise InputError(f"{legible(paper)} is no paper; there are {' and '.join(PAPERS)}.", "Nothing was written.")
    from fresh_chair.draw.paper import font_folder
    from fresh_chair.tell.paper.document import printed

    study = opened.study
    seats = [study.seat(number) for number in sittings] or [
        seat
        for seat in study.seats
        if opened.phase(seat.number) is Phase.EMPTY and not study.person_by_code[seat.participant].left
    ]
    fixtures = bench_of(study, opened.fixture_checks)
    data = printed(study, parts, paper=paper, seats=seats, fixtures=fixtures, fonts=font_folder(), words=words)
    return write_file(path, data, ", ".join(PARTS[part] for part in parts))
