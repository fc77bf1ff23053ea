"""A chair's answers put on record, by whichever way they came."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, replace

from fresh_chair.core.chair.answers import Answers
from fresh_chair.core.chair.check_answers import held_in
from fresh_chair.core.chair.drift import drift_of, noise_between
from fresh_chair.core.chair.drift_words import counted, told
from fresh_chair.core.chair.identity import Unread, disagreements
from fresh_chair.core.chair.ledger import (
    Answered,
    BaselineTaken,
    ChairContent,
    ChecksAsked,
    Differing,
    FreshnessRead,
    IdentityRead,
    NoiseLearnt,
    RecordPut,
)
from fresh_chair.core.chair.records import ConsentItem, Reading, reading_text
from fresh_chair.core.checks.meaning import Ask, Judged, Witnessed, judged, overall
from fresh_chair.core.checks.parser import read_check
from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import Refused
from fresh_chair.core.text import clipped
from fresh_chair.services.chair.approvals import approved, is_approved
from fresh_chair.services.chair.enquiries import (
    AFTER,
    BASELINE,
    BEFORE,
    CLAIMS,
    DEFAULTS,
    FRESH,
    IDENTITY,
    NOISE,
    READINGS,
    Brought,
    card_lines,
    checked_claims,
    lines_of,
)
from fresh_chair.services.chair.freshness import put_backs
from fresh_chair.services.plan.plan_changes import made
from fresh_chair.services.study.open_study import OpenStudy, new_id

# More than that by itself is no noise: something is going on at the chair.
MOST_NOISE = 400
_MOST_NAMES = 500
_ANSWERS = {
    Witnessed.CONFIRMED: "as promised",
    Witnessed.SO_BEFORE: "as promised",
    Witnessed.CONTRADICTED: "not so",
}


def keep(
    opened: OpenStudy, letter: str, enquiry: str, way: str, answers: Answers, *, cards: Sequence[str] = ()
) -> Brought:
    """Put a chair's answers on record, by whichever way they came. Raises as `run_enquiry`."""
    steps: dict[str, Callable[[], Brought]] = {
        IDENTITY: lambda: _keep_identity(opened, letter, way, answers),
        BASELINE: lambda: _keep_baseline(opened, letter, way, answers),
        NOISE: lambda: _keep_noise(opened, letter, answers),
        FRESH: lambda: _keep_fresh(opened, letter, way, answers),
        READINGS: lambda: _keep_readings(opened, letter, answers),
        DEFAULTS: lambda: _keep_defaults(opened, letter, answers),
        CLAIMS: lambda: _keep_claims(opened, letter, answers),
        BEFORE: lambda: _keep_checks(opened, letter, BEFORE, way, answers, cards),
        AFTER: lambda: _keep_checks(opened, letter, AFTER, way, answers, cards),
    }
    return steps[enquiry]()


def _keep_identity(opened: OpenStudy, letter: str, way: str, answers: Answers) -> Brought:
    from fresh_chair.probe.parsing.identity import identity_of

    facts, unread = identity_of(answers)
    opened.note(letter, IdentityRead(way, tuple(facts), tuple(unread)))
    chair = opened.study.chair_by_letter[letter]
    differing = disagreements(facts, chair, opened.study.machine_of(chair))
    brought = Brought(IDENTITY, [f"{counted(len(facts))} facts were read."], unread)
    brought.said += [
        f"{each.name}: {each.one_source} says {each.one}, {each.other_source} says {each.other}." for each in differing
    ]
    brought.data = {
        "facts": [{"name": f.name, "value": f.value, "source": f.source} for f in facts],
        "disagreements": [
            {"name": d.name, d.one_source: d.one, d.other_source: d.other} for d in differing
        ],
    }  # fmt: skip
    return brought


def _keep_baseline(opened: OpenStudy, letter: str, way: str, answers: Answers) -> Brought:
    from fresh_chair.probe.parsing.state import state_of

    state = state_of(answers)
    if not state.count:
        raise Refused("The chair said nothing that could be a baseline.", "; ".join(list(state.unread.values())[:3]))
    number = opened.known_chairs.next_state()
    opened.note(letter, BaselineTaken(way, number, state.count), states={number: state})
    brought = Brought(BASELINE, [f"The baseline holds {state.count} names."])
    brought.unread = [Unread(name=name, why=why) for name, why in state.unread.items()]
    brought.data = {"keys": state.count, "sections": {name: len(part) for name, part in state.sections.items()}}
    return brought


def _keep_noise(opened: OpenStudy, letter: str, answers: Answers) -> Brought:
    from fresh_chair.probe.parsing.state import state_of

    baseline = opened.known_chairs.of(letter).baseline
    if baseline is None:
        raise Refused(f"Chair {letter} has no baseline yet.", "Take one first, and then a second one.")
    names = [n for n in noise_between(opened.known_chairs.state(baseline[1].state), state_of(answers)) if len(n) <= 600]
    if len(names) > MOST_NOISE:
        raise Refused(
            f"{len(names)} names moved by themselves, which is more than a chair at rest moves.",
            "Nothing was left out. Is an update running, or has somebody sat there?",
        )
    minutes = max(round((opened.clock.now().wall_ns - baseline[0].wall_ns) / SECOND / 60), 0)
    if names:
        opened.note(letter, NoiseLearnt(tuple(names), f"moved by itself within {minutes} min of the baseline"))
    one = len(names) == 1
    moves = "name moves by itself, and is left out" if one else "names move by themselves, and are left out"
    brought = Brought(NOISE, [f"{counted(len(names)).capitalize()} {moves}."])
    brought.data = {"names": names}
    return brought


def _keep_fresh(opened: OpenStudy, letter: str, way: str, answers: Answers) -> Brought:
    from fresh_chair.probe.parsing.state import state_of

    ledger = opened.known_chairs.of(letter)
    if ledger.baseline is None:
        raise Refused(f"Chair {letter} has no baseline yet.", "Take one when it is fresh.")
    drift = drift_of(opened.known_chairs.state(ledger.baseline[1].state), state_of(answers), ledger.noise)
    said = told(drift.differences)
    unread = tuple(Unread(name=name, why=clipped(why, 200)) for name, why in drift.unread.items())
    differing = tuple(
        Differing(clipped(d.name, 300), _clipped(d.before), _clipped(d.now)) for d in drift.differences[:_MOST_NAMES]
    )
    opened.note(
        letter,
        FreshnessRead(
            way, drift.freshness, tuple(each.words for each in said), differing, len(drift.differences),
            len(drift.hidden), drift.compared, unread,
        ),
    )  # fmt: skip
    brought = Brought(FRESH, [f"Chair {letter} is {drift.freshness}."], list(unread))
    brought.said += [f"{each.words}." for each in said]
    back = put_backs(opened, letter, said)
    brought.said += [f"Put back ({b.card.title}): {'; '.join(b.card.put_back)}" for b in back]
    brought.data = {
        "freshness": drift.freshness,
        "compared": drift.compared,
        "hidden": [each.name for each in drift.hidden],
        "groups": [
            {
                "words": each.words,
                "differences": [
                    {"section": d.section, "name": d.key, "before": d.before, "now": d.now} for d in each.differences
                ],
            }
            for each in said
        ],
        "put_back": [{"card": b.card.id, "sure": b.sure, "steps": list(b.card.put_back)} for b in back],
    }
    return brought


def _keep_readings(opened: OpenStudy, letter: str, answers: Answers) -> Brought:
    from fresh_chair.probe.parsing.measured import measured

    found = measured(answers, now=opened.clock.now().wall_ns / SECOND)
    readings: list[Reading] = [made(Reading, {"id": new_id(), **each}, "The reading") for each in found.readings]
    if readings:
        opened.note(letter, *(RecordPut(reading) for reading in readings))
    brought = Brought(READINGS, [f"{each.what}: {reading_text(each)}" for each in readings], found.unread)
    brought.said += [f"Mind that {remark}." for remark in found.remarks]
    brought.data = {"readings": found.readings, "remarks": found.remarks}
    return brought


def _keep_defaults(opened: OpenStudy, letter: str, answers: Answers) -> Brought:
    from fresh_chair.probe.parsing.measured import consents

    found = consents(answers)
    held = {
        h.record.item: h.record
        for h in opened.known_chairs.of(letter).held("consent")
        if isinstance(h.record, ConsentItem)
    }
    entries: list[ChairContent] = []
    for item, (switch, source) in found.items():
        present = held.get(item) or ConsentItem(id=new_id(), item=item)
        changed: ConsentItem = made(ConsentItem, {**asdict(present), "switch": switch, "source": source}, "The default")
        if changed != held.get(item):
            entries.append(RecordPut(changed))
    if entries:
        opened.note(letter, *entries)
    brought = Brought(DEFAULTS, [f"{item}: {switch} ({source})" for item, (switch, source) in found.items()])
    brought.unread = [
        Unread(name=name, why=answer.why) for name, answer in answers.items() if answer.why and name not in found
    ]
    brought.data = {"defaults": {item: {"switch": s, "source": w} for item, (s, w) in found.items()}}
    return brought


def _keep_claims(opened: OpenStudy, letter: str, answers: Answers) -> Brought:
    from fresh_chair.probe import witnessing

    claims = checked_claims(opened, letter)
    lines = lines_of(opened, letter, CLAIMS)
    found = witnessing.found_of(witnessing.asks_of(lines), answers)
    entries: list[ChairContent] = []
    brought = Brought(CLAIMS)
    for claim in claims:
        result = judged(read_check(claim.check), found)
        answer = _ANSWERS.get(result.witnessed)
        brought.said.append(f"{claim.promised}: {answer or result.witnessed.value} ({result.evidence})")
        if answer is not None:
            changed = replace(claim, answer=answer, note=clipped(f"read: {result.evidence}", 4000))  # type: ignore[arg-type]
            if changed != claim:
                entries.append(RecordPut(changed))
    if entries:
        opened.note(letter, *entries)
    brought.data = {"claims": brought.said}
    return brought


def _keep_checks(
    opened: OpenStudy, letter: str, when: str, way: str, answers: Answers, cards: Sequence[str]
) -> Brought:
    from fresh_chair.probe import witnessing

    asks = witnessing.asks_of(lines_of(opened, letter, when, cards))
    found = witnessing.found_of(asks, answers)
    before = None
    if when == AFTER:
        _note_before(opened, letter, asks)
        before = opened.known_chairs.of(letter).before
    opened.note(
        letter,
        ChecksAsked(
            way,
            "before" if when == BEFORE else "after",
            tuple(Answered(name, each.value, clipped(each.why, 300)) for name, each in found.items()),
        ),
    )
    brought = Brought(when)
    by_card: dict[str, list[Judged]] = {}
    titles = {}
    known = approved(opened.study)
    for card, title, line in card_lines(opened, letter, cards):
        titles[card] = title
        if all(is_approved(command, known) for command in line.commands):
            said = judged(line, found, before)
        else:
            said = Judged(line.text, Witnessed.CANNOT_TELL, "its command is not approved for this study")
        by_card.setdefault(card, []).append(said)
    brought.data = {"when": when, "cards": {}}
    for card, results in by_card.items():
        verdict = overall(results)
        brought.said.append(f"{titles[card]}: {_when_words(verdict, when)}")
        brought.said += [f"  {result.witnessed.value}: {result.evidence}" for result in results]
        brought.data["cards"][card] = {
            "chair_says": verdict.value,
            "checks": [{"check": r.line, "chair_says": r.witnessed.value, "evidence": r.evidence} for r in results],
        }
    return brought


def _note_before(opened: OpenStudy, letter: str, asks: list[Ask]) -> None:
    """Take answers before an attempt from the baseline where the chair was not asked, as far as it has them."""
    ledger = opened.known_chairs.of(letter)
    missing = [ask for ask in asks if ask.text not in ledger.before]
    if not missing or ledger.baseline is None:
        return
    state = opened.known_chairs.state(ledger.baseline[1].state)
    known = {ask.text: found for ask in missing if (found := held_in(ask, state)) is not None}
    if known:
        answers = tuple(Answered(name, found.value, found.why) for name, found in known.items())
        opened.note(letter, ChecksAsked("the baseline", "before", answers))


def _clipped(value: str | None) -> str | None:
    return None if value is None else clipped(value, 200)


def _when_words(verdict: Witnessed, when: str) -> str:
    if when == BEFORE and verdict is Witnessed.CONFIRMED:
        return "is so already, before anyone tried"
    if when == BEFORE and verdict is Witnessed.CONTRADICTED:
        return "not so yet"
    return verdict.value
