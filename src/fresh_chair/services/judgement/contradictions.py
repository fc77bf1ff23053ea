"""Contradictions in the study's own record, each with the reviewer's answer where there is one."""

from collections.abc import Iterator, Mapping

from fresh_chair.core.chair.records import Claim, evidence_of
from fresh_chair.core.evidence.judged import ContradictionAnswer, Criterion, Score
from fresh_chair.core.evidence.kinds import OWN
from fresh_chair.core.figures.overall.estimates import Turning
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.evidence.targets import links_of
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.judgement.verdicts import VerdictLine, verdict_lines
from fresh_chair.services.study.snapshot import StudyReading

_FOR = ("recommended", "recommended if")
_GRAVE = 4


@frozen
class Contradiction:
    """Two things of the record that do not go together.

    Attributes:
        key: Names it for good, so that an answer finds it again.
        sort: What does not go together with what.
        about: The target it is about; empty for a comparison.
        answer: Changed, or stands, with why; None where it has none.
    """

    key: str
    sort: str
    words: str
    about: str
    answer: ContradictionAnswer | None = None


def contradictions(opened: StudyReading, weighing: Weighing, turning: Turning | None = None) -> list[Contradiction]:
    """Everything that contradicts itself, those without an answer first.

    Args:
        opened: The study.
        weighing: Its figures.
        turning: Whether the main answer turns; None where it is not known, and then not listed.
    """
    answers = _answers(opened)
    found = [
        *_verdicts(opened, weighing),
        *_scores(opened),
        *_claims(opened),
        *_unlike(weighing),
        *_turns(weighing, turning),
    ]
    told = [Contradiction(each.key, each.sort, each.words, each.about, answers.get(each.key)) for each in found]
    return sorted(told, key=lambda each: each.answer is not None)


def _answers(opened: StudyReading) -> Mapping[str, ContradictionAnswer]:
    held = (each.record for each in evidence_of_kind(opened, "answer"))
    return {each.about: each for each in held if isinstance(each, ContradictionAnswer)}


def _verdicts(opened: StudyReading, weighing: Weighing) -> Iterator[Contradiction]:
    for line in verdict_lines(opened):
        verdict = line.verdict
        if line.state == "revised" or not verdict.chair:
            continue
        yield from _against_thresholds(weighing, line)
        if verdict.says in _FOR:
            yield from _against_findings(opened, line)


def _against_thresholds(weighing: Weighing, line: VerdictLine) -> Iterator[Contradiction]:
    verdict = line.verdict
    held = [each for each in weighing.thresholds if each.chair == verdict.chair]
    target, said = f"verdict:{verdict.id}", f"{verdict.chair} is “{verdict.says}”"
    for number, each in enumerate(held):
        if verdict.says in _FOR and each.held == "not met":
            words = f"{said}, and does not meet what was to be good enough: {each.threshold.words}"
            yield Contradiction(f"threshold {verdict.id} {number}", "a verdict against a threshold", words, target)
    if verdict.says == "not for them" and held and all(each.held == "met" for each in held):
        words = f"{said}, and meets everything that was to be good enough"
        yield Contradiction(f"thresholds met {verdict.id}", "a verdict against the thresholds", words, target)


def _against_findings(opened: StudyReading, line: VerdictLine) -> Iterator[Contradiction]:
    verdict = line.verdict
    for view in sorted_findings_of(opened).findings:
        if view.finding.sort != "problem" or not any(s.chair == verdict.chair and s.people for s in view.spread):
            continue
        judged = view.finding.severity_in(Scope(chair=verdict.chair, audience=verdict.audience))
        name = f"F{view.finding.number} {clipped(view.title, 60)}"
        if judged is not None and judged.severity >= _GRAVE:
            whom = "for everyone" if not verdict.audience else f"for {verdict.audience}"
            words = f"{verdict.chair} is “{verdict.says}” {whom}, and {name} has severity {judged.severity} there"
            key = f"finding {verdict.id} {view.id}"
            yield Contradiction(key, "a verdict against a finding", words, f"verdict:{verdict.id}")
        elif not verdict.audience:
            yield from _for_somebody(view.finding.severities, verdict.id, verdict.chair, name, view.id)


def _for_somebody(
    severities: Mapping[Scope, object], verdict: str, chair: str, name: str, finding: str
) -> Iterator[Contradiction]:
    """Said for everyone, and gravest for one audience."""
    for scope, judged in severities.items():
        if scope.audience and scope.chair in ("", chair) and getattr(judged, "severity", 0) >= _GRAVE:
            words = f"{chair} is recommended for everyone, and {name} has severity {_GRAVE} for {scope.audience}"
            key = f"everyone {verdict} {finding} {scope.audience}"
            yield Contradiction(key, "for everyone against somebody", words, f"verdict:{verdict}")


def _scores(opened: StudyReading) -> Iterator[Contradiction]:
    names = {
        each.record.id: each.record.name
        for each in evidence_of_kind(opened, "criterion")
        if isinstance(each.record, Criterion)
    }
    for held in evidence_of_kind(opened, "score"):
        score = held.record
        if isinstance(score, Score) and not links_of(opened, f"score:{score.id}"):
            name = names.get(score.criterion.removeprefix("criterion:"), score.criterion)
            reason = "" if score.why.strip() else ", and no reason"
            words = f"the score {score.value:g} of {score.chair} on {name} has no evidence{reason}"
            yield Contradiction(f"score {score.id}", "a score without evidence", words, f"score:{score.id}")


def _claims(opened: StudyReading) -> Iterator[Contradiction]:
    for letter in opened.study.chair_by_letter:
        for held in opened.known_chairs.of(letter).held("claim"):
            claim = held.record
            if isinstance(claim, Claim) and claim.answer == "as promised" and evidence_of(claim) not in OWN:
                words = f"“{clipped(claim.promised, 60)}” at {letter} is called kept, and was {evidence_of(claim)} only"
                target = f"record:{letter}/claim/{claim.id}"
                yield Contradiction(f"claim {letter} {claim.id}", "a claim kept by hearsay", words, target)


def _unlike(weighing: Weighing) -> Iterator[Contradiction]:
    """A winner whose two chairs stood under unlike conditions."""
    study, measure = weighing.study, main_measure(weighing)
    for verdict in weighing.overall[measure].verdicts if measure in weighing.overall else ():
        if not verdict.winner:
            continue
        first, second = (study.chair_by_letter[c] for c in (verdict.estimate.first, verdict.estimate.second))
        differ = [
            said
            for said, one, other in (
                ("the machine", first.machine, second.machine),
                ("virtual or not", study.machine_of(first).virtual, study.machine_of(second).virtual),
                ("the stage of the release", first.stage, second.stage),
                ("their state", first.state, second.state),
                ("alterations", first.alterations, second.alterations),
            )
            if one != other
        ]
        if differ:
            pair = f"{first.letter} and {second.letter}"
            words = f"{verdict.winner} wins ({measure}), and {pair} differ in {', '.join(differ)}"
            yield Contradiction(f"unlike {first.letter}{second.letter}", "a winner across unlike conditions", words, "")


def _turns(weighing: Weighing, turning: Turning | None) -> Iterator[Contradiction]:
    from fresh_chair.core.words.turning import way_words

    for way in turning.ways if turning is not None else ():
        for first, second, how in way.turned:
            said = way_words(way, times=weighing.choice.times)
            words = f"{first} against {second} turns {said}: {how}"
            key = f"turns {first}{second} {way.way} {way.person}".strip()
            yield Contradiction(key, "a verdict that turns", words, "")
