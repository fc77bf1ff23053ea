"""Sentences about findings: their judgements for a reader, and the meaning of their discovery."""

from fresh_chair.core.figures.discovery import GOAL, Discovery
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import EVERYWHERE, Finding
from fresh_chair.core.findings.state.parts import Cause, Excuse, Workaround
from fresh_chair.core.words.catalogue import ENGLISH, Words


def finding_sentences(view: FindingView, words: Words = ENGLISH) -> list[str]:
    """A finding's narrower severities, excuses, occurrence, causes and ways round, a sentence each.

    Causes are told with how sure they are; those that were ruled out are told as such.
    """
    finding = view.finding
    told = [
        words.say(
            "Severity {severity} {scope}: {reason}", severity=each.severity, scope=scope.words, reason=each.reason
        )
        for scope, each in finding.severities.items()
        if scope != EVERYWHERE
    ]
    told += _excuses(finding, words)
    if finding.occurrence.how != "not said":
        told.append(words.say("It comes: {how}.", how=finding.occurrence.words))
    for part in finding.held("cause"):
        if isinstance(part, Cause):
            told.append(
                words.say(
                    "Cause, {sure}: {what} ({lies}), because {reason}",
                    sure=part.sure,
                    what=part.words,
                    lies=part.lies,
                    reason=part.reason,
                )
            )
    for part in finding.held("workaround"):
        if isinstance(part, Workaround):
            told.append(
                words.say(
                    "Way round: {steps} (found by: {skill}; helped: {helped})",
                    steps=part.steps,
                    skill=part.skill,
                    helped=part.helped,
                )
            )
    return told


def _excuses(finding: Finding, words: Words) -> list[str]:
    told = []
    for part in finding.held("excuse"):
        if isinstance(part, Excuse):
            again = words.say("; to be looked at again when {again}", again=part.again) if part.again else ""
            said = words.say(
                "Excused to {severity} ({sort}): {reason}", severity=part.severity, sort=part.sort, reason=part.reason
            )
            told.append(said + again)
    return told


def discovery_words(found: Discovery) -> list[str]:
    """The meaning of a discovery curve, a sentence each."""
    if found.adjusted is None or found.total is None or found.raw is None:
        return ["Too few to tell: it takes two newcomers, and a problem that one of them met."]
    share = found.found or 0.0
    more = f"{found.more} more newcomers would find {GOAL:.0%} of them."
    return [
        f"One newcomer meets {found.raw:.0%} of the problems found; {found.adjusted:.0%}, adjusted for so few.",
        f"{found.once} of the problems were met by one person alone.",
        f"At that rate there are about {found.total:.0f} problems, and {share:.0%} of them were found.",
        more if found.more else f"These are enough to find {GOAL:.0%} of them.",
        "It takes people and problems to be alike; where problems differ much, more is left than this says.",
    ]
