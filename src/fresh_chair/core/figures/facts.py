"""Attempts as plain facts: the input of every figure."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Literal

from fresh_chair.core.chair.freshness import Freshness
from fresh_chair.core.clock import SECOND
from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, OWN, Evidence
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import TimeMeasure
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting

FirstChoice = Literal["right", "wrong", ""]


@frozen
class AttemptFact:
    """One ended attempt. The three lanes add up to the elapsed time.

    Attributes:
        chair_found: Whether the chair was proved fresh when the sitting began.
        tries: How often it was tried within the attempt; hesitations, clicks without a reaction, misleading messages.
        grade, route, why: How far it got, by which way, and what giving up was about; empty where it was not said.
        chair_says: What the chair itself shows; empty where it was not asked.
        restarts, new_logins: How many of them it took.
        left_running_seconds: How long the machine worked on for it while another card was in hand; it is in the lanes.
        expectation: How easy the person expected it to be, 1 to 7, where that was asked before.
        evidence: How its outcome is known.
        shown_wait_seconds, silent_wait_seconds, frozen_wait_seconds: Waits by how they looked, where that was told.
        spots: The places that were visited, in their order, each time anew.
        first_choice: Whether the first place was on the expected route; empty where that is not known.
        first_try: False for a later try of the same person at the same card and chair; those stay apart.
    """

    sitting: int
    participant: str
    chair: str
    position: int
    card: str
    attempt: int
    first_try: bool
    outcome: Outcome
    reason: str
    hands_seconds: float
    wait_seconds: float
    aside_seconds: float
    elapsed_seconds: float
    ease: int | None
    helped: int
    wrong_places: int
    snags: int
    said_done: bool
    chair_found: Freshness = "not checked"
    tries: int = 1
    hesitations: int = 0
    no_reactions: int = 0
    misled: int = 0
    longest_silent_wait_seconds: float = 0.0
    grade: int | None = None
    route: str = ""
    why: str = ""
    chair_says: str = ""
    restarts: int = 0
    new_logins: int = 0
    left_running_seconds: float = 0.0
    expectation: int | None = None
    shown_wait_seconds: float = 0.0
    silent_wait_seconds: float = 0.0
    frozen_wait_seconds: float = 0.0
    spots: tuple[str, ...] = ()
    first_choice: FirstChoice = ""
    evidence: Evidence = BESIDE_A_NEWCOMER

    @property
    def own(self) -> bool:
        """True where its outcome is the reviewer's own evidence."""
        return self.evidence in OWN

    @property
    def lanes_seconds(self) -> float:
        """Hands time as the lanes have it, also where `hands_seconds` was given another time to stand for."""
        return self.elapsed_seconds - self.wait_seconds - self.aside_seconds

    @property
    def said_done_was_not(self) -> bool:
        """The participant believed it done, and it was not."""
        return self.said_done and self.outcome.counts and not self.outcome.completed


def by_time(facts: Iterable[AttemptFact], times: TimeMeasure) -> list[AttemptFact]:
    """The facts with the chosen time where every figure looks for it."""
    if times == "hands":
        return list(facts)
    return [replace(fact, hands_seconds=fact.elapsed_seconds) for fact in facts]


def is_counted(study: Study, seat: Seat, sitting: Sitting | None) -> bool:
    """Whether a sitting is a newcomer's whom every figure counts: a participant's, begun, and no walk."""
    return sitting is not None and sitting.walk is None and study.counted(seat.participant)


def facts_of(study: Study, sittings: Mapping[int, Sitting]) -> list[AttemptFact]:
    """Every participant's attempt that has ended and was judged, in the order of sittings; no pilot's, no expert's."""
    facts: list[AttemptFact] = []
    tried: dict[tuple[str, str], set[str]] = {}
    for seat in sorted(study.seats, key=lambda seat: seat.number):
        sitting = sittings.get(seat.number)
        if sitting is not None and is_counted(study, seat, sitting):
            before = tried.setdefault((seat.participant, seat.chair), set())
            facts.extend(_of_sitting(seat, sitting, before, study))
    return facts


def first_choice_of(attempt: Attempt, route: Sequence[str]) -> FirstChoice:
    """Whether the first thing on the way was on the expected route.

    A step of the route is right, a mark for a wrong place is wrong; a place is right where the route names it, and
    wrong where there is a route that does not. Nothing is known of an attempt of which no way was logged.
    """
    if not attempt.spots and not attempt.steps:
        return ""
    own = sorted((tick for tick in attempt.ticks if not tick.observer), key=lambda tick: tick.at_ns)
    for tick in own:
        if tick.kind in ("step_reached", "wrong_place"):
            return "right" if tick.kind == "step_reached" else "wrong"
        if tick.kind == "place_visited" and route:
            place = str(tick.what).casefold()
            return "right" if any(place in step.casefold() or step.casefold() in place for step in route) else "wrong"
    return ""


def _of_sitting(seat: Seat, sitting: Sitting, tried: set[str], study: Study) -> Iterable[AttemptFact]:
    """The facts of one sitting; `tried` holds the cards the person has tried at that chair, and gets more of them."""
    for attempt in sitting.tried:
        if attempt.outcome is None:
            continue
        card = study.card_by_id.get(attempt.card)
        route = () if card is None else card.routes.get(seat.chair, ())
        yield AttemptFact(
            sitting=seat.number,
            participant=seat.participant,
            chair=seat.chair,
            position=seat.position,
            card=attempt.card,
            attempt=attempt.number,
            first_try=attempt.card not in tried,
            outcome=attempt.outcome,
            reason=attempt.reason,
            hands_seconds=attempt.lane_ns(Lane.HANDS) / SECOND,
            wait_seconds=attempt.lane_ns(Lane.WAIT) / SECOND,
            aside_seconds=attempt.lane_ns(Lane.ASIDE) / SECOND,
            elapsed_seconds=attempt.elapsed_ns() / SECOND,
            ease=attempt.ease,
            helped=attempt.helped,
            wrong_places=attempt.wrong_places,
            snags=attempt.snags,
            said_done=attempt.said_done,
            chair_found=sitting.chair_found,
            tries=attempt.tries,
            hesitations=attempt.marks.get("hesitates", 0),
            no_reactions=attempt.marks.get("no reaction", 0),
            misled=attempt.marks.get("misled", 0),
            longest_silent_wait_seconds=attempt.longest_silent_ns / SECOND,
            grade=attempt.grade,
            route=attempt.route,
            why=attempt.why,
            chair_says=attempt.chair_says,
            restarts=attempt.marks.get("restart", 0),
            new_logins=attempt.marks.get("new login", 0),
            left_running_seconds=attempt.left_ns / SECOND,
            expectation=attempt.expectation,
            evidence=attempt.evidence,
            shown_wait_seconds=attempt.wait_ns("shown progress") / SECOND,
            silent_wait_seconds=attempt.wait_ns("silent") / SECOND,
            frozen_wait_seconds=attempt.wait_ns("believed frozen") / SECOND,
            spots=tuple(attempt.spots),
            first_choice=first_choice_of(attempt, route),
        )
        if attempt.outcome.counts:
            tried.add(attempt.card)
