"""Observations into findings, on a ledger that is only appended: membership, numbers, judgements, their history."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import JournalError, Refused
from fresh_chair.core.findings.entries import judgements as judge
from fresh_chair.core.findings.entries import membership as member
from fresh_chair.core.findings.ledger import CODEC, SortContent, SortEntry, replay_sorting, sort_id
from fresh_chair.core.findings.state.finding import EVERYWHERE, Findings, Scope
from fresh_chair.core.findings.state.parts import Cause, Excuse, Occurrence, Trial, Workaround
from fresh_chair.core.ledger import EntryStruck

CAUSE = Cause(id="c", words="the driver sleeps", lies="a driver or the machine", reason="after each lid")
TRIAL = Trial(id="t", tried="another kernel", result="changed nothing", cause="c", when="2026-11-20")
WAY = Workaround(id="w", steps="close the lid twice", skill="an expert", helped="yes")
EXCUSE = Excuse(id="e", sort="early release", reason="a beta", severity=1, again="it is final")
OPENED = (member.FindingOpened("f", "one"), member.FindingOpened("g", "two"))

EVERY_CONTENT: list[SortContent] = [
    *OPENED,
    member.FindingRetitled("f", "better"),
    member.SnagJoined("f", "s"),
    member.SnagParted("s"),
    member.EvidenceJoined("f", "mark:s"),
    member.EvidenceParted("f", "mark:s"),
    member.FindingSorted("f", "strength"),
    member.FindingTagged("f", "words"),
    member.FindingPlaced("f", "g"),
    member.EarlierNamed("f", "A-f"),
    judge.SeverityJudged("f", 3, "blocks two"),
    judge.SeverityJudged("f", 2, "rare there", chair="B"),
    judge.SeverityWithdrawn("f", "not so", chair="B"),
    judge.SeverityRated("f", "Ada", 2, "slow"),
    judge.SettlingOpened(),
    judge.FactorCorrected("f", "impact", "2", "it was the bench"),
    judge.OccurrenceSaid("f", Occurrence(how="sometimes", met=2, tries=5, count=9, note="n")),
    judge.CausePut("f", CAUSE),
    judge.TrialPut("f", TRIAL),
    judge.WorkaroundPut("f", WAY),
    judge.ExcusePut("f", EXCUSE),
    judge.PartDropped("f", "workaround", "w", "it does not"),
    member.FindingMerged("g", "f"),
    EntryStruck("sort-3", "no"),
]


def entries_of(*contents: SortContent) -> list[SortEntry]:
    return [
        SortEntry(sort_id(number), number, Moment(number, "b", number), "m", content)
        for number, content in enumerate(contents, start=1)
    ]


def ledger_of(*contents: SortContent) -> Findings:
    return replay_sorting(entries_of(*contents), aside=frozenset())


def refused(*contents: SortContent) -> str:
    with pytest.raises(JournalError) as problem:
        ledger_of(*contents)
    assert isinstance(problem.value.__cause__, Refused)
    return problem.value.title


def test_every_content_survives_the_disk_and_they_can_follow_each_other() -> None:
    assert {type(content) for content in EVERY_CONTENT} == set(CODEC.kinds.values())
    for content in EVERY_CONTENT:
        assert CODEC.content_from(CODEC.body_of(content), version=CODEC.version, where="here") == content
    assert list(ledger_of(*EVERY_CONTENT).by_id) == ["f"]


def test_an_unknown_content_is_named_and_a_wrong_part_is_none() -> None:
    for body in (
        '{"kind":"shredded"}',
        '{"kind":"cause_put","finding":"f","cause":{"id":"c","words":"w","sure":"likely","reason":""}}',
        '{"kind":"trial_put","finding":"f","trial":{"id":"t","tried":"x","result":"perhaps"}}',
        '{"kind":"severity_judged","finding":"f","severity":5,"reason":"x"}',
    ):
        with pytest.raises(JournalError, match="Sorting, entry 3"):
            CODEC.content_from(body, version=1, where="Sorting, entry 3")


def test_one_observation_feeds_several_findings_and_leaves_one_without_leaving_the_other() -> None:
    joined = (*OPENED, member.EvidenceJoined("f", "mark:s"), member.EvidenceJoined("g", "mark:s"))
    found = ledger_of(*joined)
    assert found.findings_of == {"mark:s": ["f", "g"]}
    assert ledger_of(*joined, member.EvidenceParted("f", "mark:s")).findings_of == {"mark:s": ["g"]}
    assert "already" in refused(*joined, member.EvidenceJoined("g", "mark:s"))
    assert "not in" in refused(*OPENED, member.EvidenceParted("f", "mark:s"))


def test_a_snag_joined_by_an_earlier_version_leaves_the_finding_it_was_in() -> None:
    found = ledger_of(*OPENED, member.SnagJoined("f", "s"), member.SnagJoined("g", "s"))
    assert found.findings_of == {"mark:s": ["g"]}
    assert ledger_of(*OPENED, member.SnagJoined("f", "s"), member.SnagParted("s")).findings_of == {}


def test_a_number_is_for_good_and_a_merged_one_leads_on() -> None:
    third = member.FindingOpened("h", "three")
    found = ledger_of(*OPENED, EntryStruck("sort-1", "no"), third, member.FindingMerged("g", "h"))
    assert (found.by_id["h"].number, found.by_id["h"].name) == (3, "F3 (and F2)")
    two, one = found.by_number(2), found.by_number(1)
    assert two is not None
    assert (two.id, one) == ("h", None)
    again = ledger_of(*OPENED, third, member.FindingMerged("g", "h"), member.FindingMerged("h", "f"))
    assert again.by_id["f"].name == "F1 (and F3, F2)"
    assert again.finding("g").id == "f"


def test_a_merge_brings_all_of_a_finding_along_and_can_be_struck() -> None:
    contents = (
        *OPENED,
        member.EvidenceJoined("f", "mark:s"),
        member.EvidenceJoined("g", "mark:s"),
        member.EvidenceJoined("g", "mark:t"),
        judge.CausePut("g", CAUSE),
        judge.SeverityJudged("g", 2, "slow"),
        judge.SeverityJudged("f", 3, "worse"),
        member.FindingMerged("g", "f"),
    )
    into = ledger_of(*contents).by_id["f"]
    assert (into.evidence, into.severity, into.held("cause")) == (["mark:s", "mark:t"], 3, [CAUSE])
    assert set(ledger_of(*contents, EntryStruck("sort-9", "two after all")).by_id) == {"f", "g"}
    assert "one finding already" in refused(*OPENED, member.FindingMerged("f", "f"))


def test_a_head_stands_under_nothing_and_siblings_know_each_other() -> None:
    third = member.FindingOpened("h", "three")
    found = ledger_of(*OPENED, third, member.FindingPlaced("g", "f"), member.FindingPlaced("h", "f"))
    assert [each.id for each in found.siblings(found.by_id["g"])] == ["f", "h"]
    assert [each.id for each in found.siblings(found.by_id["f"])] == ["g", "h"]
    placed = member.FindingPlaced("g", "f")
    assert "under no other" in refused(*OPENED, third, placed, member.FindingPlaced("f", "h"))
    assert "under no other" in refused(*OPENED, third, placed, member.FindingPlaced("h", "g"))
    assert "its own head" in refused(*OPENED, member.FindingPlaced("f", "f"))


@pytest.mark.parametrize(
    "content",
    [
        member.EvidenceJoined("no", "mark:s"),
        member.SnagParted("s"),
        judge.SeverityJudged("no", 1, "why"),
        judge.CausePut("no", CAUSE),
        judge.PartDropped("f", "cause", "none", "why"),
        judge.SeverityWithdrawn("f", "why", chair="A"),
        judge.TrialPut("f", TRIAL),
        member.FindingTagged("f", "t", on=False),
        judge.FactorCorrected("f", "impact", "7", "why"),
    ],
)
def test_what_is_not_there_cannot_be_sorted_or_judged(content: SortContent) -> None:
    assert refused(member.FindingOpened("f", "x"), content).startswith("Sorting, entry 2:")


def test_the_narrowest_severity_holds_for_whom_it_is_and_the_general_one_for_all_others() -> None:
    finding = ledger_of(
        OPENED[0],
        judge.SeverityJudged("f", 3, "as met"),
        judge.SeverityJudged("f", 1, "at B", chair="B"),
        judge.SeverityJudged("f", 2, "known", workaround_known=True),
        judge.SeverityJudged("f", 4, "a school at B", chair="B", audience="school"),
    ).by_id["f"]

    def holds(**asked: object) -> int:
        judged = finding.severity_in(Scope(**asked))  # type: ignore[arg-type]
        assert judged is not None
        return judged.severity

    assert (holds(), holds(chair="A"), holds(chair="B"), holds(audience="school")) == (3, 3, 1, 3)
    assert holds(chair="B", audience="school") == 4
    assert (holds(chair="A", workaround_known=True), finding.severity) == (2, 3)
    assert ledger_of(OPENED[0]).by_id["f"].severity_in(EVERYWHERE) is None


@given(st.lists(st.tuples(st.sampled_from(["", "A", "B"]), st.sampled_from(["", "school"]), st.booleans()), max_size=6))
def test_a_severity_never_holds_for_somebody_it_does_not_name(scopes: list[tuple[str, str, bool]]) -> None:
    contents = [judge.SeverityJudged("f", n % 5, "why", *scope) for n, scope in enumerate(scopes)]
    finding = ledger_of(OPENED[0], *contents).by_id["f"]
    for chair in ("", "A", "B"):
        held = finding.severity_in(Scope(chair=chair))
        scope = next((s for s, each in finding.severities.items() if each is held), EVERYWHERE)
        assert scope.chair in ("", chair)
        assert (scope.audience, scope.workaround_known) == ("", False)


def test_a_revised_severity_and_cause_stay_with_their_reasons_and_days() -> None:
    revised = replace(CAUSE, sure="shown", reason="another kernel mends it")
    finding = ledger_of(
        OPENED[0],
        judge.SeverityJudged("f", 1, "mild"),
        judge.SeverityJudged("f", 3, "blocks two"),
        judge.CausePut("f", CAUSE),
        judge.CausePut("f", revised),
    ).by_id["f"]
    assert (finding.severity, finding.reason) == (3, "blocks two")
    assert [(judged.severity, judged.reason) for _, judged in finding.earlier_severities] == [(1, "mild")]
    assert finding.held("cause") == [revised]
    assert [(v.part, v.moment.wall_ns) for v in finding.versions("cause", "c")] == [(CAUSE, 4), (revised, 5)]
    dropped = ledger_of(OPENED[0], judge.CausePut("f", CAUSE), judge.PartDropped("f", "cause", "c", "no")).by_id["f"]
    assert dropped.held("cause") == []
    assert [v.reason for v in dropped.versions("cause", "c")] == ["", "no"]


@pytest.mark.parametrize("severity", [0, 1, 2])
def test_an_excuse_lowers_the_excused_value_and_leaves_the_one_as_met(severity: int) -> None:
    judged = judge.SeverityJudged("f", 2, "slow")
    excuse = judge.ExcusePut("f", replace(EXCUSE, severity=severity))
    finding = ledger_of(OPENED[0], judged, excuse).by_id["f"]
    assert (finding.severity, finding.excused) == (2, severity)


def test_an_excuse_raises_nothing_and_needs_a_severity() -> None:
    assert "lower the severity only" in refused(
        OPENED[0], judge.SeverityJudged("f", 2, "slow"), judge.ExcusePut("f", replace(EXCUSE, severity=3))
    )
    assert "no severity yet" in refused(OPENED[0], judge.ExcusePut("f", EXCUSE))
    # Judged milder afterwards, it is excused no higher than it is.
    finding = ledger_of(
        OPENED[0],
        judge.SeverityJudged("f", 4, "bad"),
        judge.ExcusePut("f", replace(EXCUSE, severity=3)),
        judge.SeverityJudged("f", 1, "milder than thought"),
    ).by_id["f"]
    assert finding.excused == 1


def test_ratings_are_blind_until_the_settling_view_is_open_and_stay_as_they_were_given() -> None:
    rated = (OPENED[0], judge.SeverityRated("f", "Ada", 2, "slow"), judge.SettlingOpened())
    finding = ledger_of(*rated, judge.SeverityRated("f", "Bo", 4, "seen Ada's")).by_id["f"]
    assert [(each.rater, each.blind) for each in finding.ratings.values()] == [("Ada", True), ("Bo", False)]
    assert "stays as it was given" in refused(*rated, judge.SeverityRated("f", "Ada", 4, "after all"))
    assert "seen already" in refused(*rated, judge.SettlingOpened())
    changed = ledger_of(*rated[:2], judge.SeverityRated("f", "Ada", 3, "slower")).by_id["f"]
    assert changed.ratings["Ada"].severity == 3


def test_a_struck_entry_does_not_count_and_what_needs_it_is_refused() -> None:
    contents = (OPENED[0], judge.SeverityJudged("f", 3, "bad"), EntryStruck("sort-2", "judged too soon"))
    assert ledger_of(*contents).by_id["f"].severity is None
    assert "no such finding" in refused(OPENED[0], member.EvidenceJoined("f", "mark:s"), EntryStruck("sort-1", "why"))
    left = replay_sorting(entries_of(judge.SeverityJudged("no", 1, "why"))).left_out
    assert left["sort-1"].startswith("Sorting, entry 1:")


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: Occurrence(how="sometimes", met=3, tries=2), "no more tries"),
        (lambda: Occurrence(how="sometimes", met=3), "no more tries"),
        (lambda: replace(CAUSE, ruled_out_by="the trial"), "is ruled out"),
        (lambda: replace(TRIAL, when="soon"), "when it was tried"),
        (lambda: replace(EXCUSE, by="the lid"), "what excuses it"),
    ],
)
def test_a_part_that_cannot_be_so_is_refused(make: object, said: str) -> None:
    with pytest.raises(ValueError, match=said):
        make()  # type: ignore[operator]
