"""Sentences about findings: their judgements for a reader, and the meaning of their discovery."""

from fresh_chair.core.figures.discovery import GOAL, Discovery
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import EVERYWHERE, Finding, Scope
from fresh_chair.core.findings.state.parts import Cause, Excuse, Occurrence, Workaround
from fresh_chair.core.text import condition_of
from fresh_chair.core.words.catalogue import ENGLISH, Words


def finding_sentences(view: FindingView, words: Words = ENGLISH) -> list[str]:
    """A finding's narrower severities, excuses, occurrence, causes and ways round, a sentence each.

    Causes are told with how sure they are; those that were ruled out are told as such.
    """
    finding = view.finding
    told = [
        words.say(
            "Severity {severity} {scope}: {reason}",
            severity=each.severity,
            scope=scope_words(scope, words),
            reason=each.reason,
        )
        for scope, each in finding.severities.items()
        if scope != EVERYWHERE
    ]
    told += _excuses(finding, words)
    if finding.occurrence.how != "not said":
        told.append(words.say("It comes: {how}.", how=occurrence_words(finding.occurrence, words)))
    for part in finding.held("cause"):
        if isinstance(part, Cause):
            told.append(
                words.say(
                    "Cause, {sure}: {what} ({lies}), because {reason}",
                    sure=words.say(part.sure),
                    what=part.words,
                    lies=words.say(part.lies),
                    reason=part.reason,
                )
            )
    for part in finding.held("workaround"):
        if isinstance(part, Workaround):
            told.append(
                words.say(
                    "Way round: {steps} (found by: {skill}; helped: {helped})",
                    steps=part.steps,
                    skill=words.say(part.skill),
                    helped=words.say(part.helped),
                )
            )
    return told


def scope_words(scope: Scope, words: Words = ENGLISH) -> str:
    """For whom a severity holds."""
    parts = [
        words.say("at {chair}", chair=scope.chair) if scope.chair else "",
        words.say("for {audience}", audience=scope.audience) if scope.audience else "",
        words.say("once the workaround is known") if scope.workaround_known else "",
    ]
    return ", ".join(filter(None, parts)) or words.say("everywhere")


def occurrence_words(occurrence: Occurrence, words: Words = ENGLISH) -> str:
    """Whether a finding comes back, and how often it came."""
    said = words.say(occurrence.how)
    if occurrence.met is not None:
        said += words.say(" ({met} of {tries} tries)", met=occurrence.met, tries=occurrence.tries)
    if occurrence.count is not None:
        said += words.count(", {count} time in all", ", {count} times in all", occurrence.count)
    return said


def _excuses(finding: Finding, words: Words) -> list[str]:
    told = []
    for part in finding.held("excuse"):
        if isinstance(part, Excuse):
            condition = condition_of(part.again)
            again = words.say("; to be looked at again when {again}", again=condition) if condition else ""
            if part.severity is None:
                said = words.say("Excused ({sort}): {reason}", sort=words.say(part.sort), reason=part.reason)
            else:
                said = words.say(
                    "Excused to {severity} ({sort}): {reason}",
                    severity=part.severity,
                    sort=words.say(part.sort),
                    reason=part.reason,
                )
            told.append(said + again)
    return told


def discovery_words(found: Discovery, words: Words = ENGLISH) -> list[str]:
    """The meaning of a discovery curve, a sentence each."""
    if found.adjusted is None or found.total is None or found.raw is None:
        return [words.say("Too few to tell: it takes two newcomers, and a problem that one of them met.")]

    def share(value: float) -> str:
        return words.number(100 * value, ".0f")

    more = (
        words.count(
            "{count} more newcomer would find {share} % of them.",
            "{count} more newcomers would find {share} % of them.",
            found.more,
            share=share(GOAL),
        )
        if found.more
        else words.say("These are enough to find {share} % of them.", share=share(GOAL))
    )
    return [
        words.say(
            "One newcomer meets {raw} % of the problems found; {adjusted} %, adjusted for so few.",
            raw=share(found.raw),
            adjusted=share(found.adjusted),
        ),
        words.say("{count} of the problems were met by one person alone.", count=found.once),
        words.say(
            "At that rate there are about {total} problems, and {share} % of them were found.",
            total=words.number(found.total, ".0f"),
            share=share(found.found or 0.0),
        ),
        more,
        words.say("It takes people and problems to be alike; where problems differ much, more is left than this says."),
    ]
