"""Sorting the open study: every change is an entry of the ledger."""

from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.findings.ledger import (
    FindingOpened,
    FindingRetitled,
    SeverityJudged,
    SnagJoined,
    SnagParted,
    SortContent,
    SortEntry,
    sort_id,
)
from fresh_chair.core.findings.sorted_snags import Snag, SortedSnags, sorted_snags
from fresh_chair.core.ledger import EntryStruck
from fresh_chair.core.safe import safe
from fresh_chair.core.sitting.journal import Worded
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, new_id
from fresh_chair.services.study.snapshot import StudyReading


def sorted_snags_of(opened: StudyReading) -> SortedSnags:
    """Both piles of the open study."""
    return sorted_snags(opened.study, opened.sittings, opened.findings, opened.facts())


def open_finding(opened: OpenStudy, title: str, snags: list[str]) -> str:
    """Make a finding of some snags; returns its id.

    Raises:
        InputError: Where the title is empty or too long, or there are no snags.
        NotSaved: Where the disk refuses; nothing is joined then.
    """
    title = title.strip()
    if not 1 <= len(title) <= 200:
        raise InputError("A finding's name has 1 to 200 letters.", "Say what these snags have in common.")
    if not snags:
        raise InputError("No snag is chosen.", "Choose at least one first.")
    finding = new_id()
    _commit(opened, [FindingOpened(finding, title), *(SnagJoined(finding, snag) for snag in snags)])
    return finding


def join(opened: OpenStudy, finding: str, snags: list[str]) -> None:
    """Put snags into a finding; a snag leaves the one it was in. Raises as `open_finding`."""
    fresh = [snag for snag in snags if opened.findings.finding_of.get(snag) != finding]
    if not fresh:
        raise Refused("These snags are in that finding already.")
    _commit(opened, [SnagJoined(finding, snag) for snag in fresh])


def part(opened: OpenStudy, snag: str) -> None:
    """Make a snag loose again. Raises as `open_finding`."""
    _commit(opened, [SnagParted(snag)])


def retitle(opened: OpenStudy, finding: str, title: str) -> None:
    """Give a finding a better name. Raises as `open_finding`."""
    title = title.strip()
    if not 1 <= len(title) <= 200:
        raise InputError("A finding's name has 1 to 200 letters.", "The old name stays.")
    _commit(opened, [FindingRetitled(finding, title)])


def judge_severity(opened: OpenStudy, finding: str, severity: int, reason: str) -> None:
    """Say how bad a finding is, 0 to 4, and why.

    Raises:
        InputError: Where the severity is out of range or the reason is missing.
        NotSaved: Where the disk refuses.
    """
    if severity not in range(5):
        raise InputError("A severity is 0 to 4.", "Nothing was changed.")
    if not reason.strip():
        raise InputError("A severity needs a reason.", "Say in a few words why; nothing was changed.")
    _commit(opened, [SeverityJudged(finding, severity, reason.strip()[:2000])])


def word_snag(opened: OpenStudy, snag: Snag, words: str) -> None:
    """Give a snag its words, or better ones, as an entry of the sitting's journal. Raises as `LiveSitting.log`."""
    if not words.strip():
        raise InputError("These words are empty.", "The snag stays as it was.")
    LiveSitting(opened, opened.study.seat(snag.sitting)).log(Worded(snag.id, words.strip()[:2000]), opened.clock.now())


def take_back(opened: OpenStudy) -> str:
    """Strike one's own last change, with all entries it consisted of; returns its kind in words.

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
    _commit(opened, [EntryStruck(entry.id, "taken back at once") for entry in reversed(change)])
    return str(change[0].content.kind).replace("_", " ")


def strike(opened: OpenStudy, number: int, reason: str) -> None:
    """Strike an entry of the ledger, with why; it stays on record.

    Raises:
        InputError: Where the reason is missing.
        Refused: Where there is no such entry, or others would make no sense without it.
        NotSaved: Where the disk refuses.
    """
    if not reason.strip():
        raise InputError("Striking an entry needs a reason.", "Nothing was changed.")
    _commit(opened, [EntryStruck(sort_id(number), reason.strip()[:2000])])


def _commit(opened: OpenStudy, contents: list[SortContent]) -> None:
    opened.require_adding()
    moment = opened.clock.now()
    opened.sorting.append(
        lambda first: [
            SortEntry(sort_id(first + step), first + step, moment, opened.author, safe(content))
            for step, content in enumerate(contents)
        ]
    )
