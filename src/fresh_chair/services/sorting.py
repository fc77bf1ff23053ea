"""Sorting: snags as they were met, findings as they were made of them."""

from dataclasses import dataclass

from fresh_chair.core.clock import clock_text
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.estimate import Proportion
from fresh_chair.core.journal import Worded
from fresh_chair.core.sitting import Remark, Sitting
from fresh_chair.core.sorting import (
    FindingOpened,
    FindingRetitled,
    SeverityJudged,
    SnagJoined,
    SnagParted,
    SortContent,
    SortEntry,
)
from fresh_chair.core.study import Seat
from fresh_chair.services.desk import Desk, new_id
from fresh_chair.services.live import LiveSitting


@dataclass(frozen=True, slots=True)
class Snag:
    """One trouble, seen once.

    Attributes:
        at: Time in the sitting, as on a clock.
        card: The card's id, empty where it was seen between two attempts.
    """

    id: str
    words: str
    sitting: int
    participant: str
    chair: str
    card: str
    at: str
    finding: str | None


@dataclass(frozen=True, slots=True)
class Spread:
    """Who met a finding at one chair, of all who tried a card it was met on there."""

    chair: str
    people: tuple[str, ...]
    tried: tuple[str, ...]
    share: Proportion


@dataclass(frozen=True, slots=True)
class FindingView:
    """One finding with who met it where."""

    id: str
    title: str
    severity: int | None
    reason: str
    snags: tuple[Snag, ...]
    spread: tuple[Spread, ...]


@dataclass(frozen=True, slots=True)
class Piles:
    """The two piles: loose snags, with what looks alike lying together, and findings, the worst first."""

    loose: tuple[Snag, ...]
    findings: tuple[FindingView, ...]


def piles(desk: Desk) -> Piles:
    """Both piles of a study."""
    snags = all_snags(desk)
    cards = {card.id: place for place, card in enumerate(desk.study.cards)}
    loose = sorted(
        (snag for snag in snags if snag.finding is None), key=lambda s: (cards.get(s.card, -1), s.chair, s.sitting)
    )
    by_id = {snag.id: snag for snag in snags}
    findings = [
        FindingView(
            finding.id,
            finding.title,
            finding.severity,
            finding.reason,
            met := tuple(by_id[snag] for snag in finding.snags if snag in by_id),
            _spread(desk, met),
        )
        for finding in desk.ledger.findings.values()
    ]
    findings.sort(key=lambda f: (-(f.severity if f.severity is not None else -1), -len(f.snags), f.title))
    return Piles(tuple(loose), tuple(findings))


def all_snags(desk: Desk) -> list[Snag]:
    """Every snag of every sitting, in the order of sittings and time."""
    return [
        _snag(desk, seat, sitting, remark)
        for seat in desk.study.seats
        if (sitting := desk.sittings.get(seat.number)) is not None
        for remark in sitting.remarks.values()
        if remark.kind == "snag"
    ]


def open_finding(desk: Desk, title: str, snags: list[str]) -> str:
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
    _commit(desk, [FindingOpened(finding, title), *(SnagJoined(finding, snag) for snag in snags)])
    return finding


def join(desk: Desk, finding: str, snags: list[str]) -> None:
    """Put snags into a finding; a snag leaves the one it was in. Raises as `open_finding`."""
    fresh = [snag for snag in snags if desk.ledger.finding_of.get(snag) != finding]
    if not fresh:
        raise Refused("These snags are in that finding already.")
    _commit(desk, [SnagJoined(finding, snag) for snag in fresh])


def part(desk: Desk, snag: str) -> None:
    """Make a snag loose again. Raises as `open_finding`."""
    _commit(desk, [SnagParted(snag)])


def retitle(desk: Desk, finding: str, title: str) -> None:
    """Give a finding a better name. Raises as `open_finding`."""
    title = title.strip()
    if not 1 <= len(title) <= 200:
        raise InputError("A finding's name has 1 to 200 letters.", "The old name stays.")
    _commit(desk, [FindingRetitled(finding, title)])


def judge_severity(desk: Desk, finding: str, severity: int, reason: str) -> None:
    """Say how bad a finding is, 0 to 4, and why.

    Raises:
        InputError: Where the severity is out of range or the reason is missing.
        NotSaved: Where the disk refuses.
    """
    if severity not in range(5):
        raise InputError("A severity is 0 to 4.", "Nothing was changed.")
    if not reason.strip():
        raise InputError("A severity needs a reason.", "Say in a few words why; nothing was changed.")
    _commit(desk, [SeverityJudged(finding, severity, reason.strip()[:2000])])


def word_snag(desk: Desk, snag: Snag, words: str) -> None:
    """Give a snag its words, or better ones, as an entry of the sitting's journal. Raises as `LiveSitting.log`."""
    if not words.strip():
        raise InputError("These words are empty.", "The snag stays as it was.")
    LiveSitting(desk, desk.study.seat(snag.sitting)).log(Worded(snag.id, words.strip()[:2000]), desk.clock.now())


def _commit(desk: Desk, contents: list[SortContent]) -> None:
    desk.require_writable()
    moment = desk.clock.now()
    entries = [
        SortEntry(desk.ledger.entries + step, moment, desk.author, content)
        for step, content in enumerate(contents, start=1)
    ]
    desk.ledgers.append(entries)
    for entry in entries:
        desk.ledger.apply(entry.content)


def _snag(desk: Desk, seat: Seat, sitting: Sitting, remark: Remark) -> Snag:
    card = "" if remark.attempt is None else sitting.attempts[remark.attempt - 1].card
    finding = desk.ledger.finding_of.get(remark.entry)
    return Snag(
        remark.entry, remark.words, seat.number, seat.participant, seat.chair, card, clock_text(remark.at_ns), finding
    )


def _spread(desk: Desk, met: tuple[Snag, ...]) -> tuple[Spread, ...]:
    cards = {snag.card for snag in met}
    tried: dict[str, set[str]] = {chair.letter: set() for chair in desk.study.chairs}
    for fact in desk.facts():
        if fact.card in cards and fact.outcome.counts:
            tried[fact.chair].add(fact.participant)
    spread = []
    for letter, sat in tried.items():
        people = sorted({snag.participant for snag in met if snag.chair == letter})
        sat |= set(people)
        spread.append(Spread(letter, tuple(people), tuple(sorted(sat)), adjusted_wald(len(people), len(sat))))
    return tuple(spread)
