"""One chair as Set shows it: who it says it is, promised against found, and whether it is fresh."""

from dataclasses import dataclass

from fresh_chair.core.chair.drift import Difference
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.identity import NAMES, Disagreement, Fact, Unread, disagreements
from fresh_chair.core.chair.ledger import ChairBook, Differing, readings_of
from fresh_chair.core.chair.readings import Series, series_of
from fresh_chair.core.chair.record_time import When, when_text
from fresh_chair.core.chair.records import CONSENT_ITEMS, Claim, ConsentItem
from fresh_chair.core.clock import Moment
from fresh_chair.core.plan.chair_states import ChairState, chair_states
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.services.chair.freshness import PutBack, put_backs, stale
from fresh_chair.services.study.open_study import Desk


@dataclass(frozen=True, slots=True)
class ChairSheet:
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
    book: ChairBook
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


def chair_sheet(desk: Desk, letter: str, now: Moment) -> ChairSheet:
    """The sheet of a chair."""
    chair = desk.study.chair_by_letter[letter]
    machine = desk.study.machine_of(chair)
    book = desk.books.of(letter)
    read = book.identity[1] if book.identity is not None else None
    facts = read.facts if read is not None else ()
    freshness, why, words, back = _freshness(desk, letter, book, now)
    items = [h.record for h in book.held("consent") if isinstance(h.record, ConsentItem)]
    seen = {record.item for record in items if record.asked != "not looked at"}
    return ChairSheet(
        chair=chair,
        machine=machine,
        book=book,
        facts=tuple(sorted(facts, key=lambda f: NAMES.index(f.name) if f.name in NAMES else len(NAMES))),
        unread=read.unread if read is not None else (),
        disagreements=tuple(disagreements(facts, chair, machine)),
        claims=tuple(h.record for h in book.held("claim") if isinstance(h.record, Claim)),
        freshness=freshness,
        why=why,
        told=words,
        put_back=back,
        series=tuple(series_of(readings_of({letter: book}, desk.study.machine_words))),
        consents_open=len(set(CONSENT_ITEMS) - seen),
        states=tuple(chair_states(desk.study, desk.plans.changes(), letter)),
    )


def _freshness(
    desk: Desk, letter: str, book: ChairBook, now: Moment
) -> tuple[str, str, tuple[str, ...], tuple[PutBack, ...]]:
    if book.baseline is None:
        return "not checked", "it has no baseline: take one when it is as at first boot", (), ()
    if book.proof is None:
        return "not checked", "it was not compared with its baseline yet", (), ()
    moment, proof = book.proof
    differing = [Difference(*each.name.partition(":")[::2], each.before, each.now) for each in proof.differing]
    back = put_backs(desk, letter, told(differing)) if proof.freshness == "not fresh" else []
    why = stale(desk, letter, moment, now)
    if why:
        return "not checked", why, proof.told, tuple(back)
    return proof.freshness, "", proof.told, tuple(back)


def last_differences(desk: Desk, letter: str) -> tuple[Differing, ...]:
    """The differences of the last comparison."""
    proof = desk.books.of(letter).proof
    return proof[1].differing if proof is not None else ()
