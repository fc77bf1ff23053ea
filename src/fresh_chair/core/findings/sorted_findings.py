"""The two lists of Sort: observations as they were met, findings with who met them where."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from fresh_chair.core.figures.completion import adjusted_wald
from fresh_chair.core.figures.estimate import Proportion, interval_words
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.findings.observations import TO_SORT, Observation
from fresh_chair.core.findings.severity import Suggestion, suggested
from fresh_chair.core.findings.state.finding import Finding, Findings
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import CarriedFinding
from fresh_chair.core.plan.study import Study


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
    """One finding with its observations, who met it where, and the severity that the marks suggest."""

    finding: Finding
    observations: tuple[Observation, ...]
    spread: tuple[Spread, ...]
    suggestion: Suggestion

    @property
    def id(self) -> str:
        """Its id."""
        return self.finding.id

    @property
    def title(self) -> str:
        """Its title."""
        return self.finding.title

    @property
    def severity(self) -> int | None:
        """The severity as met that holds everywhere."""
        return self.finding.severity

    @property
    def reason(self) -> str:
        """The reason of that severity."""
        return self.finding.reason

    @property
    def people(self) -> tuple[str, ...]:
        """The counted newcomers who met it, at any chair."""
        return tuple(sorted({code for spread in self.spread for code in spread.people}))

    @property
    def cards(self) -> tuple[str, ...]:
        """The cards it was met on, in the order of its observations."""
        return tuple(dict.fromkeys(each.card for each in self.observations if each.card))

    @property
    def typed(self) -> tuple[int, ...]:
        """The severities of its observations as they were typed at once, the worst first."""
        return tuple(sorted((o.severity for o in self.observations if o.severity is not None), reverse=True))


@frozen
class SortedFindings:
    """Observations, and findings, the worst first.

    Attributes:
        observations: All of them, those of one card together.
        carried: Findings of earlier studies that came with a chair.
    """

    observations: tuple[Observation, ...]
    findings: tuple[FindingView, ...]
    carried: tuple[CarriedFinding, ...] = ()

    @property
    def loose(self) -> tuple[Observation, ...]:
        """Snags that feed no finding yet."""
        return tuple(each for each in self.observations if each.kind == TO_SORT and not each.findings)

    @property
    def by_id(self) -> dict[str, FindingView]:
        """The findings by id."""
        return {view.id: view for view in self.findings}

    def findings_of(self, observation: Observation) -> list[FindingView]:
        """The findings an observation feeds."""
        by_id = self.by_id
        return [by_id[name] for name in observation.findings if name in by_id]


def sorted_findings(
    study: Study, observations: Sequence[Observation], findings: Findings, facts: Sequence[AttemptFact]
) -> SortedFindings:
    """Both lists of a study.

    Args:
        study: The plan.
        observations: Everything a finding can stand on.
        findings: The state of the sorting ledger.
        facts: Attempts of counted newcomers.
    """
    held = findings.findings_of
    fed = [replace(o, findings=tuple(held[o.target])) if o.target in held else o for o in observations]
    ordered = in_order(study, fed)
    by_target = {each.target: each for each in ordered}
    by_attempt = {(fact.sitting, fact.attempt): fact for fact in facts}
    tried: dict[tuple[str, str], set[str]] = {}
    for fact in facts:
        if fact.outcome.counts:
            tried.setdefault((fact.card, fact.chair), set()).add(fact.participant)
    views = [
        _view(study, each, [by_target[t] for t in each.evidence if t in by_target], tried, by_attempt)
        for each in findings.by_id.values()
    ]
    views.sort(key=lambda view: (-(-1 if view.severity is None else view.severity), -len(view.people), view.title))
    return SortedFindings(tuple(ordered), tuple(views), study.carried)


def in_order(study: Study, observations: Iterable[Observation]) -> list[Observation]:
    """Observations of one card together, in the order of the script; those of none first."""
    cards = {card.id: index for index, card in enumerate(study.cards)}
    return sorted(observations, key=lambda o: (cards.get(o.card, -1), o.chair, o.sitting, o.at_ns))


def _view(
    study: Study,
    finding: Finding,
    met: list[Observation],
    tried: Mapping[tuple[str, str], set[str]],
    by_attempt: Mapping[tuple[int, int], AttemptFact],
) -> FindingView:
    spread = tuple(_spread(study, letter, met, tried) for letter in study.chair_by_letter)
    hit = {
        (each.sitting, each.attempt): by_attempt[each.sitting, each.attempt]
        for each in met
        if each.attempt is not None and (each.sitting, each.attempt) in by_attempt and not each.walked
    }
    people = {code for each in spread for code in each.people}
    tried_it = {code for each in spread if each.people for code in each.tried}
    way = any(fact.route == "only with a workaround" and not fact.helped for fact in hit.values())
    suggestion = suggested(
        hit.values(),
        met=len(people),
        tried=len(tried_it),
        comes_back=_comes_back(finding, met, people),
        got_round=way or finding.newcomers_find_a_way,
        corrected=finding.factors,
    )
    return FindingView(finding, tuple(met), spread, suggestion)


def _comes_back(finding: Finding, met: Sequence[Observation], people: set[str]) -> str:
    """Whether it comes back: as it was said, else whether anybody met it in two attempts."""
    how = finding.occurrence.how
    if how in ("every time", "sometimes"):
        return how
    if how != "not said":
        return "no"
    attempts = [(each.participant, each.sitting, each.attempt) for each in met if each.participant in people]
    again = len({code for code, _, _ in attempts}) < len(set(attempts))
    return "sometimes" if again else "no"


def _spread(study: Study, letter: str, met: Sequence[Observation], tried: Mapping[tuple[str, str], set[str]]) -> Spread:
    sat: set[str] = set().union(*(tried.get((card, letter), set()) for card in {each.card for each in met}))
    here = {each.participant for each in met if each.chair == letter and each.participant}
    beside = {each.participant for each in met if each.chair == letter and each.participant and not each.walked}
    people = sorted(code for code in beside if study.counted(code))
    sat |= set(people)
    share = adjusted_wald(len(people), len(sat))
    return Spread(letter, tuple(people), tuple(sorted(sat)), share, tuple(sorted(here - set(people))))
