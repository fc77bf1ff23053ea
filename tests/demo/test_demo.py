"""The demo: made by a seeded simulator, and like a study a reviewer would believe."""

from statistics import mean

from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.replay import replay
from fresh_chair.demo.newcomers import troubles
from fresh_chair.demo.writing import BROKEN_OFF, demo_journals, demo_ledger, demo_study


def test_the_same_seed_makes_the_same_journals() -> None:
    study = demo_study()
    assert demo_journals(study) == demo_journals(study)
    assert demo_ledger(demo_journals(study)) == demo_ledger(demo_journals(study))


def test_waits_belong_to_machines_and_people_differ() -> None:
    study = demo_study()
    facts = facts_of(study, {n: replay(n, study.seat(n).cards, e) for n, e in demo_journals(study).items()})
    waits = {chair: mean(f.wait_seconds for f in facts if f.chair == chair) for chair in "ABC"}
    assert waits["C"] > waits["A"]
    pace = {p.code: mean(f.hands_seconds for f in facts if f.participant == p.code) for p in study.people if p.counts}
    assert max(pace.values()) > 1.5 * min(pace.values())


def test_every_trouble_names_a_card_and_chairs_of_the_scenario() -> None:
    study = demo_study()
    for item in [*troubles()["trouble"], *troubles()["delight"]]:
        assert item["card"] in study.card_by_id
        assert set(item["chances"]) == set(study.chair_by_letter)


def test_everything_shown_says_that_it_is_made_up() -> None:
    assert demo_study().sample
    assert max(demo_journals(demo_study())) == BROKEN_OFF
