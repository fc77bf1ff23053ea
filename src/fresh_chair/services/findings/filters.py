"""Narrowing the observations of Sort: by words, kind, chair, card, person and kind of evidence."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace
from typing import Any

from fresh_chair.core.evidence.kinds import KINDS
from fresh_chair.core.findings.matching import words_key
from fresh_chair.core.findings.observations import MARKED, Observation
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study

# The kinds that are shown where none is chosen; notes, questions and records of chairs by choice.
USUAL = ("snag", "delight", "quote", "warning")
RECORDS, EVERYTHING, WALKED = "records of chairs", "everything", "marks of walks"


@frozen
class ObservationFilter:
    """Which observations are shown; empty fields let all through.

    Attributes:
        text: Words that all have to be in it, in any order.
        unsorted: Those alone that feed no finding yet.
    """

    text: str = ""
    kind: str = ""
    chair: str = ""
    card: str = ""
    person: str = ""
    evidence: str = ""
    unsorted: bool = True

    @property
    def words(self) -> str:
        """It in words; empty where it lets all unsorted ones through."""
        parts = [self.kind, f"at {self.chair}" if self.chair else "", self.card, self.person, self.evidence]
        parts.append(f"“{self.text}”" if self.text else "")
        return ", ".join(part for part in (*parts, "" if self.unsorted else "sorted ones, too") if part)

    def by(self, field: str, value: str) -> "ObservationFilter":
        """The filter with another value of one field."""
        changed: dict[str, Any] = {field: value}
        return replace(self, **changed)

    def of(self, observations: Iterable[Observation], also: Collection[str] = ()) -> list[Observation]:
        """The observations that it lets through, in their order.

        Args:
            observations: All of them.
            also: Targets that count as unsorted, such as those that were sorted just now.
        """
        wanted = words_key(self.text).split()
        passed = [each for each in observations if self._passes(each, also)]
        return [each for each in passed if _holds(each, wanted)] if wanted else passed

    def _passes(self, each: Observation, also: Collection[str]) -> bool:
        # Written out: thousands are gone through at each key of a search.
        if self.unsorted and each.findings and each.target not in also:
            return False
        if self.chair and self.chair != each.chair:
            return False
        if (self.card and self.card != each.card) or (self.person and self.person != each.participant):
            return False
        if self.evidence and self.evidence != each.evidence:
            return False
        if self.kind == RECORDS:
            return not each.sitting
        if self.kind == WALKED:
            return each.walked
        if self.kind:
            return self.kind in (EVERYTHING, each.kind)
        return each.kind in USUAL


def _holds(each: Observation, wanted: Sequence[str]) -> bool:
    key = f"{words_key(each.words)} {each.participant} {each.chair}".casefold()
    return all(word in key for word in wanted)


def filter_choices(study: Study, observations: Sequence[Observation]) -> dict[str, list[str]]:
    """The values that each field of the filter can have in a study; only such as occur."""
    seen = {each.kind for each in observations if each.sitting}
    cards = {each.card for each in observations}
    known = {each.evidence for each in observations}
    people = {each.participant for each in observations}
    kinds = [WALKED] if any(each.walked for each in observations) else []
    kinds += [RECORDS] if any(not each.sitting for each in observations) else []
    return {
        "kind": ["", *(kind for kind in MARKED if kind in seen), *kinds, EVERYTHING],
        "chair": ["", *study.chair_by_letter],
        "card": ["", *(card.id for card in study.cards if card.id in cards)],
        "person": ["", *(person.code for person in study.people if person.code in people)],
        "evidence": ["", *(kind for kind in KINDS if kind in known)],
    }
