"""The demo's records of its chairs: the stand-ins' own answers, parsed as a chair's would be."""

import tomllib
from dataclasses import asdict, replace
from datetime import UTC, datetime, timedelta
from importlib.resources import files
from typing import Any

from fresh_chair.core.chair.answers import Answer
from fresh_chair.core.chair.drift import drift_of, noise_between
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.ledger import (
    BaselineTaken,
    ChairContent,
    ChairEntry,
    Differing,
    FreshnessRead,
    IdentityRead,
    NoiseLearnt,
    ReachChosen,
    RecordPut,
    chair_id,
)
from fresh_chair.core.chair.reading_values import read_value
from fresh_chair.core.chair.records import KINDS, ConsentItem, Record
from fresh_chair.core.chair.state import State
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.journal import ChairFound, Entry
from fresh_chair.demo.machines import MadeUpMachine
from fresh_chair.probe.parsing.identity import identity_of
from fresh_chair.probe.parsing.measured import consents, measured
from fresh_chair.probe.parsing.state import state_of
from fresh_chair.probe.questions import readings as measuring
from fresh_chair.probe.questions import state as questions
from fresh_chair.probe.questions.framing import Question
from fresh_chair.services.plan.plan_changes import made

# Where the demo's stand-in listens.
STAND_IN = {"B": "ssh guest@127.0.0.1:2299"}
_BASELINE = datetime(2026, 11, 3, 16, 0, tzinfo=UTC)
_BOOT = "b" * 32
_BOOTED = datetime(2026, 11, 1, tzinfo=UTC)
# Minutes after its start at which each chair was measured, so that a line shows.
_MEASURED = (6, 30, 61, 122, 240)


def demo_chair_entries(journals: dict[int, list[Entry]], study: Study) -> tuple[list[ChairEntry], dict[int, State]]:
    """Entries about the demo's chairs in the order of their moments, and the states they speak of.

    Args:
        journals: Of the sittings, each of which says how its chair was found.
        study: The plan.
    """
    drafts: list[tuple[datetime, str, ChairContent]] = []
    states: dict[int, State] = {}
    said = tomllib.loads(files("fresh_chair.demo").joinpath("chairs.toml").read_text(encoding="utf-8"))
    for number, letter in enumerate(study.chair_by_letter, start=1):
        machine = MadeUpMachine(letter)
        states[number] = state_of(_answers(machine, questions.STATE))
        again = state_of(_answers(machine, questions.STATE))
        way = STAND_IN.get(letter, "courier")
        at = _BASELINE + timedelta(minutes=4 * number)
        if letter in STAND_IN:
            drafts.append((at - timedelta(minutes=2), letter, ReachChosen(STAND_IN[letter])))
        facts, unread = identity_of(_answers(machine, _IDENTITY))
        drafts.append((at - timedelta(minutes=1), letter, IdentityRead(way, tuple(facts), tuple(unread))))
        drafts.append((at, letter, BaselineTaken(way, number, states[number].count)))
        noise = noise_between(states[number], again)
        if noise:
            why = "moved by itself within 9 min of the baseline"
            drafts.append((at + timedelta(minutes=9), letter, NoiseLearnt(tuple(noise), why)))
        drafts += [(moment, letter, content) for moment, content in _records(letter, said[letter], machine)]
        drafts += _proofs(letter, journals, study, states[number], noise)
    drafts.sort(key=lambda draft: draft[0])
    entries = [
        ChairEntry(chair_id(number), number, _moment(at), "moderator", content, letter)
        for number, (at, letter, content) in enumerate(drafts, start=1)
    ]
    return entries, states


_IDENTITY = (*questions.IDENTITY, questions.DEFAULTS, questions.PROGRAMS, questions.SOURCES)


def _answers(machine: MadeUpMachine, asked: tuple[Question, ...]) -> dict[str, Answer]:
    found = {}
    for question in asked:
        text, code = machine.answer(question.name)
        why = f"{question.needs or 'what it needs'} is not there" if code == 127 else ""
        found[question.name] = Answer(question.name, text, why)
    return found


def _records(letter: str, said: dict[str, Any], machine: MadeUpMachine) -> list[tuple[datetime, ChairContent]]:
    begun = datetime.fromisoformat(said["installed"]).replace(tzinfo=UTC)
    found: list[tuple[datetime, ChairContent]] = []
    for kind in ("install", "page", "claim", "warning", "look"):
        for index, values in enumerate(said.get(kind, ())):
            fields = {name: value for name, value in values.items() if name != "at"}
            minutes = values.get("at", 60 + 3 * index)
            found.append((begun + timedelta(minutes=minutes), RecordPut(_record(kind, letter, index, fields))))
    stands = consents(_answers(machine, measuring.CONSENTS))
    by_hand = {values["item"]: values for values in said.get("consent", ())}
    for index, item in enumerate(dict.fromkeys([*by_hand, *stands])):
        values = {"item": item, **by_hand.get(item, {})}
        if item in stands:
            values |= {"switch": stands[item][0], "source": stands[item][1]}
        consent = _record("consent", letter, index, values)
        assert isinstance(consent, ConsentItem)
        found.append((begun + timedelta(minutes=90 + index), RecordPut(consent)))
    return found + _readings(letter, said, machine, begun + timedelta(days=1))


def _readings(
    letter: str, said: dict[str, Any], machine: MadeUpMachine, begun: datetime
) -> list[tuple[datetime, ChairContent]]:
    found: list[tuple[datetime, ChairContent]] = []
    minutes = 6.0
    for round_number, after in enumerate(_MEASURED):
        machine.older(after - minutes)
        minutes = after
        at = begun + timedelta(minutes=after)
        for index, values in enumerate(measured(_answers(machine, measuring.READINGS), now=at.timestamp()).readings):
            # What was measured again and again is what may creep; the rest was read once.
            if round_number and values["what"] != "idle memory":
                continue
            reading = _record("reading", letter, 100 * round_number + index, {**values, "trust": "trusted"})
            found.append((at, RecordPut(reading)))
    for index, values in enumerate(said.get("reading", ())):
        fields = {
            "what": values["what"],
            "method": values["method"],
            **asdict(read_value(values["value"])),
            "typed": values["value"],
        }
        if "doubt" in values:
            fields |= {"trust": "doubted", "why": values["doubt"]}
        reading = _record("reading", letter, 900 + index, fields)
        elsewhere = datetime.fromisoformat(values["taken"]).replace(tzinfo=UTC) if "taken" in values else None
        taken_ns = round(elsewhere.timestamp() * SECOND) if elsewhere is not None else 0
        put = RecordPut(reading, values.get("from", ""), taken_ns)
        found.append((begun + timedelta(minutes=70 + index), put))
    return found


def _record(kind: str, letter: str, place: int, values: dict[str, Any]) -> Record:
    record: Record = made(KINDS[kind], {"id": f"{kind}-{letter.lower()}{place:03}", **values}, f"The demo's {kind}")
    return record


def _proofs(
    letter: str, journals: dict[int, list[Entry]], study: Study, baseline: State, noise: list[str]
) -> list[tuple[datetime, str, ChairContent]]:
    """A comparison before each sitting whose journal says that there was one."""
    found: list[tuple[datetime, str, ChairContent]] = []
    way = STAND_IN.get(letter, "courier")
    for number, entries in journals.items():
        if study.seat(number).chair != letter:
            continue
        for content in (entry.content for entry in entries):
            if isinstance(content, ChairFound) and content.read_wall_ns is not None:
                machine = MadeUpMachine(letter)
                if content.freshness == "not fresh":
                    machine.sit_down()
                drift = drift_of(baseline, state_of(_answers(machine, questions.STATE)), noise)
                words = tuple(each.words for each in told(drift.differences))
                differing = tuple(Differing(d.name, d.before, d.now) for d in drift.differences)
                at = datetime.fromtimestamp(content.read_wall_ns / SECOND, UTC)
                read = FreshnessRead(
                    way, drift.freshness, words, differing, len(differing), len(drift.hidden), drift.compared
                )
                found.append((at, letter, read))
    return found


def _moment(at: datetime) -> Moment:
    wall = round(at.timestamp() * SECOND)
    return replace(
        Moment(0, _BOOT, wall), ticks_ns=wall - round(datetime(2026, 11, 1, tzinfo=UTC).timestamp() * SECOND)
    )
