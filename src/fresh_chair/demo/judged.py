"""The demo's findings beyond the troubles they were sorted from: judgements, raters, strengths, and earlier studies."""

import tomllib
from collections.abc import Iterator, Mapping
from functools import cache
from importlib.resources import files
from typing import Any

from fresh_chair.core.findings.entries import judgements as judge
from fresh_chair.core.findings.entries import membership as member
from fresh_chair.core.findings.ledger import SortContent
from fresh_chair.core.findings.state.parts import Cause, Excuse, Occurrence, Trial, Workaround
from fresh_chair.core.plan.chairs import CarriedFinding
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.authors import MODERATOR
from fresh_chair.core.sitting.journal import Entry

SOURCE, SOURCE_ID = "Last winter's trial at the tool library", "tern-harbour-winter"
# An entry of the ledger without its number and moment.
Authored = tuple[str, SortContent]


@cache
def _told() -> dict[str, Any]:
    return tomllib.loads(files(__package__).joinpath("findings.toml").read_text(encoding="utf-8"))


def carried_findings() -> tuple[CarriedFinding, ...]:
    """The findings that came along from the study of last winter."""
    found = []
    for index, values in enumerate(_told()["carried"], start=1):
        told: dict[str, Any] = {**values, "cards": tuple(values.get("cards", ()))}
        found.append(CarriedFinding(id=f"A-winter-{index}", source=SOURCE, source_id=SOURCE_ID, **told))
    return tuple(found)


def judgements(ids: Mapping[str, str], journals: Mapping[int, list[Entry]]) -> list[Authored]:
    """The judgements after the troubles were sorted, in their order.

    Args:
        ids: Ids of the findings so far, by title.
        journals: Of the sittings; observations are found by their words.
    """
    targets = _targets(journals)
    told = _told()
    contents: list[SortContent] = []
    for each in told["opened"]:
        contents += _opened(each, targets)
    for each in told["also"]:
        found = [target for words in each["words"] for target in targets.get(words, ())]
        contents += [member.EvidenceJoined(ids[each["finding"]], target) for target in found]
    for each in told["judged"]:
        contents += _judged(ids[each["finding"]], each)
    contents += [member.FindingPlaced(ids[each["finding"]], ids[each["head"]]) for each in told["placed"]]
    return [*((MODERATOR, content) for content in contents), *_raters(told["raters"], ids)]


def _targets(journals: Mapping[int, list[Entry]]) -> dict[str, list[str]]:
    """Marks by their words, in the order of sittings."""
    found: dict[str, list[str]] = {}
    for entries in journals.values():
        for entry in entries:
            content = entry.content
            if isinstance(content, j.Worded):
                found.setdefault(content.words, []).append(f"mark:{content.entry}")
            elif isinstance(content, j.QuoteTaken) and content.words:
                found.setdefault(content.words, []).append(f"mark:{entry.id}")
    return found


def _opened(each: dict[str, Any], targets: Mapping[str, list[str]]) -> Iterator[SortContent]:
    name = each["id"]
    yield member.FindingOpened(name, each["title"])
    yield member.FindingSorted(name, each["sort"])
    found = [target for words in each.get("words", ()) for target in targets.get(words, ())]
    yield from (member.EvidenceJoined(name, target) for target in [*found, *each.get("targets", ())])
    yield from _judged(name, each)


def _judged(name: str, each: dict[str, Any]) -> Iterator[SortContent]:
    yield from (member.FindingTagged(name, tag) for tag in each.get("tags", ()))
    if "severity" in each:
        yield judge.SeverityJudged(name, *each["severity"])
    for severity, reason, scope in each.get("narrower", ()):
        yield judge.SeverityJudged(name, severity, reason, **scope)
    yield from (judge.FactorCorrected(name, *factor) for factor in each.get("factors", ()))
    if "comes" in each:
        yield judge.OccurrenceSaid(name, Occurrence(**each["comes"]))
    yield from (judge.CausePut(name, Cause(**cause)) for cause in each.get("causes", ()))
    yield from (judge.TrialPut(name, Trial(**trial)) for trial in each.get("trials", ()))
    yield from (judge.CausePut(name, Cause(**cause)) for cause in each.get("revised", ()))
    yield from (judge.WorkaroundPut(name, Workaround(**way)) for way in each.get("ways", ()))
    yield from (judge.ExcusePut(name, Excuse(**excuse)) for excuse in each.get("excuses", ()))


def _raters(told: dict[str, Any], ids: Mapping[str, str]) -> Iterator[Authored]:
    """Two raters, one after the other; then the settling view, and some findings settled in it."""
    for index, rater in enumerate(told["names"]):
        for title, *rated in told["rated"]:
            severity, reason = rated[2 * index : 2 * index + 2]
            yield rater, judge.SeverityRated(ids[title], rater, severity, reason)
    yield MODERATOR, judge.SettlingOpened()
    for title, severity, reason in told["settled"]:
        yield MODERATOR, judge.SeverityJudged(ids[title], severity, reason, settled=True)
