"""The base of Sort's screen: both lists drawn, and the lines in hand."""

from collections.abc import Callable

from textual.content import Content
from textual.widgets import Static

from fresh_chair.core.findings.life_line import Life
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.sorted_findings import FindingView, SortedFindings
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.findings.life import CarriedLife, carried_lives, life_states
from fresh_chair.services.findings.observations import near_findings, sorted_findings_of
from fresh_chair.tui.base.drawing import DrawnPlace
from fresh_chair.tui.base.session import Session
from fresh_chair.tui.base.sort_in_hand import Pile, SortInHand
from fresh_chair.tui.sort.lists import FindingRows, ObservationRows, shown_observations
from fresh_chair.tui.sort.widgets.sort_lines import finding_detail, observation_detail
from fresh_chair.tui.widgets.line_list import LineList


class SortBase(DrawnPlace):
    """The two lists. Observations stay taken up, and each list keeps its line in hand."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        session.sort = session.sort or SortInHand()
        self.hand = session.sort
        self.found = SortedFindings((), ())
        self.by_id: dict[str, FindingView] = {}
        self.shown: list[Observation] = []
        self._by_target: dict[str, Observation] = {}
        self._loose = 0
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
        return self.by_id.get(self.list_of("findings").here or "") if self.is_mounted else None

    @property
    def carried_in_hand(self) -> CarriedLife | None:
        """The carried finding in hand at the right."""
        here = self.list_of("findings").here or ""
        name = here.removeprefix("carried:")
        return next((e for e in self._carried if here != name and e.carried.id == name), None)

    @property
    def observation_in_hand(self) -> Observation | None:
        """The observation in hand at the left."""
        return self._by_target.get(self.list_of("observations").here or "")

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
        self.by_id, self._loose = self.found.by_id, len(self.found.loose)
        if self.hand.taken:
            known = {each.target for each in self.found.observations}
            self.hand.taken = {target: None for target in self.hand.taken if target in known}
        self._states = life_states(opened, self.found)
        self._carried = carried_lives(opened, self.found)
        self.draw_observations()
        findings = FindingRows(self.found.findings, self._carried, self.hand, opened.study, self.signs, self.blind)
        findings.show_in(self.list_of("findings"))
        self._say("#right-head", findings.words(self.list_of("findings").size.width))
        piles: tuple[Pile, ...] = ("observations", "findings")
        for pile in piles:
            self.hand.lines[pile] = self.list_of(pile).here or ""
        self.draw_detail()
        self.follow()
        self.refresh_bindings()

    def draw_observations(self) -> None:
        """Show the observations, narrowed as they are now."""
        self.shown = shown_observations(self.found, self.by_id, self.hand)
        self._by_target = {each.target: each for each in self.shown}
        self._observation_rows.show_in(self.list_of("observations"))
        self.draw_heads()

    def draw_heads(self) -> None:
        """Say how many are shown and taken up."""
        self._say("#left-head", self._observation_rows.words(self.found, self.by_id, self._loose))

    @property
    def _observation_rows(self) -> ObservationRows:
        return ObservationRows(self.shown, self.hand, self.session.opened.study, self.signs)

    def _say(self, head: str, words: str) -> None:
        self.query_one(head, Static).update(Content.styled(words, "bold $chalk"), layout=False)

    def draw_detail(self) -> None:
        """Show the line in hand in full."""
        study = self.session.opened.study
        observation, view = self.observation_in_hand, self.finding_in_hand
        if self.hand.pile == "observations" and observation is not None:
            fed = self.found.findings_of(observation)
            near = near_findings(observation, [view for view in self.found.findings if view not in fed])
            shown = observation_detail(observation, study, fed, near)
        elif view is not None:
            state = self._states.get(view.id, "")
            shown = finding_detail(view, self.signs, study, state, blind=self.blind)
        else:
            carried = self.carried_in_hand
            said = "" if carried is None else f"{legible(carried.carried.title)}\n{legible(carried.words)}"
            shown = Content.styled(said, "$chalk")
        # Its room is fixed: laying the screen out anew would cost more than all else at a key.
        self.query_one("#detail", Static).update(shown, layout=False)

    def tell(self, words: str, *, colour: str = "$moss") -> None:
        """Say something in the row that Sort keeps for it."""
        self._said_while_asking = self.asking
        self.query_one("#notice", Static).update(Content.styled(f" {words}", colour), layout=False)

    def clear_notice(self) -> None:
        """Take the last sentence away; that marks lie elsewhere stays said until they are back."""
        words = self.session.opened.spool.words if self.session.opened.loaded else ""
        self.query_one("#notice", Static).update(Content.styled(f" {words}" if words else "", "$clay"), layout=False)


def finding_words(view: FindingView) -> str:
    """A finding in a notice."""
    return f"F{view.finding.number} “{legible(view.title)}”"


def taken_words(count: int) -> str:
    """How many were put somewhere."""
    return count_of(count, "observation")
