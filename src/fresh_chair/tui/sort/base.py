"""The base of Sort's screen: both lists drawn, and the lines in hand."""

from collections.abc import Callable, Sequence

from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.findings.life_line import Life
from fresh_chair.core.findings.observations import TO_SORT, Observation
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.findings.life import CarriedLife, carried_lives, life_states
from fresh_chair.services.findings.observations import closeness, similar_to, sorted_findings_of
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sort_in_hand import Pile, SortInHand
from fresh_chair.tui.sort.widgets.sort_lines import (
    carried_line,
    finding_detail,
    finding_line,
    observation_detail,
    observation_line,
)
from fresh_chair.tui.widgets.line_list import LineList


class SortBase(Place):
    """The two lists. Observations stay taken up, and each list keeps its line in hand."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        session.sort = session.sort or SortInHand()
        self.hand = session.sort
        self.found = SortedFindings((), ())
        self._shown: list[Observation] = []
        self._findings: list[FindingView] = []
        self._carried: list[CarriedLife] = []
        self._states: dict[str, Life] = {}

    @property
    def blind(self) -> bool:
        """Whether others' judgements are hidden: a rater's, before the settling view is open."""
        return bool(self.hand.rater) and not self.session.opened.findings.settling

    def list_of(self, pile: Pile) -> LineList:
        """One of the lists."""
        return self.query_one(f"#{pile}", LineList)

    @property
    def finding_in_hand(self) -> FindingView | None:
        """The finding in hand at the right."""
        return self.found.by_id.get(self.list_of("findings").here or "") if self.is_mounted else None

    @property
    def carried_in_hand(self) -> CarriedLife | None:
        """The carried finding in hand at the right."""
        here = self.list_of("findings").here or ""
        name = here.removeprefix("carried:")
        return next((e for e in self._carried if here != name and e.carried.id == name), None)

    @property
    def observation_in_hand(self) -> Observation | None:
        """The observation in hand at the left."""
        here = self.list_of("observations").here
        return next((each for each in self._shown if each.target == here), None)

    @property
    def chosen(self) -> list[str]:
        """Targets of the observations that are taken up, or of the one in hand at the left."""
        if self.hand.taken:
            return list(self.hand.taken)
        here = self.observation_in_hand
        return [here.target] if here is not None and self.hand.pile == "observations" else []

    def change(self, act: Callable[[], object]) -> bool:
        """Do something that can be refused, and show both lists as they are then; False where it was refused."""
        done = self.attempt(act)
        if done:
            self.draw()
        return done

    def draw(self) -> None:
        """Show both lists as the study is now."""
        opened = self.session.opened
        self.found = sorted_findings_of(opened)
        known = {each.target for each in self.found.observations}
        self.hand.taken = {target: None for target in self.hand.taken if target in known}
        self._states = life_states(opened, self.found)
        self._carried = carried_lives(opened, self.found)
        self.draw_observations()
        self._draw_findings()
        self.draw_detail()
        self.follow()
        self.refresh_bindings()

    def observations(self) -> list[Observation]:
        """The observations that are shown at the left, in their order."""
        hand = self.hand
        inside = self.found.by_id.get(hand.inside)
        if inside is not None:
            return list(inside.observations)
        hand.inside = ""
        found = hand.filter.of(self.found.observations)
        return [each for each, _ in similar_to(hand.alike, found)] if hand.alike else found

    def draw_observations(self) -> None:
        """Show the observations under the card they were met on."""
        self._shown = self.observations()
        titles = {card.id: card.title for card in self.session.opened.study.cards}
        rows: list[Observation | str] = []
        card: str | None = None
        for each in self._shown:
            if each.card != card and not self.hand.alike:
                card = each.card
                rows.append(legible(titles.get(card, "of the chair" if not each.sitting else "between cards")))
            rows.append(each)
        pile = self.list_of("observations")
        pile.show([None if isinstance(row, str) else row.target for row in rows], self._drawer(rows))
        wanted = self.hand.lines.get("observations")
        if wanted and pile.here != wanted:
            pile.take(wanted)
        self._say_observations()

    def _drawer(self, rows: Sequence[Observation | str]) -> Callable[[int, int], Sequence[Content]]:
        study, signs = self.session.opened.study, self.signs

        def drawn(index: int, width: int) -> Sequence[Content]:
            row = rows[index]
            if isinstance(row, str):
                return (Content.styled(row, "$thread"),)
            return (observation_line(row, signs, study, width, taken_up=row.target in self.hand.taken),)

        return drawn

    def draw_heads(self) -> None:
        """Say how many are shown and taken up."""
        self._say_observations()

    def _say_observations(self) -> None:
        hand = self.hand
        taken = f", {len(hand.taken)} taken up" if hand.taken else ""
        loose = sum(each.kind == TO_SORT for each in self.found.loose)
        inside = self.found.by_id.get(hand.inside)
        if inside is not None:
            said = f"in F{inside.finding.number}: {len(self._shown)}{taken}"
        elif hand.alike:
            said = f"{len(self._shown)} look alike{taken}"
        else:
            narrowed = hand.filter.words
            shown = f"; {len(self._shown)} shown: {legible(narrowed)}" if narrowed else f"; {len(self._shown)} shown"
            said = f"loose snags: {loose}{taken}{shown}"
            if not self.found.observations:
                said = "No snags yet. They come from sittings."
            elif not self._shown and not narrowed:
                said = "Every snag is in a finding."
        self.query_one("#left-head", Static).update(Content.styled(said, "bold $chalk"))

    def _draw_findings(self) -> None:
        self._findings = _headed(self.found.findings)
        rows: list[FindingView | CarriedLife | str] = [*self._findings]
        if self._carried:
            rows += ["carried from earlier studies", *self._carried]
        study, signs = self.session.opened.study, self.signs

        def drawn(index: int, width: int) -> Sequence[Content]:
            row = rows[index]
            if isinstance(row, str):
                return (Content.styled(row, "$thread"),)
            if isinstance(row, CarriedLife):
                return (carried_line(row, signs, study, width),)
            merging = row.id == self.hand.merging
            return (finding_line(row, signs, study, width, merging=merging, blind=self.blind),)

        pile = self.list_of("findings")
        pile.show([_row_id(row) for row in rows], drawn)
        wanted = self.hand.lines.get("findings")
        if wanted and pile.here != wanted:
            pile.take(wanted)
        self._say_findings()

    def _say_findings(self) -> None:
        unjudged = sum(view.severity is None for view in self.found.findings)
        said = f"findings: {len(self.found.findings)}, with people who met each"
        if self.hand.rater:
            rated = sum(self.hand.rater in view.finding.ratings for view in self.found.findings)
            said = f"findings: {len(self.found.findings)}, {rated} rated by {legible(self.hand.rater)}"
        elif unjudged:
            said += f"; {unjudged} unjudged"
        if not self.found.findings:
            said = "No findings yet. Take up snags that belong together, then o."
        self.query_one("#right-head", Static).update(Content.styled(said, "bold $chalk"))

    def draw_detail(self) -> None:
        """Show the line in hand in full."""
        detail = self.query_one("#detail", Static)
        study = self.session.opened.study
        observation, view = self.observation_in_hand, self.finding_in_hand
        if self.hand.pile == "observations" and observation is not None:
            fed = self.found.findings_of(observation)
            detail.update(observation_detail(observation, study, fed, self._near(observation, fed)))
        elif view is not None:
            state = self._states.get(view.id, "")
            detail.update(finding_detail(view, self.signs, study, state, blind=self.blind))
        else:
            carried = self.carried_in_hand
            said = "" if carried is None else f"{legible(carried.carried.title)}\n{legible(carried.words)}"
            detail.update(Content.styled(said, "$chalk"))

    def _near(self, observation: Observation, fed: Sequence[FindingView]) -> list[FindingView]:
        """Findings whose words look like an observation's, the closest first; at most three."""
        others = [view for view in self._findings if view not in fed]
        if not observation.words or not others:
            return []
        texts = [" ".join(each.words for each in view.observations[:6]) or view.title for view in others]
        close = list(zip(others, closeness(observation.words.casefold(), texts), strict=True))
        return [view for view, how in sorted(close, key=lambda each: -each[1])[:3] if how >= _NEAR]


# From here on a finding is offered for an observation.
_NEAR = 0.72


def _row_id(row: FindingView | CarriedLife | str) -> str | None:
    if isinstance(row, str):
        return None
    return f"carried:{row.carried.id}" if isinstance(row, CarriedLife) else row.id


def _headed(findings: Sequence[FindingView]) -> list[FindingView]:
    """Findings with those under a head right below it."""
    heads = [view for view in findings if not view.finding.under]
    return [each for head in heads for each in (head, *(v for v in findings if v.finding.under == head.id))]


def finding_words(view: FindingView) -> str:
    """A finding in a notice."""
    return f"F{view.finding.number} “{legible(view.title)}”"


def taken_words(count: int) -> str:
    """How many were put somewhere."""
    return count_of(count, "observation")
