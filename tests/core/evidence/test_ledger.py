"""The ledger of evidence: every record survives the disk, a seal holds, links stay where their ends are dropped."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import JournalError
from fresh_chair.core.evidence import records as r
from fresh_chair.core.evidence.judged import ChairVerdict, ContradictionAnswer, Criterion, Score
from fresh_chair.core.evidence.labels import EVIDENCE_LABELS, NEEDED
from fresh_chair.core.evidence.ledger import (
    CODEC,
    EvidenceContent,
    EvidenceDropped,
    EvidenceEntry,
    EvidencePut,
    EvidenceState,
    circles,
    evidence_id,
    replay_evidence,
)
from fresh_chair.core.evidence.targets import SORTS, target_parts
from fresh_chair.core.evidence.telling import FinalDocument, MakersReply, OwnParagraph, QuoteChoice

RECORDS: list[r.EvidenceRecord] = [
    r.Reference(id="a", name="the release before", sort="earlier release", earlier_of="chair:A"),
    r.Against(id="a", of="mark:4f2a", than="reference:a", says="moved", words="w", differs="another machine"),
    r.ReleaseChange(id="a", chair="A", sort="replaced", what="the mail program", was="Kettle", now="Pot"),
    r.InventoryItem(id="a", chair="A", purpose="to print labels", presence="in the store", looked="the menu"),
    r.Link(id="a", first="mark:4f2a", relation="because of", second="fault:machine-1/1"),
    r.Forecast(id="a", what="it gets faster", by="2027-04-01", sure="a guess", outcome="did not"),
    r.LaterItem(id="a", what="the scanner", sort="promised", due="2027-04-01", chair="A", of="chair:A"),
    r.Advice(id="a", what="say so in the shop", to="makers", told="a letter", told_on="2026-11-20"),
    r.Disclosure(id="a", chair="A", terms="lent", price="59", worth="twice that", edition="Home"),
    ChairVerdict(id="a", chair="A", says="wait for", condition="release 10", on="2026-11-20", revises="verdict:b"),
    Criterion(id="a", name="goes quickly", figure="time", worst=6.0, best=1.5, names=("poor", "fair", "good")),
    Score(id="a", criterion="criterion:a", chair="A", value=2.5, why="nobody came back"),
    ContradictionAnswer(id="a", about="score a", answer="changed", because="it was asked again"),
    OwnParagraph(id="a", text="read this first", at="answer", reader="decider", chair="B"),
    QuoteChoice(id="a", of="mark:4f2a", says="left out", reader="maker"),
    MakersReply(id="a", chair="B", text="mended in 2.2", of="finding:F04", by="the makers", on="2026-11-28"),
    FinalDocument(id="a", reader="maker", chair="B", on="2026-11-28", sha256="0" * 64, sections=("short=1",)),
]


def state(*contents: EvidenceContent, lenient: bool = False) -> EvidenceState:
    entries = [
        EvidenceEntry(evidence_id(n), n, Moment(n, "b", n), "moderator", content)
        for n, content in enumerate(contents, start=1)
    ]
    return replay_evidence(entries, aside=None if lenient else frozenset())


def put(*records: r.EvidenceRecord) -> EvidenceState:
    return state(*map(EvidencePut, records))


def test_every_record_survives_the_disk_and_has_its_labels() -> None:
    assert {type(record) for record in RECORDS} == set(r.KINDS.values())
    for record in RECORDS:
        content = EvidencePut(record)
        assert CODEC.content_from(CODEC.body_of(content), version=CODEC.version, where="here") == content
        fields = {label.field for label in EVIDENCE_LABELS[r.kind_of(record)]}
        assert fields == set(type(record).__dataclass_fields__) - {"id", "__pydantic_config__"}
        assert {field for field, _ in NEEDED[r.kind_of(record)]} <= fields
    dropped = EvidenceDropped("link", "a", "not so")
    assert CODEC.content_from(CODEC.body_of(dropped), version=CODEC.version, where="here") == dropped


@pytest.mark.parametrize(
    "body",
    [
        '{"kind": "evidence_put", "record": "dream", "values": {}}',
        '{"kind": "evidence_put", "record": "later", "values": {"id": "a"}}',
        '{"kind": "evidence_put", "record": "later", "values": {"id": "a", "what": "w", "due": "soon"}}',
        '{"kind": "evidence_put", "record": "link", "values": {"id": "a", "first": "chair:A", "relation": "same as"}}',
        '{"kind": "evidence_put", "record": "later", "values": {"id": "a", "what": "w"}, "more": 1}',
        '{"kind": "evidence_put"',
    ],
)
def test_what_is_no_record_is_an_error_that_names_the_entry(body: str) -> None:
    with pytest.raises(JournalError, match="Evidence, entry 3"):
        CODEC.content_from(body, version=CODEC.version, where="Evidence, entry 3")


@pytest.mark.parametrize("target", ["chair", "chair:", "dream:4", "chair:A B", "chair: A", ":4", "x" * 200])
def test_a_target_is_the_sort_and_the_id_of_a_thing(target: str) -> None:
    assert target_parts(target) == ("", "")
    with pytest.raises(ValueError, match="sort and the id"):
        r.Link(id="a", first=target, relation="same as", second="chair:A")


@given(st.sampled_from(SORTS), st.text(st.characters(min_codepoint=33, max_codepoint=126), min_size=1, max_size=40))
def test_a_target_is_read_as_it_is_written(sort: str, name: str) -> None:
    if not name.startswith(":"):
        assert target_parts(f"{sort}:{name}") == (sort, name)


def test_a_thing_is_not_tied_to_itself() -> None:
    with pytest.raises(ValueError, match="itself"):
        r.Link(id="a", first="chair:A", relation="same as", second="chair:A")


FORECAST = r.Forecast(id="f", what="it gets faster", release="10")


def test_an_open_forecast_is_changed_and_a_sealed_one_only_told_of() -> None:
    sealed = replace(FORECAST, what="it gets slower", sealed=True)
    told = put(FORECAST, sealed, replace(sealed, outcome="did not", note="by a tenth"))
    held = told.find("forecast", "f")
    assert held is not None
    assert (held.record, held.first.wall_ns, held.last.wall_ns) == (
        replace(sealed, outcome="did not", note="by a tenth"),
        1,
        3,
    )
    for changed in (replace(sealed, what="it stays"), replace(sealed, release="11"), replace(sealed, sealed=False)):
        with pytest.raises(JournalError, match=r"sealed|seal is not taken"):
            put(sealed, changed)


@pytest.mark.parametrize(
    "evidence",
    [
        r.Link(id="l", first="mark:4f", relation="speaks for", second="forecast:f"),
        r.Link(id="l", first="forecast:f", relation="speaks against", second="mark:4f"),
    ],
)
def test_the_first_evidence_that_bears_on_a_forecast_seals_it(evidence: r.Link) -> None:
    with pytest.raises(JournalError, match="sealed"):
        put(FORECAST, evidence, replace(FORECAST, what="it gets slower"))
    other = r.Link(id="l", first="mark:4f", relation="same as", second="forecast:f")
    put(FORECAST, other, replace(FORECAST, what="it gets slower"))


def test_how_it_came_out_seals_it_too() -> None:
    held = put(replace(FORECAST, outcome="came true")).find("forecast", "f")
    assert isinstance(held.record if held else None, r.Forecast)
    with pytest.raises(JournalError, match="sealed"):
        put(replace(FORECAST, outcome="came true"), replace(FORECAST, what="x", outcome="came true", sealed=True))


def test_what_is_dropped_leaves_its_links_behind() -> None:
    link = r.Link(id="l", first="advice:a", relation="because of", second="mark:4f")
    advice = r.Advice(id="a", what="say so")
    told = state(EvidencePut(advice), EvidencePut(link), EvidenceDropped("advice", "a", "not so"))
    assert told.find("advice", "a") is None
    assert told.dropped["advice"] == {"a": "not so"}
    assert list(told.links()) == [link]
    again = state(EvidencePut(advice), EvidenceDropped("advice", "a", "not so"), EvidencePut(advice))
    assert again.find("advice", "a") is not None
    with pytest.raises(JournalError, match="no such record"):
        state(EvidenceDropped("advice", "a", "not so"))


def test_an_entry_that_cannot_follow_is_left_out_and_said() -> None:
    told = state(EvidenceDropped("advice", "a", "not so"), EvidencePut(FORECAST), lenient=True)
    assert list(told.left_out) == ["evidence-1"]
    assert told.find("forecast", "f") is not None


def because(first: str, second: str, name: str) -> r.Link:
    return r.Link(id=name, first=f"mark:{first}", relation="because of", second=f"mark:{second}")


def test_a_circle_of_causes_is_found() -> None:
    line = [because("a", "b", "1"), because("b", "c", "2"), because("a", "c", "3")]
    assert circles(put(*line)) == []
    (circle,) = circles(put(*line, because("c", "a", "4")))[:1]
    assert set(circle) <= {"mark:a", "mark:b", "mark:c"}
    other = r.Link(id="4", first="mark:c", relation="same as", second="mark:a")
    assert circles(put(*line, other)) == []


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 6)), max_size=20))
def test_circles_are_found_where_causes_go_round_and_only_there(pairs: list[tuple[int, int]]) -> None:
    ties = {(a, b) for a, b in pairs if a != b}
    found = circles(put(*(because(str(a), str(b), f"{a}-{b}") for a, b in ties)))
    reach = {a: {b for x, b in ties if x == a} for a in range(7)}
    for _ in range(7):
        reach = {a: set().union(to, *(reach[b] for b in to)) for a, to in reach.items()}
    assert bool(found) == any(a in to for a, to in reach.items())


ANNOUNCED = r.ReleaseChange(id="a", chair="A", what="the mail program", known="announced")


@pytest.mark.parametrize(
    ("record", "own"),
    [
        (replace(ANNOUNCED, known="found"), True),
        (ANNOUNCED, False),
        (replace(ANNOUNCED, evidence="done"), True),
        (r.InventoryItem(id="a", chair="A", purpose="to print labels", evidence="heard"), False),
    ],
)
def test_what_was_announced_is_read_about(record: r.EvidenceRecord, own: bool) -> None:
    assert r.is_own(record) is own
