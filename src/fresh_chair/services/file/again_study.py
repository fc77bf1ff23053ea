"""A new study of the work another one left to be done again: its cards, findings and open questions."""

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.evidence.later import LaterLine
from fresh_chair.core.evidence.ledger import EvidencePut
from fresh_chair.core.evidence.records import LaterItem
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.later import later_of
from fresh_chair.services.evidence.records import append_evidence
from fresh_chair.services.file.carrying import carried_of
from fresh_chair.services.findings.life import CarriedLife, again_list, carried_lives
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.study.open_study import OpenStudy, create_study, new_id, open_study
from fresh_chair.store.address import Address
from fresh_chair.store.ports import StudyStore


def again_study(path: Address, source: Address, *, title: str = "") -> Study:
    """Make a study of the findings that another one wants tested again.

    Its chairs come along as they stood; their releases are changed on their sheets before anybody sits. Nobody is
    planned for it yet.

    Args:
        path: The file to make.
        source: The other study.
        title: What it is called; the other one's title and “again” where that is left out.

    Raises:
        FileProblem, NotSaved: Where a file cannot be read or made.
        Refused: Where nothing is to be tested again.
    """
    if _is_same(path, source):
        raise InputError("A study is not begun in the file it comes from.", "Say another file.")
    other = open_study(source, write=False)
    try:
        found = sorted_findings_of(other)
        wanted = {line.finding for line in again_list(other, found)}
        lives = [each for each in carried_lives(other, found) if each.state != "known"]
        questions = later_of(other)
        old = other.study
    finally:
        other.close()
    if not wanted and not questions:
        raise Refused("Nothing of that study is to be tested again.", "finding again lists what is; so does n in Sort.")
    chosen = replace(found, findings=tuple(view for view in found.findings if view.id in wanted), carried=())
    study = _study(old, chosen, lives, legible(title)[:200] or f"{clipped(old.title, 190)}, again")
    create_study(path, study, lambda store: _fill(store, list(_questions(questions, old, study))))
    return study


def _is_same(one: Address, other: Address) -> bool:
    if isinstance(one, Path) and isinstance(other, Path):
        return one.exists() and other.exists() and one.samefile(other)
    return one == other


def _study(old: Study, chosen: SortedFindings, lives: list[CarriedLife], title: str) -> Study:
    cards = _cards(old, {card for view in chosen.findings for card in view.cards})
    carried = [each for letter in old.chair_by_letter for each in carried_of(old, chosen, lives, (), letter, letter)]
    return replace(
        old, id=new_id(), title=title, cards=cards, people=(), seats=(), carried=tuple(carried), seed=old.seed + 1
    )


def _cards(old: Study, wanted: set[str]) -> tuple[TaskCard, ...]:
    """The cards, with all that have to be tried before them, in their order."""
    while more := {need for name in wanted if name in old.card_by_id for need in old.card_by_id[name].needs} - wanted:
        wanted |= more
    return tuple(
        replace(card, uses_up=tuple(name for name in card.uses_up if name in wanted))
        for card in old.cards
        if card.id in wanted
    )


def _questions(lines: tuple[LaterLine, ...], old: Study, study: Study) -> Iterator[EvidencePut]:
    """Things the other study put off, as records of this one; the marks they come from stay there."""
    for line in lines:
        yield EvidencePut(
            LaterItem(
                id=new_id()[:8],
                what=clipped(line.what, 200),
                sort=line.sort,
                due=line.due,
                when=line.when,
                chair=line.chair if line.chair in study.chair_by_letter else "",
                whom=line.whom,
            ),
            source=clipped(old.title, 200),
        )


def _fill(store: StudyStore, records: list[EvidencePut]) -> None:
    append_evidence(OpenStudy(store), records)
