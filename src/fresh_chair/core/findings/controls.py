"""Controls for a cause from the study's own data: the same card on other chairs, machines, bases, by other people."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import count_of

# A base that a chair says it has for itself is shared with no other.
_NO_BASE = ("", "its own", "own", "none", "-")
About = Literal["machine", "base", "chair", "person"]


@frozen
class Control:
    """A comparison that the study holds already, and its result.

    Attributes:
        points: Whether it points at this as the cause: met wherever it is, and nowhere else.
    """

    about: About
    words: str
    points: bool = False


def controls_of(study: Study, view: FindingView, facts: Sequence[AttemptFact]) -> list[Control]:
    """The controls of one finding, those that point somewhere first.

    A chair is looked at where somebody tried a card that the finding was met on, or met it there.

    Args:
        study: The plan.
        view: The finding.
        facts: Attempts of counted newcomers.
    """
    cards = set(view.cards)
    met = {each.chair for each in view.observations}
    looked = met | {fact.chair for fact in facts if fact.card in cards and fact.outcome.counts}
    if not met:
        return []
    if len(looked) > 1 and met == looked:
        said = f"met on all {len(looked)} chairs where it was looked for: neither machine nor base tells them apart"
        return [Control("chair", said), *_people(view)]
    found = [
        *_groups("machine", "this machine", _by_machine(study), met, looked),
        *_groups("base", "this base", _by_base(study), met, looked),
        *_other_chairs(study, view, met, looked),
        *_people(view),
    ]
    return sorted(found, key=lambda control: not control.points)


def _by_machine(study: Study) -> dict[str, list[str]]:
    names = {machine.id: machine.name for machine in study.machines}
    groups: dict[str, list[str]] = {}
    for chair in study.chairs:
        groups.setdefault(names.get(chair.machine, chair.machine), []).append(chair.letter)
    return groups


def _by_base(study: Study) -> dict[str, list[str]]:
    groups: dict[str, list[str]] = {}
    for chair in study.chairs:
        if chair.base.casefold().strip() not in _NO_BASE:
            groups.setdefault(chair.base, []).append(chair.letter)
    return groups


def _groups(
    about: About, this: str, groups: Mapping[str, list[str]], met: set[str], looked: set[str]
) -> Iterable[Control]:
    """For each machine or base: on how many of its chairs it was met, and on how many of the others."""
    for name, letters in groups.items():
        mine = [letter for letter in letters if letter in looked]
        others = [letter for letter in sorted(looked) if letter not in letters]
        hit, elsewhere = len(met & set(mine)), len(met & set(others))
        if not mine or not hit:
            continue
        many = {1: "the one chair", 2: "both chairs"}.get(len(mine), f"all {len(mine)} chairs")
        here = many if hit == len(mine) else f"{hit} of {count_of(len(mine), 'chair')}"
        verb = "stand" if len(mine) > 1 else "stands"
        there = f"on {elsewhere or 'none'} of the others" if others else "no other was looked at"
        sign = hit == len(mine) and bool(others) and not elsewhere
        # One chair alone tells its machine from nothing else of it.
        if len(mine) == 1 and not sign:
            continue
        yield Control(about, f"{name}: met on {here} that {verb} on {this}, {there}", sign)


def _other_chairs(study: Study, view: FindingView, met: set[str], looked: set[str]) -> Iterable[Control]:
    """The chairs at which the same cards were tried without it."""
    spread = {each.chair: each for each in view.spread}
    for letter in sorted(looked - met):
        tried = len(spread[letter].tried) if letter in spread else 0
        title = study.chair_by_letter[letter].title
        yield Control("chair", f"the same card at {letter} {title}: tried by {tried}, met by none")


def _people(view: FindingView) -> Iterable[Control]:
    """Whether it hangs on the person: where it was met, by how many of those who tried."""
    for each in view.spread:
        if each.people:
            of_all = len(each.people) == len(each.tried)
            all_of = "all of them" if of_all else f"{len(each.people)} of them"
            yield Control(
                "person", f"at {each.chair} {count_of(len(each.tried), 'newcomer')} tried it, {all_of} met it"
            )
