"""The demo: made by a seeded simulator, and like a study a reviewer would believe."""

from statistics import mean

from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.demo import sitting_kinds as kinds
from fresh_chair.demo.journals import BROKEN_OFF, demo_journals, demo_ledger, demo_study
from fresh_chair.demo.simulator import troubles


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


def test_the_demo_has_sittings_of_every_kind() -> None:
    study = demo_study()
    journals = demo_journals(study)
    sittings = {number: replay(number, study.seat(number).cards, entries) for number, entries in journals.items()}
    roles = {study.person_by_code[study.seat(number).participant].role for number in sittings}
    assert roles == {"expert", "pilot", "participant"}
    assert [n for n, sitting in sittings.items() if sitting.recording is not None] == [kinds.RECORDED]
    assert [n for n, sitting in sittings.items() if sitting.observers] == [kinds.WATCHED]
    assert [n for n, sitting in sittings.items() if sitting.phase is Phase.BROKEN_OFF] == [BROKEN_OFF]
    (over,) = [n for n, sitting in sittings.items() if any(attempt.left_spans for attempt in sitting.attempts)]
    assert over == kinds.OVERLAPPED
    left = next(attempt for attempt in sittings[over].attempts if attempt.left_spans)
    other = next(attempt for attempt in sittings[over].attempts if attempt.number == left.number + 1)
    assert left.started_ns < other.started_ns < (other.stopped_ns or 0) < (left.stopped_ns or 0)
    said = {entry.content.kind for entry in journals[kinds.CORRECTED]}
    assert {"mark_moved", "struck", "added_late"} <= said
    assert [a.number for a in sittings[kinds.REFUSED].attempts if a.benchmark_refused] == [2]
    # Whoever has sat at every chair said which one they would rather have, and nobody before that.
    done = {n: s for n, s in sittings.items() if s.phase is Phase.ENDED and study.counted(study.seat(n).participant)}
    assert all(len(sitting.asked) == 2 for sitting in done.values())
    assert any(sitting.preference for sitting in done.values())
    for number, sitting in done.items():
        seats = [seat.number for seat in study.seats if seat.participant == study.seat(number).participant]
        assert (sitting.preference is not None) == (number == max(seats))
