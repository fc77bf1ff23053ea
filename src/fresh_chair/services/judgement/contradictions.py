"""Contradictions in the study's own record, each with the reviewer's answer where there is one."""

from collections.abc import Iterator, Mapping

from fresh_chair.core.chair.records import Claim, evidence_of
from fresh_chair.core.evidence.judged import ChairVerdict, ContradictionAnswer, Criterion, Score
from fresh_chair.core.evidence.kinds import OWN
from fresh_chair.core.figures.overall.estimates import OverallMeasure, Turning, VerdictKind
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.overall import measure_words
from fresh_chair.core.words.thresholds import threshold_words
from fresh_chair.core.words.turning import turned_words, way_words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.evidence.targets import links_of
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.judgement.verdicts import VerdictLine, verdict_lines
from fresh_chair.services.study.snapshot import StudyReading

_FOR = ("recommended", "recommended if")
_GRAVE = 4
_BESIDE_FARED: tuple[OverallMeasure, ...] = ("time", "ease", "satisfaction")


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


def contradictions(
    opened: StudyReading, weighing: Weighing, turning: Turning | None = None, words: Words = ENGLISH
) -> list[Contradiction]:
    """Everything that contradicts itself, those without an answer first.

    Args:
        opened: The study.
        weighing: Its figures.
        turning: Whether the main answer turns; None where it is not known, and then not listed.
        words: The language.
    """
    answers = _answers(opened)
    found = [
        *_verdicts(opened, weighing, words),
        *_scores(opened, words),
        *_claims(opened, words),
        *_unlike(weighing, words),
        *_mixed(opened, weighing, words),
        *_turns(weighing, turning, words),
    ]
    told = [Contradiction(each.key, each.sort, each.words, each.about, answers.get(each.key)) for each in found]
    return sorted(told, key=lambda each: each.answer is not None)


def _answers(opened: StudyReading) -> Mapping[str, ContradictionAnswer]:
    held = (each.record for each in evidence_of_kind(opened, "answer"))
    return {each.about: each for each in held if isinstance(each, ContradictionAnswer)}


def _verdicts(opened: StudyReading, weighing: Weighing, words: Words) -> Iterator[Contradiction]:
    for line in verdict_lines(opened):
        verdict = line.verdict
        if line.state == "revised" or not verdict.chair:
            continue
        yield from _against_thresholds(weighing, line, words)
        if verdict.says in _FOR:
            yield from _against_findings(opened, line, words)


def _against_thresholds(weighing: Weighing, line: VerdictLine, words: Words) -> Iterator[Contradiction]:
    verdict = line.verdict
    held = [each for each in weighing.thresholds if each.chair == verdict.chair]
    target, says = f"verdict:{verdict.id}", words.say(verdict.says)
    for number, each in enumerate(held):
        if verdict.says in _FOR and each.held == "not met":
            said = words.say(
                "{chair} is “{says}”, and does not meet what was to be good enough: {threshold}",
                chair=verdict.chair,
                says=says,
                threshold=threshold_words(each.threshold, words),
            )
            yield Contradiction(f"threshold {verdict.id} {number}", "a verdict against a threshold", said, target)
    if verdict.says == "not for them" and held and all(each.held == "met" for each in held):
        said = words.say(
            "{chair} is “{says}”, and meets everything that was to be good enough", chair=verdict.chair, says=says
        )
        yield Contradiction(f"thresholds met {verdict.id}", "a verdict against the thresholds", said, target)


def _against_findings(opened: StudyReading, line: VerdictLine, words: Words) -> Iterator[Contradiction]:
    verdict = line.verdict
    for view in sorted_findings_of(opened).findings:
        if view.finding.sort != "problem" or not any(s.chair == verdict.chair and s.people for s in view.spread):
            continue
        judged = view.finding.severity_in(Scope(chair=verdict.chair, audience=verdict.audience))
        name = f"F{view.finding.number} {clipped(view.title, 60)}"
        if judged is not None and judged.severity >= _GRAVE:
            said = words.say(
                "{chair} is “{says}” for {audience}, and {finding} has severity {severity} there",
                chair=verdict.chair,
                says=words.say(verdict.says),
                audience=verdict.audience or words.say("everyone"),
                finding=name,
                severity=judged.severity,
            )
            key = f"finding {verdict.id} {view.id}"
            yield Contradiction(key, "a verdict against a finding", said, f"verdict:{verdict.id}")
        elif not verdict.audience:
            yield from _for_somebody(view, verdict, name, words)


def _for_somebody(view: FindingView, verdict: ChairVerdict, name: str, words: Words) -> Iterator[Contradiction]:
    """Said for everyone, and gravest for one audience."""
    for scope, judged in view.finding.severities.items():
        if scope.audience and scope.chair in ("", verdict.chair) and judged.severity >= _GRAVE:
            said = words.say(
                "{chair} is recommended for everyone, and {finding} has severity {severity} for {audience}",
                chair=verdict.chair,
                finding=name,
                severity=_GRAVE,
                audience=scope.audience,
            )
            key = f"everyone {verdict.id} {view.id} {scope.audience}"
            yield Contradiction(key, "for everyone against somebody", said, f"verdict:{verdict.id}")


def _scores(opened: StudyReading, words: Words) -> Iterator[Contradiction]:
    names = {
        each.record.id: each.record.name
        for each in evidence_of_kind(opened, "criterion")
        if isinstance(each.record, Criterion)
    }
    for held in evidence_of_kind(opened, "score"):
        score = held.record
        # A reason of the reviewer's own is evidence enough; neither that nor a link is none.
        if isinstance(score, Score) and not score.why.strip() and not links_of(opened, f"score:{score.id}"):
            name = names.get(score.criterion.removeprefix("criterion:"), score.criterion)
            named = {"value": words.number(score.value), "chair": score.chair, "criterion": name}
            said = words.say("the score {value} of {chair} on {criterion} has no evidence, and no reason", **named)
            yield Contradiction(f"score {score.id}", "a score without evidence", said, f"score:{score.id}")


def _claims(opened: StudyReading, words: Words) -> Iterator[Contradiction]:
    for letter in opened.study.chair_by_letter:
        for held in opened.known_chairs.of(letter).held("claim"):
            claim = held.record
            if isinstance(claim, Claim) and claim.answer == "as promised" and evidence_of(claim) not in OWN:
                said = words.say(
                    "“{promised}” at {chair} is called kept, and was {evidence} only",
                    promised=clipped(claim.promised, 60),
                    chair=letter,
                    evidence=words.say(evidence_of(claim)),
                )
                target = f"record:{letter}/claim/{claim.id}"
                yield Contradiction(f"claim {letter} {claim.id}", "a claim kept by hearsay", said, target)


def _unlike(weighing: Weighing, words: Words) -> Iterator[Contradiction]:
    """A winner whose two chairs stood under unlike conditions."""
    study, measure = weighing.study, main_measure(weighing)
    for verdict in weighing.overall[measure].verdicts if measure in weighing.overall else ():
        if not verdict.winner:
            continue
        first, second = (study.chair_by_letter[c] for c in (verdict.estimate.first, verdict.estimate.second))
        differ = [
            said
            for said, one, other in (
                (words.say("the machine"), first.machine, second.machine),
                (words.say("virtual or not"), study.machine_of(first).kind, study.machine_of(second).kind),
                (words.say("the stage of the release"), first.stage, second.stage),
                (words.say("their state"), first.state, second.state),
                (words.say("alterations"), first.alterations, second.alterations),
            )
            # Where one of both was not said, nothing is known to differ.
            if one != other and "" not in (one, other)
        ]
        if differ:
            told = words.say(
                "{winner} wins ({measure}), and {first} and {second} differ in {conditions}",
                winner=verdict.winner,
                measure=measure_words(measure, words, weighing.choice.times),
                first=first.letter,
                second=second.letter,
                conditions=", ".join(differ),
            )
            yield Contradiction(f"unlike {first.letter}{second.letter}", "a winner across unlike conditions", told, "")


def _mixed(opened: StudyReading, weighing: Weighing, words: Words) -> Iterator[Contradiction]:
    """A pair that is mixed, against a measure that names a winner or calls both alike, and a plain recommendation."""
    fared = weighing.overall.get("who fared better")
    for index, verdict in enumerate(fared.verdicts if fared is not None else ()):
        if verdict.said is not VerdictKind.MIXED:
            continue
        first, second = verdict.estimate.first, verdict.estimate.second
        for measure in _BESIDE_FARED:
            other = weighing.overall[measure].verdicts[index]
            if other.winner or other.said is VerdictKind.ALIKE:
                told = words.say(
                    "{first} and {second} are mixed by how people fared, and {measure} says: {said}",
                    first=first,
                    second=second,
                    measure=measure_words(measure, words, weighing.choice.times),
                    said=words.say("better at {chair}", chair=other.winner) if other.winner else words.say("alike"),
                )
                yield Contradiction(f"mixed {first}{second} {measure}", "a mixed verdict against another", told, "")
        for line in verdict_lines(opened):
            given = line.verdict
            if line.state != "revised" and given.says == "recommended" and given.chair in (first, second):
                told = words.say(
                    "{chair} is “{says}”, and is mixed against {other} by how people fared",
                    chair=given.chair,
                    says=words.say(given.says),
                    other=second if given.chair == first else first,
                )
                key = f"mixed {first}{second} {given.id}"
                yield Contradiction(key, "a verdict against a mixed one", told, f"verdict:{given.id}")


def _turns(weighing: Weighing, turning: Turning | None, words: Words) -> Iterator[Contradiction]:
    for way in turning.ways if turning is not None else ():
        for first, second, how in way.turned:
            told = words.say(
                "{first} against {second} turns {way}: {how}",
                first=first,
                second=second,
                way=way_words(way, words, times=weighing.choice.times),
                how=turned_words(how, words),
            )
            key = f"turns {first}{second} {way.way} {way.person}".strip()
            yield Contradiction(key, "a verdict that turns", told, "")
