"""Outcomes that were reached by a workaround, tied to the workaround of a finding."""

from fresh_chair.core.evidence.targets import target_parts
from fresh_chair.services.study.snapshot import StudyReading

BY_WORKAROUND = "only with a workaround"


def ways_taken(opened: StudyReading) -> dict[str, tuple[str, ...]]:
    """Attempts that are tied to a workaround, as sitting/attempt, by the finding's id."""
    found: dict[str, list[str]] = {}
    for link in opened.evidence.state.links():
        ends = [target_parts(link.first), target_parts(link.second)]
        attempt = next((name for sort, name in ends if sort == "attempt"), "")
        way = next((name for sort, name in ends if sort == "workaround"), "")
        if attempt and way:
            found.setdefault(way.partition("/")[0], []).append(attempt)
    return {finding: tuple(dict.fromkeys(attempts)) for finding, attempts in found.items()}


def ways_untied(opened: StudyReading) -> list[str]:
    """Attempts completed only with a workaround that are tied to none, as sitting/attempt."""
    tied = {attempt for attempts in ways_taken(opened).values() for attempt in attempts}
    reached = [f"{f.sitting}/{f.attempt}" for f in opened.facts() if f.route == BY_WORKAROUND and f.outcome.completed]
    return [attempt for attempt in reached if attempt not in tied]
