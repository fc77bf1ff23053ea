"""New studies: empty, from an outline, or the demo."""

from dataclasses import replace
from pathlib import Path

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.plan.study import Study
from fresh_chair.core.plan.text.outline import evidence_in_outline, study_from_outline
from fresh_chair.core.text import legible
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.plan.people import add_person, let_go
from fresh_chair.services.study.open_study import OpenStudy, create_study, new_id
from fresh_chair.services.system.clock import StillClock
from fresh_chair.services.system.files import name_of, read_text
from fresh_chair.store.address import Address, name_of_address
from fresh_chair.store.ports import StudyStore

_MOST_BYTES = 2_000_000


def new_study(path: Address, *, title: str | None = None, outline: Path | None = None) -> Study:
    """Make a study file, from an outline or with a title alone.

    Raises:
        InputError: Where the outline cannot be used, all reasons at once.
        FileProblem, NotSaved: Where the file cannot be made.
    """
    evidence, name = "", ""
    if outline is None:
        study = Study(id=new_id(), title=legible(title or name_of_address(path))[:200].strip() or "A study")
    else:
        text = read_text(outline, _MOST_BYTES, kept="Nothing was created.", what="an outline")
        name = name_of(outline)
        study = study_from_outline(text, name=name, study_id=new_id())
        evidence = evidence_in_outline(text, name=name)
        if title:
            study = replace(study, title=legible(title)[:200])
    create_study(path, study, lambda store: _fill_evidence(store, evidence, name))
    return study


def _fill_evidence(store: StudyStore, evidence: str, name: str) -> None:
    """Take the evidence records of an outline in; where one cannot be, no file is made."""
    if evidence.strip():
        from fresh_chair.services.evidence.text import take_evidence

        take_evidence(OpenStudy(store), evidence, name=f"evidence in {name}")


def new_demo(path: Address) -> Study:
    """Make the demo study: a whole plan, the journals of its sittings so far, and their sorting.

    Raises:
        FileProblem, NotSaved: Where the file cannot be made.
    """
    from fresh_chair.demo import journals as writing
    from fresh_chair.services.chair.demo_answers import demo_chair_entries
    from fresh_chair.services.evidence.text import take_evidence

    study = writing.demo_study()
    journals = writing.demo_journals(study)

    def fill(store: StudyStore) -> None:
        writer = store.journals
        preparations = store.preparations
        for hunch in writing.demo_hunches():
            preparations.put_hunch(hunch)
        for number, entries in journals.items():
            writer.append(number, entries)
        for hunch in writing.demo_late_hunches():
            preparations.put_hunch(hunch)
        preparations.add_fixture_checks(writing.demo_looks())
        store.sorting.append(writing.demo_ledger(journals))
        store.chairs.append(*demo_chair_entries(journals, study))
        last = journals[writing.BROKEN_OFF][-1].moment
        _amend_demo(store, last)
        evidence = writing.demo_evidence()
        take_evidence(OpenStudy(store, clock=StillClock(last)), evidence, name="the demo's evidence")

    create_study(path, study, fill)
    return study


def new_second_round(path: Address) -> Study:
    """Make the demo's second round: 24 people, every verdict of the comparison, and one that turns.

    Raises:
        FileProblem, NotSaved: Where the file cannot be made.
    """
    from fresh_chair.demo.second_round import second_journals, second_round

    study = second_round()

    def fill(store: StudyStore) -> None:
        writer = store.journals
        for number, entries in second_journals(study).items():
            writer.append(number, entries)

    create_study(path, study, fill)
    return study


def _amend_demo(store: StudyStore, last: Moment) -> None:
    """The demo's changes of plan after the first sitting, each on its day."""
    from fresh_chair.demo import journals as writing

    opened = OpenStudy(store, clock=StillClock(last))
    for change in writing.preparations()["change"]:
        day = round(writing.moment_of(change).timestamp() * SECOND)
        opened.clock = StillClock(replace(last, wall_ns=day))
        set_field(opened, change["place"], change["text"])
    opened.clock = StillClock(replace(last, wall_ns=last.wall_ns + 3600 * SECOND))
    let_go(opened, "P03", "called away by the school; will not come back")
    add_person(opened, "P07", replaces="P03")
    for place, text in writing.REPLACEMENT.items():
        set_field(opened, f"person.P07.{place}", text)
