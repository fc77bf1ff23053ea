"""The rows of Sort's two lists, as they are drawn: observations under their cards, findings under their heads."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from textual.content import Content

from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import legible
from fresh_chair.services.findings.life import CarriedLife
from fresh_chair.services.findings.observations import similar_to
from fresh_chair.tui.base.sort_in_hand import SortInHand
from fresh_chair.tui.sort.widgets.sort_lines import carried_line, finding_line, observation_line
from fresh_chair.tui.widgets.line_list import LineList
from fresh_chair.tui.widgets.signs import Signs


def shown_observations(found: SortedFindings, by_id: dict[str, FindingView], hand: SortInHand) -> list[Observation]:
    """The observations at the left: of a finding that is looked into, those that look alike, or the filtered ones."""
    inside = by_id.get(hand.inside)
    if inside is not None:
        return list(inside.observations)
    hand.inside = ""
    passed = hand.filter.of(found.observations, hand.kept)
    return [each for each, _ in similar_to(hand.alike, passed)] if hand.alike else passed


@dataclass(frozen=True, slots=True)
class ObservationRows:
    """The left list."""

    shown: Sequence[Observation]
    hand: SortInHand
    study: Study
    signs: Signs

    def show_in(self, pile: LineList) -> None:
        """Show them under the card they were met on; the line in hand stays so."""
        titles = {card.id: card.title for card in self.study.cards}
        rows: list[Observation | str] = []
        card: str | None = None
        for each in self.shown:
            if each.card != card and not self.hand.alike:
                card = each.card
                rows.append(legible(titles.get(card, "of the chair" if not each.sitting else "between cards")))
            rows.append(each)
        ids = [None if isinstance(row, str) else row.target for row in rows]
        pile.show(ids, lambda index, width: self._draw(rows[index], width), key=lambda index: self._key(rows[index]))
        _keep(pile, self.hand.lines.get("observations", ""))

    def _key(self, row: Observation | str) -> Hashable:
        """Everything that a row is drawn from."""
        if isinstance(row, str):
            return row
        taken = row.target in self.hand.taken
        return row.target, row.kind, row.words, row.severity, row.evidence, bool(row.findings), taken

    def _draw(self, row: Observation | str, width: int) -> Sequence[Content]:
        if isinstance(row, str):
            return (Content.styled(row, "$thread"),)
        taken = row.target in self.hand.taken
        return (observation_line(row, self.signs, self.study, width, taken_up=taken),)

    def words(self, found: SortedFindings, by_id: dict[str, FindingView], loose: int) -> str:
        """How many are shown, by which filter, and how many are taken up."""
        hand, count = self.hand, len(self.shown)
        taken = f", {len(hand.taken)} taken up" if hand.taken else ""
        inside = by_id.get(hand.inside)
        if inside is not None:
            return f"in F{inside.finding.number}: {count}{taken}"
        if hand.alike:
            return f"{count} look alike{taken}"
        if not found.observations:
            return "No snags yet. They come from sittings."
        narrowed = hand.filter.words
        if not count and not narrowed:
            return "Every snag is in a finding."
        return f"loose snags: {loose}{taken}; {count} shown{f': {legible(narrowed)}' if narrowed else ''}"


@dataclass(frozen=True, slots=True)
class FindingRows:
    """The right list.

    Attributes:
        blind: Whether judgements are hidden, as from a rater before the settling view is open.
    """

    findings: Sequence[FindingView]
    carried: Sequence[CarriedLife]
    hand: SortInHand
    study: Study
    signs: Signs
    blind: bool

    def show_in(self, pile: LineList) -> None:
        """Show findings, those under a head right below it, then those of earlier studies."""
        heads = [view for view in self.findings if not view.finding.under]
        rows: list[FindingView | CarriedLife | str] = [
            each for head in heads for each in (head, *(v for v in self.findings if v.finding.under == head.id))
        ]
        if self.carried:
            rows += ["carried from earlier studies", *self.carried]
        ids = [_row_id(row) for row in rows]
        pile.show(ids, lambda index, width: self._draw(rows[index], width), key=lambda index: self._key(rows[index]))
        _keep(pile, self.hand.lines.get("findings", ""))

    def _key(self, row: FindingView | CarriedLife | str) -> Hashable:
        """Everything that a row is drawn from."""
        if isinstance(row, CarriedLife):
            return _row_id(row), row.state
        if isinstance(row, str):
            return row
        finding = row.finding
        met = tuple(each.chair for each in row.spread if each.people or each.others)
        judged = (finding.severity, finding.excused, finding.sort, bool(finding.under), self.blind)
        return row.id, finding.number, row.title, len(row.people), met, judged, row.id == self.hand.merging

    def _draw(self, row: FindingView | CarriedLife | str, width: int) -> Sequence[Content]:
        if isinstance(row, str):
            return (Content.styled(row, "$thread"),)
        if isinstance(row, CarriedLife):
            return (carried_line(row, self.signs, self.study, width),)
        merging = row.id == self.hand.merging
        return (finding_line(row, self.signs, self.study, width, merging=merging, blind=self.blind),)

    def words(self, width: int) -> str:
        """How many there are, and how many wait to be judged, or were rated by the rater."""
        count, rater = len(self.findings), self.hand.rater
        if not count:
            return "No findings yet. Take up snags that belong together, then o."
        if rater:
            rated = sum(rater in view.finding.ratings for view in self.findings)
            return f"findings: {count}, {rated} rated by {legible(rater)}"
        unjudged = sum(view.severity is None and view.finding.sort == "problem" for view in self.findings)
        waiting = f"; {unjudged} unjudged" if unjudged else ""
        return f"findings: {count}{', with people who met each' if width >= 50 else ''}{waiting}"


def _keep(pile: LineList, wanted: str) -> None:
    if wanted and pile.here != wanted:
        pile.take(wanted)


def _row_id(row: FindingView | CarriedLife | str) -> str | None:
    if isinstance(row, str):
        return None
    return f"carried:{row.carried.id}" if isinstance(row, CarriedLife) else row.id
