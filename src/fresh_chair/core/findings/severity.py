"""The severity that the marks suggest, each factor visible and correctable."""

from collections.abc import Iterable, Mapping

from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.findings.state.finding import CorrectedFactor
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.outcome import Outcome

IMPACT_WORDS = {
    1: "noticed",
    2: "cost time or a wrong place",
    3: "needed help, or stayed partly done",
    4: "gave up, blocked, said done and was not, or lost something",
}
_STOPPED = (Outcome.GAVE_UP, Outcome.OUT_OF_TIME, Outcome.BLOCKED)
# From so many on, one person alone who met it says that it is rare.
RARE_FROM = 5


@frozen
class FactorLine:
    """One factor of the suggestion: its value, the ground for it, and the reason where the reviewer corrected it."""

    name: str
    value: str
    ground: str
    corrected: str = ""


@frozen
class Suggestion:
    """A severity with the steps that lead to it; None where no newcomer met the finding."""

    severity: int | None
    factors: tuple[FactorLine, ...]
    steps: tuple[str, ...]


def impact_of(fact: AttemptFact) -> int:
    """How hard one attempt was hit, 1 to 4: the impact of the table in the method's page."""
    if fact.outcome in _STOPPED or fact.said_done_was_not:
        return 4
    if fact.helped or fact.outcome in (Outcome.HELPED, Outcome.PARTLY):
        return 3
    stumbled = fact.wrong_places or fact.hesitations or fact.misled or fact.no_reactions or fact.tries > 1
    return 2 if stumbled else 1


def suggested(
    facts: Iterable[AttemptFact],
    *,
    met: int,
    tried: int,
    comes_back: str,
    got_round: bool,
    corrected: Mapping[str, CorrectedFactor],
) -> Suggestion:
    """The severity by the table: impact, less one where rare or got round, plus one where common.

    Args:
        facts: The newcomers' attempts in which it was met.
        met: How many newcomers met it.
        tried: How many of them tried what it was met on, where it was met.
        comes_back: Whether it comes back: every time, sometimes, no.
        got_round: Whether a newcomer found a way round it alone.
        corrected: Factors that the reviewer knows better.

    Source:
        Severity 0 to 4: Nielsen (1994); the table is the study's own, written down in the method's page.
    """
    hit = max((impact_of(fact) for fact in facts), default=None)
    factors = [
        FactorLine("impact", "" if hit is None else str(hit), "" if hit else "no newcomer's attempt"),
        FactorLine("met by most", _yes(met * 2 > tried), f"{met} of {tried} who tried it there"),
        FactorLine("met by one alone", _yes(met == 1 and tried >= RARE_FROM), ""),
        FactorLine("comes back", comes_back, ""),
        FactorLine("got round", _yes(got_round), ""),
    ]
    lines = tuple(_corrected(line, corrected.get(line.name)) for line in factors)
    value = {line.name: line.value for line in lines}
    if not value["impact"]:
        return Suggestion(None, lines, ("no newcomer met it: nothing is suggested",))
    return _by_table(int(value["impact"]), value, lines)


def _by_table(impact: int, value: Mapping[str, str], lines: tuple[FactorLine, ...]) -> Suggestion:
    severity = impact
    steps = [f"impact {impact}: {IMPACT_WORDS[impact]}"]
    rare = value["met by one alone"] == "yes" and value["comes back"] == "no"
    if (value["got round"] == "yes" or rare) and severity > 1:
        severity -= 1
        steps.append(f"less 1: {'got round alone' if value['got round'] == 'yes' else 'one alone, and never again'}")
    if value["met by most"] == "yes" and value["comes back"] == "every time" and severity < 4:
        severity += 1
        steps.append("plus 1: most met it, and it comes back every time")
    return Suggestion(severity, lines, tuple(steps))


def _corrected(line: FactorLine, by: CorrectedFactor | None) -> FactorLine:
    return line if by is None else FactorLine(line.name, by.value, line.ground, by.reason)


def _yes(so: bool) -> str:
    return "yes" if so else "no"
