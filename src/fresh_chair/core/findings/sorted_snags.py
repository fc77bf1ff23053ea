"""The two piles of Sort: snags as they were met, findings with who met them where."""

from collections.abc import Mapping, Sequence

from fresh_chair.core.clock import clock_text
from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, IN_A_WALK, OWN, Evidence
from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.estimate import Proportion, interval_words
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.findings.ledger import Findings
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import CarriedFinding
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.state.sitting import Remark, Sitting


@frozen
class Snag:
    """One trouble, seen once.

    Attributes:
        at: Time in the sitting, as on a clock.
        card: The card's id, empty where it was seen between two attempts.
        severity: How bad it was as it was typed at once; None where nothing was.
        walked: Whether a reviewer met it alone; such a snag is in no share of newcomers.
        evidence: How it is known.
    """

    id: str
    words: str
    sitting: int
    participant: str
    chair: str
    card: str
    at: str
    finding: str | None
    severity: int | None = None
    walked: bool = False
    evidence: Evidence = BESIDE_A_NEWCOMER

    @property
    def own(self) -> bool:
        """True where it is the reviewer's own evidence."""
        return self.evidence in OWN

    @property
    def known(self) -> str:
        """How it is known, in brackets, where that is not the usual of its sitting; empty where it is."""
        usual = IN_A_WALK if self.walked else BESIDE_A_NEWCOMER
        return "" if self.evidence == usual else f" ({self.evidence})"


@frozen
class Spread:
    """Who met a finding at one chair, of all who tried a card it was met on there.

    Attributes:
        people, tried: Counted people only.
        others: Pilots, experts and reviewers who met it; in no share.
    """

    chair: str
    people: tuple[str, ...]
    tried: tuple[str, ...]
    share: Proportion
    others: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """Its prevalence in words: never a share of zero people."""
        if self.tried:
            said = f"met by {self.share.x} of {self.share.n}"
            if self.share.low is not None and self.share.high is not None:
                said += f" ({interval_words(self.share.low, self.share.high, of=100)} %)"
            return said + (f"; also by {', '.join(self.others)}, never counted" if self.others else "")
        return f"met only by {', '.join(self.others)}, never counted" if self.others else "nobody tried"


@frozen
class FindingView:
    """One finding with who met it where."""

    id: str
    title: str
    severity: int | None
    reason: str
    snags: tuple[Snag, ...]
    spread: tuple[Spread, ...]

    @property
    def typed(self) -> tuple[int, ...]:
        """The severities of its snags as they were typed at once, the worst first."""
        return tuple(sorted((snag.severity for snag in self.snags if snag.severity is not None), reverse=True))


@frozen
class SortedSnags:
    """Loose snags, similar ones together, and findings, the worst first.

    Attributes:
        carried: Findings of earlier studies that came with a chair.
    """

    loose: tuple[Snag, ...]
    findings: tuple[FindingView, ...]
    carried: tuple[CarriedFinding, ...] = ()


def sorted_snags(
    study: Study, sittings: Mapping[int, Sitting], findings: Findings, facts: Sequence[AttemptFact]
) -> SortedSnags:
    """Both piles of a study."""
    snags = all_snags(study, sittings, findings)
    cards = {card.id: index for index, card in enumerate(study.cards)}
    loose = sorted(
        (snag for snag in snags if snag.finding is None), key=lambda s: (cards.get(s.card, -1), s.chair, s.sitting)
    )
    by_id = {snag.id: snag for snag in snags}
    views = [
        FindingView(
            finding.id,
            finding.title,
            finding.severity,
            finding.reason,
            met := tuple(by_id[snag] for snag in finding.snags if snag in by_id),
            _spread(study, facts, met),
        )
        for finding in findings.by_id.values()
    ]
    views.sort(key=lambda f: (-(f.severity if f.severity is not None else -1), -len(f.snags), f.title))
    return SortedSnags(tuple(loose), tuple(views), study.carried)


def all_snags(study: Study, sittings: Mapping[int, Sitting], findings: Findings) -> list[Snag]:
    """Every snag of every sitting, in the order of sittings and time."""
    return [
        _snag(findings, seat, sitting, remark)
        for seat in study.seats
        if (sitting := sittings.get(seat.number)) is not None
        for remark in sitting.remarks.values()
        if remark.kind == "snag"
    ]


def _snag(findings: Findings, seat: Seat, sitting: Sitting, remark: Remark) -> Snag:
    card = "" if remark.attempt is None else sitting.attempts[remark.attempt - 1].card
    if remark.step is not None and sitting.walk is not None:
        card = sitting.walk.steps[remark.step - 1].card
    finding = findings.finding_of.get(remark.entry)
    return Snag(
        remark.entry,
        remark.words,
        seat.number,
        seat.participant,
        seat.chair,
        card,
        clock_text(remark.at_ns),
        finding,
        remark.severity,
        sitting.walk is not None,
        remark.evidence,
    )


def _spread(study: Study, facts: Sequence[AttemptFact], met: tuple[Snag, ...]) -> tuple[Spread, ...]:
    cards = {snag.card for snag in met}
    tried: dict[str, set[str]] = {chair.letter: set() for chair in study.chairs}
    for fact in facts:
        if fact.card in cards and fact.outcome.counts:
            tried[fact.chair].add(fact.participant)
    spread = []
    for letter, sat in tried.items():
        here = {snag.participant for snag in met if snag.chair == letter}
        beside = {snag.participant for snag in met if snag.chair == letter and not snag.walked}
        people = sorted(code for code in beside if study.counted(code))
        sat |= set(people)
        share = adjusted_wald(len(people), len(sat))
        spread.append(Spread(letter, tuple(people), tuple(sorted(sat)), share, tuple(sorted(here - set(people)))))
    return tuple(spread)
