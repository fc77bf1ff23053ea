"""Snags into findings, on a ledger that is only appended."""

import pytest

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.facts import facts_of
from fresh_chair.core.findings.ledger import (
    CODEC,
    FindingOpened,
    Findings,
    SeverityJudged,
    SnagJoined,
    SnagParted,
    SortContent,
    SortEntry,
    replay_sorting,
    sort_id,
)
from fresh_chair.core.findings.sorted_snags import Spread, all_snags, sorted_snags
from fresh_chair.core.ledger import EntryStruck
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.replay import replay
from fresh_chair.core.sitting.state.outcome import Outcome
from tests.builders import Script, small_study

NOW = Moment(1, "b", 1)


def ledger_of(*contents: SortContent) -> Findings:
    return replay_sorting(entries_of(*contents))


def entries_of(*contents: SortContent) -> list[SortEntry]:
    return [SortEntry(sort_id(number), number, NOW, "m", content) for number, content in enumerate(contents, start=1)]


def test_a_snag_is_in_one_finding_at_a_time() -> None:
    ledger = ledger_of(
        FindingOpened("f1", "one"), FindingOpened("f2", "two"), SnagJoined("f1", "s"), SnagJoined("f2", "s")
    )
    assert (ledger.by_id["f1"].snags, ledger.by_id["f2"].snags) == ([], ["s"])
    SnagParted("s").apply(ledger)
    assert ledger.finding_of == {}


def test_the_last_severity_holds_and_the_first_stays_on_the_ledger() -> None:
    contents: list[SortContent] = [
        FindingOpened("f", "x"),
        SeverityJudged("f", 1, "mild"),
        SeverityJudged("f", 3, "blocks two"),
    ]
    ledger = ledger_of(*contents)
    assert (ledger.by_id["f"].severity, ledger.by_id["f"].reason, ledger.entries) == (3, "blocks two", 3)


@pytest.mark.parametrize("content", [SnagJoined("no", "s"), SnagParted("s"), SeverityJudged("no", 1, "why")])
def test_what_is_not_there_cannot_be_sorted(content: SortContent) -> None:
    with pytest.raises(JournalError, match="Sorting, entry 1:") as refused:
        replay_sorting(entries_of(content), aside=frozenset())
    assert isinstance(refused.value.__cause__, Refused)
    assert ledger_of(content).left_out["sort-1"].startswith("Sorting, entry 1:")


def test_a_struck_entry_does_not_count_and_what_needs_it_is_refused() -> None:
    contents: list[SortContent] = [
        FindingOpened("f", "x"),
        SeverityJudged("f", 3, "bad"),
        EntryStruck("sort-2", "judged too soon"),
    ]
    assert ledger_of(*contents).by_id["f"].severity is None
    assert ledger_of(*contents).entries == 3
    entries = entries_of(FindingOpened("f", "x"), SnagJoined("f", "s"), EntryStruck("sort-1", "why"))
    with pytest.raises(JournalError, match="no such finding"):
        replay_sorting(entries, aside=frozenset())


def test_ledger_entries_survive_the_disk_and_unknown_ones_are_named() -> None:
    content = SeverityJudged("f", 2, "why")
    assert CODEC.content_from(CODEC.body_of(content), version=1, where="here") == content
    with pytest.raises(JournalError, match="Sorting, entry 3"):
        CODEC.content_from('{"kind":"shredded"}', version=1, where="Sorting, entry 3")


def test_a_finding_says_who_met_it_of_those_who_tried() -> None:
    study = small_study(people=3, chairs=2)
    sittings = {}
    for seat in study.seats:
        script = Script()
        script.at(0, j.SittingBegan(), j.AttemptStarted(seat.cards[0]))
        if seat.chair == "A" and seat.participant != "P03":
            script.at(2, j.SnagSeen("cannot find it"))
        script.at(3, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED))
        sittings[seat.number] = replay(
            seat.number,
            seat.cards,
            [e.__class__(f"{seat.number}-{e.id}", e.number, e.moment, e.author, e.content) for e in script.entries],
        )
    snags = [remark.entry for sitting in sittings.values() for remark in sitting.remarks.values()]
    ledger = ledger_of(FindingOpened("f", "hidden"), *(SnagJoined("f", snag) for snag in snags[:2]))
    sorted_ = sorted_snags(study, sittings, ledger, facts_of(study, sittings))
    spread = {part.chair: (part.people, part.share.x) for part in sorted_.findings[0].spread}
    assert spread["A"] == (("P01", "P02"), 2)
    assert spread["B"][1] == 0
    assert sorted_.loose == ()


def test_a_snag_says_the_card_it_was_met_at_and_none_between_two() -> None:
    study = small_study(people=1, chairs=1)
    seat = study.seats[0]
    script = Script()
    script.at(0, j.SittingBegan(), j.SnagSeen("before any card"), j.AttemptStarted(seat.cards[0]), j.SnagSeen("at it"))
    script.at(3, j.AttemptStopped(), j.OutcomeJudged(Outcome.UNAIDED))
    sittings = {seat.number: replay(seat.number, seat.cards, script.entries)}
    found = all_snags(study, sittings, ledger_of())
    assert [(snag.words, snag.card) for snag in found] == [("before any card", ""), ("at it", seat.cards[0])]


def test_who_met_a_finding_is_said_with_its_interval_and_never_of_nobody() -> None:
    share = adjusted_wald(1, 2)
    assert share.low is not None
    assert share.high is not None
    met = Spread("A", ("P01",), ("P01", "P02"), share)
    assert met.words == f"met by 1 of 2 ({100 * share.low:.0f} to {100 * share.high:.0f} %)"
    # Adjusted Wald on 1 of 2 goes from 9 to 91 % (Agresti & Coull 1998, with z of 1.96).
    assert "(9 to 91 %)" in met.words
    assert Spread("A", (), (), adjusted_wald(0, 0), ("E1",)).words == "met only by E1, never counted"
    assert Spread("A", (), (), adjusted_wald(0, 0)).words == "nobody tried"
