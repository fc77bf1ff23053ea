"""Evidence under load: 500 links and 2,000 records opened, searched, and read from one end."""

from collections.abc import Callable
from pathlib import Path

from bench.spread import spread, timed
from bench.studies import large_study
from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.evidence.ledger import EvidenceEntry, EvidencePut, evidence_id, replay_evidence
from fresh_chair.core.evidence.records import EvidenceRecord, InventoryItem, LaterItem, Link
from fresh_chair.services.evidence.later import later_of
from fresh_chair.services.evidence.targets import links_of, targets
from fresh_chair.services.study.open_study import create_study, open_study
from fresh_chair.store.ports import StudyStore

LINKS, RECORDS, TIMES = 500, 2_000, 20


def evidence(folder: Path) -> None:
    """All of it, five lines."""
    path = folder / "evidence.fresh"
    create_study(path, large_study(cards=8, chairs=3, people=2), _fill)
    opened = open_study(path)
    try:
        entries = opened.evidence.entries
        print(f"{RECORDS} records and {LINKS} links   aim under 50 ms each")
        print(f"  read and replayed       {_taken(lambda: replay_evidence(entries))}")
        print(f"  all that can be tied    {_taken(lambda: targets(opened))}")
        print(f"  found by its words      {_taken(lambda: _found(targets(opened)))}")
        print(f"  links of one thing      {_taken(lambda: links_of(opened, 'inventory:r7'))}")
        print(f"  the later list          {_taken(lambda: later_of(opened))}")
    finally:
        opened.close()


def _taken(act: Callable[[], object]) -> str:
    return spread([timed(act) for _ in range(TIMES)])


def _found(known: dict[str, str]) -> list[str]:
    return [name for name, words in known.items() if "purpose 19" in words]


def _fill(store: StudyStore) -> None:
    records: list[EvidenceRecord] = [
        InventoryItem(id=f"r{n}", chair="A", purpose=f"purpose {n}", shown=f"program {n}") for n in range(RECORDS // 2)
    ]
    records += [LaterItem(id=f"l{n}", what=f"look at {n}", due="2027-01-01") for n in range(RECORDS // 2)]
    records += [
        Link(id=f"k{n}", first=f"inventory:r{n}", relation="because of", second=f"later:l{n}") for n in range(LINKS)
    ]
    moments = (Moment(n * SECOND, "b", n * SECOND) for n in range(1, len(records) + 1))
    store.evidence.append(
        [
            EvidenceEntry(evidence_id(n), n, moment, "moderator", EvidencePut(record))
            for n, (moment, record) in enumerate(zip(moments, records, strict=True), start=1)
        ]
    )
