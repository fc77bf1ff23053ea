"""Findings that may be one, or siblings under a head: candidates, never joined by themselves."""

from collections.abc import Iterable, Iterator, Sequence

from fresh_chair.core.findings.matching import Closeness, alike, words_key
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study


@frozen
class RelatedHint:
    """Another finding that may belong to one, and why."""

    finding: str
    why: tuple[str, ...]


def related_to(
    study: Study, view: FindingView, others: Sequence[FindingView], closeness: Closeness
) -> list[RelatedHint]:
    """The findings that may belong to one, those with most reasons first; its siblings already are none.

    Args:
        study: The plan.
        view: The finding.
        others: All findings of the study.
        closeness: How close a text is to each of several others.
    """
    apart = [each for each in others if each.id != view.id and not _siblings(view, each)]
    near = {apart[index].id: close for index, close in alike(view.title, [o.title for o in apart], closeness)}
    found = [
        (RelatedHint(each.id, why), near.get(each.id, 0.0)) for each in apart if (why := _why(study, view, each, near))
    ]
    found.sort(key=lambda each: (-len(each[0].why), -each[1]))
    return [hint for hint, _ in found]


def _siblings(one: FindingView, other: FindingView) -> bool:
    heads = (one.finding.under or one.id, other.finding.under or other.id)
    return heads[0] == heads[1]


def _why(study: Study, one: FindingView, other: FindingView, near: Iterable[str]) -> tuple[str, ...]:
    """The reasons; a card, a base or a machine in common is one only beside words in common or one another."""
    words = []
    if set(_keys(one)) & set(_keys(other)):
        words.append("the same words at both")
    if other.id in near:
        words.append("their names look alike")
    common = []
    if set(one.cards) & set(other.cards):
        common.append("met on the same card")
    mine, theirs = _chairs(one), _chairs(other)
    if mine and theirs and mine != theirs:
        if {study.chair_by_letter[a].machine for a in mine} == {study.chair_by_letter[b].machine for b in theirs}:
            common.append("on the same machine")
        bases = [{study.chair_by_letter[letter].base for letter in letters} for letters in (mine, theirs)]
        if bases[0] == bases[1] and not bases[0] & {"", "its own"}:
            common.append("on the same base")
    return (*words, *common) if words or len(common) > 1 else ()


def _keys(view: FindingView) -> Iterator[str]:
    return (key for each in view.observations if (key := words_key(each.words)))


def _chairs(view: FindingView) -> set[str]:
    return {each.chair for each in view.observations}
