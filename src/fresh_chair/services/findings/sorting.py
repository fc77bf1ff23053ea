"""Sorting the open study: observations and findings; every change is an entry of the ledger."""

from collections.abc import Sequence

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.findings.entries.membership import (
    EarlierNamed,
    EvidenceJoined,
    EvidenceParted,
    FindingMerged,
    FindingOpened,
    FindingPlaced,
    FindingRetitled,
    FindingSorted,
    FindingTagged,
)
from fresh_chair.core.findings.ledger import SortContent, SortEntry, sort_id
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.state.finding import Finding
from fresh_chair.core.findings.state.parts import FINDING_SORTS, FindingSort
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import EntryStruck
from fresh_chair.core.safe import safe
from fresh_chair.core.sitting.journal import Worded
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.observations import observations_of
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, new_id
from fresh_chair.services.study.snapshot import StudyReading

_KEPT = "Nothing was changed."


@frozen
class SortingTakenBack:
    """A change that was struck: its words, and the observations and the finding it was about."""

    words: str
    targets: tuple[str, ...]
    finding: str


def find_finding(opened: StudyReading, name: str) -> Finding:
    """A finding by its number (F3, 3) or its id; a number that was merged leads on. Raises InputError."""
    typed = name.strip()
    digits = typed[1:] if typed[:1] in ("F", "f") else typed
    found = opened.findings.by_number(int(digits)) if digits.isdecimal() and len(digits) < 7 else None
    if found is None:
        try:
            found = opened.findings.finding(typed)
        except Refused:
            shown = legible(clipped(typed, 40))
            known = ", ".join(f"F{each.number}" for each in list(opened.findings.by_id.values())[:12])
            raise InputError(f"There is no finding {shown}.", f"These are: {known or 'none yet'}.") from None
    return found


def open_finding(
    opened: OpenStudy, title: str, targets: Sequence[str], *, sort: FindingSort = "problem", parted_from: str = ""
) -> str:
    """Make a finding of some observations; returns its id.

    Args:
        opened: The open study.
        title: Its name.
        targets: The observations.
        sort: The sort it is of.
        parted_from: The finding they leave for it, where one is split.

    Raises:
        InputError: Where the title is empty or too long, or there are no observations.
        NotSaved: Where the disk refuses; nothing is joined then.
    """
    title = _titled(title, "Say what these have in common.")
    if not targets:
        raise InputError("Nothing is chosen.", "Choose at least one observation first.")
    finding = new_id()
    contents: list[SortContent] = [FindingOpened(finding, title)]
    if sort != "problem":
        contents.append(FindingSorted(finding, sort))
    if parted_from:
        contents += [EvidenceParted(parted_from, target) for target in targets]
    commit_sorting(opened, [*contents, *(EvidenceJoined(finding, target) for target in targets)])
    return finding


def open_carried(opened: OpenStudy, carried_id: str) -> str:
    """Take a finding of an earlier study up as one of this study, so that it can be judged and looked for; its id."""
    carried = next((each for each in opened.study.carried if each.id == carried_id), None)
    if carried is None:
        raise InputError("No such finding was carried over.", _KEPT)
    known = next((each for each in opened.findings.by_id.values() if each.earlier == carried_id), None)
    if known is not None:
        return known.id
    finding = new_id()
    commit_sorting(opened, [FindingOpened(finding, carried.title), EarlierNamed(finding, carried_id[:80])])
    return finding


def join(opened: OpenStudy, finding: str, targets: Sequence[str]) -> None:
    """Let observations be evidence of a finding, besides others they feed. Raises as `open_finding`."""
    inside = find_finding(opened, finding).evidence
    fresh = [target for target in dict.fromkeys(targets) if target not in inside]
    if not fresh:
        raise Refused("These are in that finding already.")
    commit_sorting(opened, [EvidenceJoined(finding, target) for target in fresh])


def part(opened: OpenStudy, finding: str, targets: Sequence[str]) -> None:
    """Take observations out of a finding. Raises as `open_finding`."""
    commit_sorting(opened, [EvidenceParted(finding, target) for target in dict.fromkeys(targets)])


def merge(opened: OpenStudy, finding: str, into: str) -> None:
    """Let a finding be another one; its number leads there. Raises Refused, NotSaved."""
    commit_sorting(opened, [FindingMerged(find_finding(opened, finding).id, find_finding(opened, into).id)])


def split(opened: OpenStudy, finding: str, targets: Sequence[str], title: str) -> str:
    """Make a finding of some of another one's observations; returns its id. Raises as `open_finding`."""
    whole = find_finding(opened, finding)
    chosen = [target for target in targets if target in whole.evidence]
    if len(chosen) == len(whole.evidence):
        raise InputError("That is all of it.", "Take up some of its observations; the others stay.")
    return open_finding(opened, title, chosen, sort=whole.sort, parted_from=whole.id)


def retitle(opened: OpenStudy, finding: str, title: str) -> None:
    """Give a finding a better name. Raises as `open_finding`."""
    commit_sorting(opened, [FindingRetitled(finding, _titled(title, "The old name stays."))])


def sort_finding(opened: OpenStudy, finding: str, sort: str) -> None:
    """Say which sort a finding is of. Raises InputError, NotSaved."""
    commit_sorting(opened, [FindingSorted(finding, require_sort(sort))])


def require_sort(sort: str) -> FindingSort:
    """A sort of finding. Raises InputError for all else."""
    if sort not in FINDING_SORTS:
        raise InputError(f"A finding is one of: {', '.join(FINDING_SORTS)}.", _KEPT)
    return sort


def require_observed(opened: StudyReading, chosen: Sequence[str]) -> None:
    """Do nothing where all of these can be evidence of a finding. Raises InputError naming the first that cannot."""
    known = {each.target for each in observations_of(opened)}
    for target in chosen:
        if target not in known:
            raise InputError(
                f"There is no observation {legible(clipped(target, 60))}.", "`finding loose` lists those there are."
            )


def tag(opened: OpenStudy, finding: str, words: str, *, on: bool = True) -> None:
    """Put a tag on a finding, or take it off. Raises InputError, Refused, NotSaved."""
    words = " ".join(words.split())
    if not 1 <= len(words) <= 60:
        raise InputError("A tag has 1 to 60 letters.", _KEPT)
    commit_sorting(opened, [FindingTagged(finding, words, on)])


def place_under(opened: OpenStudy, finding: str, head: str) -> None:
    """Put a finding under a head with its siblings, or under none. Raises InputError, Refused, NotSaved."""
    above = find_finding(opened, head).id if head else ""
    commit_sorting(opened, [FindingPlaced(finding, above)])


def name_earlier(opened: OpenStudy, finding: str, carried_id: str) -> None:
    """Say which finding of an earlier study this one is; empty for none. Raises InputError, NotSaved."""
    if carried_id and carried_id not in {each.id for each in opened.study.carried}:
        raise InputError("No such finding was carried over.", _KEPT)
    commit_sorting(opened, [EarlierNamed(finding, carried_id[:80])])


def word_mark(opened: OpenStudy, observation: Observation, words: str) -> None:
    """Give a mark its words, or better ones, as an entry of the sitting's journal. Raises as `LiveSitting.log`."""
    if not words.strip():
        raise InputError("These words are empty.", "The mark stays as it was.")
    if not observation.sitting:
        raise InputError("A record of a chair is changed on its sheet in Set.", _KEPT)
    live = LiveSitting(opened, opened.study.seat(observation.sitting))
    live.log(Worded(observation.entry, words.strip()[:2000]), opened.clock.now())


def take_back(opened: OpenStudy) -> SortingTakenBack:
    """Strike one's own last change, with all entries it consisted of; any number of times.

    Raises:
        Refused: Where there is none, or others' changes stand on it.
        NotSaved: Where the disk refuses.
    """
    entries = opened.sorting.entries
    struck = {entry.content.entry for entry in entries if isinstance(entry.content, EntryStruck)}
    own = [
        entry
        for entry in entries
        if entry.author == opened.author and entry.id not in struck and not isinstance(entry.content, EntryStruck)
    ]
    if not own:
        raise Refused("There is nothing of yours to take back here.")
    # The entries of one change have one moment; the last is struck first, since it may stand on the others.
    change = [entry for entry in own if entry.moment == own[-1].moment]
    commit_sorting(opened, [EntryStruck(entry.id, "taken back at once") for entry in reversed(change)])
    targets = tuple(target for e in change if (target := getattr(e.content, "target", "")))
    return SortingTakenBack(
        str(change[0].content.kind).replace("_", " "), targets, getattr(change[0].content, "finding", "")
    )


def strike(opened: OpenStudy, number: int, reason: str) -> None:
    """Strike an entry of the ledger, with why; it stays on record.

    Raises:
        InputError: Where the reason is missing.
        Refused: Where there is no such entry, or others would make no sense without it.
        NotSaved: Where the disk refuses.
    """
    if not reason.strip():
        raise InputError("Striking an entry needs a reason.", _KEPT)
    commit_sorting(opened, [EntryStruck(sort_id(number), reason.strip()[:2000])])


def commit_sorting(opened: OpenStudy, contents: Sequence[SortContent]) -> None:
    """Append entries of one moment to the ledger: all of them, or none. Raises Refused, NotSaved."""
    opened.require_adding()
    moment = opened.clock.now()
    opened.sorting.append(
        lambda first: [
            SortEntry(sort_id(first + step), first + step, moment, opened.author, safe(content))
            for step, content in enumerate(contents)
        ]
    )


def _titled(title: str, hint: str) -> str:
    title = title.strip()
    if not 1 <= len(title) <= 200:
        raise InputError("A finding's name has 1 to 200 letters.", hint)
    return title
