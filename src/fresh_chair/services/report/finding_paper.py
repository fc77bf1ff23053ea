"""A finding's page as a PDF of one page."""

from pathlib import Path
from typing import TYPE_CHECKING

from fresh_chair.core.errors import InputError
from fresh_chair.services.findings.page import FindingPage, SectionName, finding_page
from fresh_chair.services.findings.sorting import find_finding
from fresh_chair.services.report.printing import PAPERS
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.services.system.files import write_file

if TYPE_CHECKING:
    from fresh_chair.tell.paper.style import Paper

_LEFT: tuple[SectionName, ...] = ("seen", "who met it", "comes and goes", "way round", "life line", "tied")


def paper_path(opened: OpenStudy, finding: str) -> Path:
    """Where the page of a finding is proposed to go: beside the study."""
    path = opened.proposed
    return path.with_name(f"{path.stem}-F{find_finding(opened, finding).number}.pdf")


def write_finding_paper(opened: StudyReading, finding: str, path: Path, *, paper: str = "a4") -> Path:
    """Write the page of a finding; a file of that name is replaced.

    Raises:
        InputError: Where there is no such finding or paper.
        OutsideError: Where the disk refuses.
    """
    if paper not in PAPERS:
        raise InputError(f"The papers are {' and '.join(PAPERS)}.", "Nothing was written.")
    page = finding_page(opened, find_finding(opened, finding).id)
    return write_file(path, _pdf(opened, page, paper), "a finding").path


def _pdf(opened: StudyReading, page: FindingPage, paper: str) -> bytes:
    from fresh_chair.draw.paper import font_folder
    from fresh_chair.tell.paper.finding import finding_pdf

    of = page.view.finding
    told = [(s.name, [(line.words, line.tone == "quiet") for line in s.lines]) for s in page.sections if s.lines]
    left = [(name, lines) for name, lines in told if name in _LEFT]
    right = [(name, lines) for name, lines in told if name not in (*_LEFT, "may belong to")]
    below = "; ".join((of.sort, *(f"#{tag}" for tag in of.tags)))
    size: Paper = "letter" if paper == "letter" else "a4"
    return finding_pdf(
        of.name, of.title, below, (left, right), study=opened.study.title, paper=size, fonts=font_folder()
    )  # fmt: skip
