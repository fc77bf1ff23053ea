"""What is known of a chair: every kind of entry survives the disk, and only what is one is taken for one."""

import json
from typing import get_args

import pytest

from fresh_chair.core.chair import ledger as b
from fresh_chair.core.chair import records as r
from fresh_chair.core.chair.identity import Fact, Unread
from fresh_chair.core.clock import Moment
from fresh_chair.core.codec import Unreadable
from fresh_chair.core.errors import JournalError
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.ledger import EntryStruck

RECORDS: list[r.Record] = [
    r.Claim(id="a", promised="p", day="2026-11-01", check="package x is there"),
    r.Reading(id="a", what="w", unit="s", low=1.5, minutes_up=None),
    r.InstallStep(id="a", step="question", words="w", chosen="c"),
    r.FirstPage(id="a", page="p", once=True),
    r.ConsentItem(id="a", item="location", asked="silent", switch="on"),
    r.WarningMet(id="a", words="w", effect="nagging"),
    r.Look(id="a", program="p", dark="not legible"),
]
CONTENTS: list[b.ChairContent] = [
    b.ReachChosen("ssh mara@saltmarsh:22"),
    b.IdentityRead("here", (Fact(name="kernel", value="6", source="uname"),), (Unread(name="desktop", why="no"),)),
    b.BaselineTaken("here", 3, 4000),
    b.NoiseLearnt(("settings:a",), "moves"),
    b.NoiseTakenBack(("settings:a",), "counts"),
    b.FreshnessRead("here", "not fresh", ("the theme was changed",), (b.Differing("settings:a", "1", None),), 1, 0, 9),
    b.ChecksAsked("here", "before", (b.Answered("user x", None, "no"),)),
    *(b.RecordPut(record) for record in RECORDS),
    b.RecordStruck("claim", "a", "why"),
    b.RecordAttached("claim", "a", Attachment("page.png", "0" * 64, 512, "pictures/page.png")),
    b.ChairClosed(),
    EntryStruck("chair-1", "typed at the wrong chair"),
]


def entry(content: b.ChairContent, number: int = 1, chair: str = "A") -> b.ChairEntry:
    return b.ChairEntry(b.chair_id(number), number, Moment(number, "boot", number), "moderator", content, chair)


def test_every_kind_of_entry_and_record_survives_the_disk() -> None:
    assert {type(content) for content in CONTENTS} == set(get_args(b.ChairContent)) - {Unreadable}
    assert {type(record) for record in RECORDS} == set(r.KINDS.values())
    for content in CONTENTS:
        assert b.CODEC.content_from(b.CODEC.body_of(content), version=b.CODEC.version, where="here") == content


@pytest.mark.parametrize(
    "body",
    [
        "",
        "[]",
        '{"kind": "dream"}',
        '{"kind": "record_put", "record": "dream", "values": {}}',
        '{"kind": "record_put", "record": "claim", "values": {"id": "a"}}',
        '{"kind": "record_put", "record": "claim", "values": {"id": "a", "promised": "p", "check": "colour is blue"}}',
        '{"kind": "record_put", "record": "claim", "values": []}',
        '{"kind": "record_put", "record": "reading", "values": {"id": "a", "what": "w"}}',
        '{"kind": "freshness_read", "freshness": "quite fresh"}',
        '"record_put"',
    ],
)
def test_what_is_no_entry_is_said_to_be_none(body: str) -> None:
    with pytest.raises(JournalError, match="here cannot be read"):
        b.CODEC.content_from(body, version=b.CODEC.version, where="here")


def test_another_version_is_not_guessed_at() -> None:
    for content in CONTENTS:
        with pytest.raises(JournalError, match="version 99"):
            b.CODEC.content_from(b.CODEC.body_of(content), version=99, where="here")


def test_a_book_is_what_its_entries_add_up_to() -> None:
    claim = r.Claim(id="a", promised="p")
    changed = r.Claim(id="a", promised="p", answer="not so")
    entries = [entry(b.RecordPut(claim), 1), entry(b.RecordPut(changed), 2), entry(b.RecordPut(RECORDS[4]), 3)]
    ledger = b.replay_chairs(entries)["A"]
    assert [(held.record, held.moment.wall_ns) for held in ledger.held("claim")] == [(changed, 1)]
    assert ledger.open_claims == 0
    struck = b.replay_chairs([*entries, entry(b.RecordStruck("claim", "a", "why"), 4)])["A"]
    assert struck.held("claim") == []
    assert len(struck.held("consent")) == 1
    assert b.replay_chairs([*entries, entry(b.ChairClosed(), 4)]) == {}


def test_a_proof_counts_for_the_baseline_it_was_made_with() -> None:
    proof = b.FreshnessRead("here", "fresh", (), (), 0, 0, 9)
    ledger = b.replay_chairs([entry(b.BaselineTaken("here", 1, 9), 1), entry(proof, 2)])["A"]
    assert ledger.proof is not None
    later = b.replay_chairs(
        [entry(b.BaselineTaken("here", 1, 9), 1), entry(proof, 2), entry(b.BaselineTaken("here", 2, 9), 3)]
    )
    assert later["A"].proof is None


def test_a_state_that_is_none_is_said_to_be_none() -> None:
    from fresh_chair.core.chair.state import state_from

    for text in ("", "[]", '{"state": 2}', '{"state": 1}', json.dumps({"state": 1, "sections": [], "unread": {}})):
        with pytest.raises(JournalError, match="here cannot be read"):
            state_from(text, where="here")


def test_a_struck_entry_does_not_count_and_stays() -> None:
    claim = r.Claim(id="a", promised="p")
    entries = [entry(b.RecordPut(claim), 1), entry(b.ReachChosen("here"), 2), entry(EntryStruck("chair-1", "why"), 3)]
    known = b.replay_chairs(entries)["A"]
    assert (known.held("claim"), known.reach) == ([], "here")
    left_out: dict[str, str] = {}
    b.replay_chairs([*entries, entry(EntryStruck("chair-1", "again"), 4)], left_out)
    assert left_out == {"chair-4": "Chairs, entry 4: it strikes what is not there."}
