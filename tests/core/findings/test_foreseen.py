"""Hunches against what happened: came true, did not, not tried."""

from fresh_chair.core.evidence.hunches import Hunch
from fresh_chair.core.findings.foreseen import ForeseenHunch, foreseen
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.sitting.state.outcome import Outcome
from tests.builders import fact


def hunch(severity: int = 3, chair: str = "A") -> Hunch:
    return Hunch(id="h", card="card-1", chair=chair, words="w", severity=severity, written_wall_ns=1)


def snag(person: str, *, severity: int | None = None, card: str = "card-1") -> Observation:
    return Observation("mark:s", "snag", "w", "A", 1, person, 1, card, severity=severity)


UNAIDED = fact("P01", "A", outcome=Outcome.UNAIDED)
GAVE_UP = fact("P02", "A", outcome=Outcome.GAVE_UP)
VOID = fact("P03", "A", outcome=Outcome.VOID)


def held(
    severity: int, *snags: tuple[Observation, int | None], facts: tuple[object, ...] = (UNAIDED,)
) -> ForeseenHunch:
    (found,) = foreseen([hunch(severity)], facts, snags)  # type: ignore[arg-type]
    return found


def test_a_trouble_that_came_makes_it_true_and_one_that_did_not_makes_it_false() -> None:
    assert held(3, facts=(UNAIDED, GAVE_UP)).outcome == "came true"
    assert held(3, (snag("P01"), None)).tripped == ("P01",)
    assert held(3).outcome == "did not"


def test_a_hunch_that_nothing_will_happen_comes_true_where_nothing_did() -> None:
    assert held(0).outcome == "came true"
    assert held(0, (snag("P01"), 2)).outcome == "did not"


def test_a_card_nobody_tried_judges_nothing_and_a_void_attempt_is_no_try() -> None:
    assert held(3, facts=()).outcome == "not tried"
    assert held(3, facts=(VOID,)).outcome == "not tried"
    assert foreseen([hunch(chair="B")], [UNAIDED, GAVE_UP], [])[0].outcome == "not tried"


def test_a_snag_of_somebody_who_did_not_try_that_card_there_is_not_its_trouble() -> None:
    assert held(3, (snag("P09"), 4)).outcome == "did not"
    assert held(3, (snag("P01", card="card-2"), 4)).outcome == "did not"


def test_the_severity_found_is_the_findings_and_the_typed_one_only_where_that_is_lacking() -> None:
    assert held(3, (snag("P01", severity=4), 2)).found == 2
    assert held(3, (snag("P01", severity=4), None)).found == 4
    assert held(3, (snag("P01"), None)).found is None
    assert held(3, (snag("P01"), 1), (snag("P01"), 3)).found == 3
