"""Evidence records that the reviewer should look at: their ends are gone, or two of them contradict each other."""

from collections.abc import Callable, Iterator

from fresh_chair.core.evidence.ledger import EvidenceState
from fresh_chair.core.evidence.records import Against, InventoryItem, ReleaseChange
from fresh_chair.services.evidence.targets import dangling, target_words, targets
from fresh_chair.services.study.snapshot import StudyReading

# Words that cannot both be said of one thing against the same other one.
_OPPOSITES = (("better", "worse"), ("new here", "gone"), ("gone", "back again"), ("gone", "as it was"))


def evidence_doubts(opened: StudyReading) -> list[str]:
    """A sentence for each record that speaks of a thing that is gone, and for each two that contradict each other."""
    state = opened.evidence.state
    known: dict[str, str] = {}

    def named(target: str) -> str:
        """A thing in words, with the name it goes by on the command line."""
        if not known:
            known.update(targets(opened))
        return f"{target_words(opened, target, known)} ({target})"

    return [*dangling(opened), *_both_ways(state, named), *_opposites(state, named), *_absent_and_added(state)]


def _both_ways(state: EvidenceState, named: Callable[[str], str]) -> Iterator[str]:
    """Links that say of the same two things that one speaks for the other, and against it."""
    told: dict[frozenset[str], set[str]] = {}
    for link in state.links():
        told.setdefault(frozenset((link.first, link.second)), set()).add(link.relation)
    for ends, relations in told.items():
        if {"speaks for", "speaks against"} <= relations:
            yield f"{' and '.join(map(named, sorted(ends)))}: tied as speaking for and as speaking against each other"


def _opposites(state: EvidenceState, named: Callable[[str], str]) -> Iterator[str]:
    told: dict[tuple[str, str], set[str]] = {}
    for held in state.held("against"):
        if isinstance(held.record, Against):
            told.setdefault((held.record.of, held.record.than), set()).add(held.record.says)
    for (of, than), says in told.items():
        for one, other in _OPPOSITES:
            if {one, other} <= says:
                yield f"{named(of)}: said to be {one} and {other} against {named(than)}"


def _absent_and_added(state: EvidenceState) -> Iterator[str]:
    """Things that were found added by a release, and that the inventory of the same chair looked for in vain."""
    absent: dict[tuple[str, str], str] = {}
    for held in state.held("inventory"):
        item = held.record
        if isinstance(item, InventoryItem) and item.presence == "nowhere":
            absent[item.chair, item.purpose.casefold()] = item.id
    for held in state.held("change"):
        change = held.record
        if not isinstance(change, ReleaseChange) or change.sort != "added" or change.known != "found" or change.comes:
            continue
        name = absent.get((change.chair, change.what.casefold()))
        if name is not None:
            yield f"change {change.id} found {change.what} added at {change.chair}; inventory {name} found it nowhere"
