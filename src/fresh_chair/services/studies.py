"""New studies: empty, from an outline, or the demo."""

from dataclasses import replace
from pathlib import Path

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.outline import study_from_outline
from fresh_chair.core.study import Study
from fresh_chair.core.text import legible
from fresh_chair.services.desk import create_study, new_id
from fresh_chair.store.journals import Journals, Ledgers
from fresh_chair.store.study_file import StudyFile

_MOST_BYTES = 2_000_000


def new_study(path: Path, *, title: str | None = None, outline: Path | None = None) -> Study:
    """Make a study file, with what an outline says in it or with a title alone.

    Raises:
        InputError: Where the outline cannot be used, all reasons at once.
        FileProblem, NotSaved: Where the file cannot be made.
    """
    if outline is None:
        study = Study(id=new_id(), title=legible(title or path.stem)[:200].strip() or "A study")
    else:
        study = study_from_outline(_text_of(outline), name=legible(outline.name), study_id=new_id())
        if title:
            study = replace(study, title=legible(title)[:200])
    create_study(path, study)
    return study


def new_demo(path: Path) -> Study:
    """Make the demo study: a plan, fifteen journals, and what was sorted so far.

    Raises:
        FileProblem, NotSaved: Where the file cannot be made.
    """
    from fresh_chair.demo.writing import demo_journals, demo_ledger, demo_study

    study = demo_study()
    journals = demo_journals(study)

    def fill(file: StudyFile) -> None:
        writer = Journals(file)
        for number, entries in journals.items():
            writer.append(number, entries)
        Ledgers(file).append(demo_ledger(journals))

    create_study(path, study, fill)
    return study


def _text_of(path: Path) -> str:
    name = legible(path.name)
    try:
        if path.stat().st_size > _MOST_BYTES:
            raise FileProblem(f"{name} is too large to be an outline.", "Nothing was created.")
        return path.read_text(encoding="utf-8")
    except UnicodeDecodeError as problem:
        raise FileProblem(f"{name} is not UTF-8 text.", "Nothing was created.") from problem
    except OSError as problem:
        raise FileProblem(f"{name} cannot be read: {problem.strerror}.", "Nothing was created.") from problem
