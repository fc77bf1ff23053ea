"""The readiness of a plan at a glance: one line for each part of it."""

from collections import Counter
from collections.abc import Iterable

from fresh_chair.core.evidence.hunches import chairs_sat_at
from fresh_chair.core.plan.balance import balance_of, vacancies
from fresh_chair.core.plan.fixtures import bench_of
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.plan.board_words import Part, Readiness, people_marks
from fresh_chair.services.plan.editing import field_lines
from fresh_chair.services.plan.schedule import timing
from fresh_chair.services.plan.scripts import remarks_by_card
from fresh_chair.services.study.snapshot import StudyReading


def _lacking(study: Study) -> dict[str, int]:
    """How many fields of each chair are still empty, by letter; those that lack none are left out."""
    counts = {
        chair.letter: sum(line.lacking for line in field_lines(study, "chair", chair.letter)) for chair in study.chairs
    }
    return {letter: count for letter, count in counts.items() if count}


def readiness(opened: StudyReading) -> Readiness:
    """How ready the plan is."""
    study = opened.study
    lacking_chairs = _lacking(study)
    people = people_marks(study, seen=opened.sees_people)
    parts = (
        _study(study),
        _tasks(study),
        _chairs(study, lacking_chairs),
        _everybody(study, people, seen=opened.sees_people),
        _orders(opened),
        _hunches(opened),
        _bench(opened),
        _minutes(opened),
    )
    return Readiness(parts, people, lacking_chairs)


def _study(study: Study) -> Part:
    lacking = [line.words for line in field_lines(study, "study") if line.lacking]
    if lacking:
        return Part("study", "study sheet", "open", f"to say: {_listed(lacking)}")
    return Part("study", "study sheet", "ready", f"{_count(len(study.sheet.thresholds), 'threshold')} decided")


def _tasks(study: Study) -> Part:
    cards = [card for card in study.cards if not card.dropped]
    if not cards:
        return Part("tasks", "tasks", "wrong", "no card yet")
    remarks = [r for found in remarks_by_card(study).values() for r in found if not r.overruled]
    grave = sum(remark.grave for remark in remarks)
    words = _count(len(cards), "card")
    if grave:
        return Part("tasks", "tasks", "wrong", f"{words}, {grave} cannot work as written")
    if remarks:
        return Part("tasks", "tasks", "open", f"{words}, {_count(len(remarks), 'remark')}")
    return Part("tasks", "tasks", "ready", f"{words}, no remark stands")


def _chairs(study: Study, lacking: dict[str, int]) -> Part:
    if not study.chairs:
        return Part("chair", "chairs", "wrong", "no chair yet")
    words = _count(len(study.chairs), "chair")
    empty = [f"{letter} lacks {count}" for letter, count in lacking.items()]
    if empty:
        return Part("chair", "chairs", "open", f"{words}; {_listed(empty)}")
    return Part("chair", "chairs", "ready", f"{words}, all of them described")


def _everybody(study: Study, said: dict[str, str], *, seen: bool) -> Part:
    counted = [person for person in study.people if person.counts and not person.left]
    if not counted:
        return Part("person", "people", "wrong", "nobody yet")
    counts = Counter(word for word in said.values() if word in ("consent?", "screener?", "not the one"))
    words = _count(len(counted), "participant")
    names = {"consent?": "without consent", "screener?": "not screened", "not the one": "not fit for it"}
    gaps = [f"{count} {names[word]}" for word, count in counts.items()]
    if gaps:
        return Part("person", "people", "wrong" if counts["not the one"] else "open", f"{words}; {_listed(gaps)}")
    if not seen:
        return Part("person", "people", "ready", f"{words}; you see codes alone")
    asked = [what for what, there in (("screened", study.sheet.screener), ("agreed", study.sheet.consents)) if there]
    if not asked:
        return Part("person", "people", "open", f"{words}; nothing is asked of them yet (s)")
    return Part("person", "people", "ready", f"{words}, all {' and '.join(asked)}")


def _orders(opened: StudyReading) -> Part:
    study = opened.study
    ended = {number for number in opened.begun if opened.phase(number) is Phase.ENDED}
    free = [each for each in vacancies(study, ended) if not each.filled_by]
    if not study.seats:
        return Part("orders", "orders", "wrong", "nothing to plan yet")
    if free:
        return Part("orders", "orders", "open", f"{_listed([each.code for each in free])} left, not replaced")
    uneven = balance_of(study, study.seats).uneven
    if uneven:
        return Part("orders", "orders", "open", f"{_count(len(uneven), 'thing')} not balanced")
    return Part("orders", "orders", "ready", "balanced")


def _hunches(opened: StudyReading) -> Part:
    study = opened.study
    unsealed = sum(hunch.sealed_wall_ns is None for hunch in opened.hunches)
    sat = chairs_sat_at(study, opened.begun)
    bare = [
        c.letter for c in study.chairs if c.letter not in sat and not any(h.chair == c.letter for h in opened.hunches)
    ]
    if unsealed:
        return Part("hunches", "hunches", "open", f"{len(opened.hunches)} written, {unsealed} not sealed")
    if bare:
        return Part("hunches", "hunches", "open", f"none yet for {_listed(bare)}")
    late = sum(hunch.late for hunch in opened.hunches)
    words = f"{len(opened.hunches) - late} sealed" + (f", {late} late" if late else "")
    return Part(
        "hunches", "hunches", "ready" if opened.hunches else "open", words if opened.hunches else "none were made"
    )


def _bench(opened: StudyReading) -> Part:
    fixtures = bench_of(opened.study, opened.fixture_checks)
    missing = sum(each.check is not None and not each.ready for each in fixtures)
    unseen = sum(each.check is None for each in fixtures)
    words = _count(len(fixtures), "fixture")
    if missing:
        return Part("bench", "bench", "wrong", f"{words}, {missing} missing")
    if unseen:
        return Part("bench", "bench", "open", f"{words}, {unseen} not looked for")
    return Part("bench", "bench", "ready", f"{words}, all there" if fixtures else "nothing is asked for")


def _minutes(opened: StudyReading) -> Part:
    found = timing(opened)
    if not found.seats:
        return Part("time", "how long", "ready", "no sitting to come")
    longest = max(seat.likely for seat in found.seats)
    if found.over:
        words = f"{len(found.over)} of {len(found.seats)} sittings over {found.minutes} min"
        return Part("time", "how long", "open", words)
    return Part("time", "how long", "ready", f"up to {longest:.0f} of {found.minutes} min")


def _listed(words: Iterable[str], most: int = 3) -> str:
    listed = list(words)
    return ", ".join(listed[:most]) + (f" and {len(listed) - most} more" if len(listed) > most else "")


def _count(number: int, word: str) -> str:
    return f"{number} {word}{'' if number == 1 else 's'}"
