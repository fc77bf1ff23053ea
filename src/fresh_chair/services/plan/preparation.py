"""Preparations beside the plan: hunches and the bench."""

from collections.abc import Sequence
from dataclasses import asdict

from fresh_chair.core.errors import InputError
from fresh_chair.core.evidence.hunches import Hunch, chairs_sat_at, require_open
from fresh_chair.core.plan.fixtures import FixtureCheck, Presence, bench_of
from fresh_chair.core.safe import safe
from fresh_chair.core.text import harmless
from fresh_chair.services.plan.plan_changes import made
from fresh_chair.services.study.open_study import OpenStudy, new_id


def write_hunch(opened: OpenStudy, card: str, chair: str, words: str, severity: int) -> Hunch:
    """A hunch about one card and chair; late where a newcomer has sat there already.

    Raises:
        InputError: Where it has no words.
        NotSaved: Where the disk refuses.
    """
    opened.require_adding()
    if card not in opened.study.card_by_id or chair not in opened.study.chair_by_letter:
        raise InputError("A hunch is about a card and a chair of this study.", "Nothing was written.")
    late = chair in chairs_sat_at(opened.study, opened.begun)
    now = opened.clock.now().wall_ns
    values = {
        "id": new_id(),
        "card": card,
        "chair": chair,
        "words": words.strip(),
        "severity": severity,
        "written_wall_ns": now,
        "sealed_wall_ns": now if late else None,
        "late": late,
    }
    hunch: Hunch = made(Hunch, safe(values), "The hunch")
    opened.preparations.put_hunch(hunch)
    opened.read_preparations()
    return hunch


def reword_hunch(opened: OpenStudy, hunch: Hunch, words: str, severity: int) -> None:
    """Change a hunch that is still open; no words take it back.

    Raises:
        Refused: Where it is sealed.
        NotSaved: Where the disk refuses.
    """
    opened.require_adding()
    require_open(hunch, chairs_sat_at(opened.study, opened.begun))
    if not words.strip():
        opened.preparations.drop_hunch(hunch.id)
    else:
        changed: Hunch = made(
            Hunch, {**asdict(hunch), "words": harmless(words.strip()), "severity": severity}, "The hunch"
        )
        opened.preparations.put_hunch(changed)
    opened.read_preparations()


def seal_hunches(opened: OpenStudy, letters: Sequence[str]) -> int:
    """Seal every open hunch at these chairs, with the present date; returns how many."""
    opened.require_adding()
    count = sum(hunch.sealed_wall_ns is None and hunch.chair in letters for hunch in opened.hunches)
    if count:
        opened.preparations.seal(list(letters), opened.clock.now())
        opened.read_preparations()
    return count


def look_at_all(opened: OpenStudy) -> int:
    """Put on record that every fixture that was not there is there now; returns how many. Raises as below."""
    opened.require_adding()
    now = opened.clock.now().wall_ns
    checks = [
        FixtureCheck(name=each.name, presence="ready", wall_ns=now)
        for each in bench_of(opened.study, opened.fixture_checks)
        if not each.ready
    ]
    opened.preparations.add_fixture_checks(checks)
    opened.read_preparations()
    return len(checks)


def look_at_fixture(opened: OpenStudy, name: str, presence: Presence, note: str = "") -> FixtureCheck:
    """Put on record whether a fixture is on the bench.

    Raises:
        InputError: Where no card asks for it.
        NotSaved: Where the disk refuses.
    """
    opened.require_adding()
    known = {each.name.casefold(): each.name for each in bench_of(opened.study, ())}
    if name.casefold() not in known:
        raise InputError("No card asks for this fixture.", "Nothing was written.")
    check = FixtureCheck(
        name=known[name.casefold()],
        presence=presence,
        note=harmless(note.strip()[:400]),
        wall_ns=opened.clock.now().wall_ns,
    )
    opened.preparations.add_fixture_checks([check])
    opened.read_preparations()
    return check
