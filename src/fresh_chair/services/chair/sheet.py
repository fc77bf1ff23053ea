"""One chair as Set shows it: who it says it is, promised against found, and whether it is fresh."""

from fresh_chair.core.chair.drift import StateDifference
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.identity import NAMES, Disagreement, Fact, Unread, disagreements
from fresh_chair.core.chair.ledger import ChairLedger, Differing, readings_of
from fresh_chair.core.chair.readings import Series, series_of
from fresh_chair.core.chair.record_time import When, when_text
from fresh_chair.core.chair.records import CONSENT_ITEMS, Claim, ConsentItem
from fresh_chair.core.clock import Moment
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chair_states import ChairState
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.services.chair.freshness import PutBack, put_backs, stale
from fresh_chair.services.study.open_study import OpenStudy


@frozen
class ChairView:
    """A chair's sheet.

    Attributes:
        facts: Name, value and source of everything that was read, in the order of the names.
        freshness: As the last comparison says; not checked where there is none, or it holds no more.
        why: Why it is not checked, or holds no more.
        told: What differed, in words.
        series: Readings of this chair by what was measured.
        consents_open: How many of the common defaults nobody has looked at.
    """

    chair: Chair
    machine: Machine
    ledger: ChairLedger
    facts: tuple[Fact, ...]
    unread: tuple[Unread, ...]
    disagreements: tuple[Disagreement, ...]
    claims: tuple[Claim, ...]
    freshness: str
    why: str
    told: tuple[str, ...]
    put_back: tuple[PutBack, ...]
    series: tuple[Series, ...]
    consents_open: int
    states: tuple[ChairState, ...] = ()

    @property
    def changed_since(self) -> list[str]:
        """Changes of a chair after its first sitting, and since when, a sentence each."""
        return [
            f"since {when_text(When('wall', state.since_wall_ns))}: {'; '.join(state.changed)}"
            for state in self.states
            if state.since_wall_ns is not None
        ]


def chair_sheet(opened: OpenStudy, letter: str, now: Moment) -> ChairView:
    """The sheet of a chair."""
    chair = opened.study.chair_by_letter[letter]
    machine = opened.study.machine_of(chair)
    ledger = opened.known_chairs.of(letter)
    read = ledger.identity[1] if ledger.identity is not None else None
    facts = read.facts if read is not None else ()
    freshness, why, words, back = _freshness(opened, letter, ledger, now)
    items = [h.record for h in ledger.held("consent") if isinstance(h.record, ConsentItem)]
    seen = {record.item for record in items if record.asked != "not looked at"}
    return ChairView(
        chair=chair,
        machine=machine,
        ledger=ledger,
        facts=tuple(sorted(facts, key=lambda f: NAMES.index(f.name) if f.name in NAMES else len(NAMES))),
        unread=read.unread if read is not None else (),
        disagreements=tuple(disagreements(facts, chair, machine)),
        claims=tuple(h.record for h in ledger.held("claim") if isinstance(h.record, Claim)),
        freshness=freshness,
        why=why,
        told=words,
        put_back=back,
        series=tuple(series_of(readings_of({letter: ledger}, opened.study.machine_words))),
        consents_open=len(set(CONSENT_ITEMS) - seen),
        states=tuple(opened.plans.chair_states().get(letter, ())),
    )


def _freshness(
    opened: OpenStudy, letter: str, ledger: ChairLedger, now: Moment
) -> tuple[str, str, tuple[str, ...], tuple[PutBack, ...]]:
    if ledger.baseline is None:
        return "not checked", "it has no baseline: take one when it is as at first boot", (), ()
    if ledger.proof is None:
        return "not checked", "it was not compared with its baseline yet", (), ()
    moment, proof = ledger.proof
    differing = [StateDifference(*each.name.partition(":")[::2], each.before, each.now) for each in proof.differing]
    back = put_backs(opened, letter, told(differing)) if proof.freshness == "not fresh" else []
    why = stale(opened, letter, moment, now)
    if why:
        return "not checked", why, proof.told, tuple(back)
    return proof.freshness, "", proof.told, tuple(back)


def last_differences(opened: OpenStudy, letter: str) -> tuple[Differing, ...]:
    """The differences of the last comparison."""
    proof = opened.known_chairs.of(letter).proof
    return proof[1].differing if proof is not None else ()
