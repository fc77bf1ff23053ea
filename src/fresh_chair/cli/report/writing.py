"""Commands that write documents, charts and open data."""

from collections.abc import Callable, Iterator, Sequence
from datetime import date
from pathlib import Path
from typing import Literal

import typer

from fresh_chair.cli.base.study import StudyAddress, say, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.telling import Reader
from fresh_chair.core.plan.fields import require_date
from fresh_chair.core.text import legible
from fresh_chair.services.report.outputs import write_export
from fresh_chair.services.report.printing import PAPERS
from fresh_chair.services.report.reports import Telling, finalize, formats_meant, write_documents
from fresh_chair.services.report.writing import staged
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.services.system.files import Written
from fresh_chair.services.system.language import words_in


def write_report_command(path: StudyAddress, folder: Path, telling: Telling, *, final: bool) -> None:
    """`fresh-chair report`."""
    # A language that is not there is said before anything is made.
    words_in(telling.language)
    if final:
        with study_of(path, write=True) as opened:
            for name in finalize(opened, telling, date.today().isoformat()):
                say(f"{name} is final as it is now.")
    _write(path, folder, lambda opened, beside: write_documents(opened, beside, telling, beside=opened.beside))


def telling_meant(
    reader: Reader | None, formats: str, language: str, chairs: Sequence[str], sittings: Sequence[int], until: str, *,
    own: bool, paper: str,
) -> Telling:  # fmt: skip
    """Which documents are meant by options. Raises InputError where one is none there is."""
    if paper not in PAPERS:
        raise InputError(f"The papers are {' and '.join(PAPERS)}.", "Nothing was written.")
    try:
        require_date("the day until when makers may answer", until)
    except ValueError as problem:
        raise InputError(f"{problem}.", "Nothing was written.") from problem
    size: Literal["a4", "letter"] = "letter" if paper == "letter" else "a4"
    listed = tuple(letter.upper() for letter in chairs)
    return Telling(reader, formats_meant(formats), language, listed, tuple(sittings), until, own, size)


def write_charts_command(path: StudyAddress, folder: Path, *, language: str) -> None:
    """`fresh-chair charts`."""
    from fresh_chair.services.report.charts import write_charts

    words = words_in(language)
    _write(path, folder, lambda opened, beside: write_charts(opened, beside, words))


def write_export_command(
    path: StudyAddress, folder: Path, *, with_people: bool, with_attachments: bool, redact: bool
) -> None:
    """`fresh-chair export`."""
    _write(
        path,
        folder,
        lambda opened, beside: write_export(
            opened,
            beside,
            with_people=with_people,
            with_attachments=opened.beside if with_attachments else None,
            redact=redact,
        ),
    )


def _write(path: StudyAddress, folder: Path, write: Callable[[OpenStudy, Path], Iterator[Written]]) -> None:
    opened = open_study(path.at, write=False)
    try:
        for written in staged(folder, lambda beside: write(opened, beside)):
            typer.echo(f"{legible(str(written.path))}  {written.what}")
    finally:
        opened.close()
