"""All sentences that a study's figures allow."""

from collections import Counter
from collections.abc import Mapping, Sequence

from fresh_chair.core.evidence.kinds import KINDS
from fresh_chair.core.figures.position import PositionEffect
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import RateInterval, TimeMeasure
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.comparisons import brief_conditions, comparison_sentences, unlike_conditions


@frozen
class FigureWords:
    """The sentences of a study's figures, in one language.

    Attributes:
        said: Each card's, by its id.
        positions: How later chairs went faster or slower than the first.
        conditions: What differs between the chairs besides the distribution; `brief` in one line.
    """

    said: Mapping[str, tuple[str, ...]]
    positions: str
    conditions: tuple[str, ...]
    brief: str


def figure_words(weighing: Weighing, words: Words = ENGLISH) -> FigureWords:
    """The sentences of a study's figures."""
    study, known = weighing.study, evidence_sentences(weighing, words)
    reach = reach_sentences(weighing, words)
    return FigureWords(
        {card: tuple(comparison_sentences(study, each, words)) for card, each in weighing.comparisons.items()},
        position_sentence(weighing.positions, words),
        (*known, *reach, *mixed_sentences(weighing, words), *unlike_conditions(study, words)),
        " ".join(filter(None, (*known, *reach, *mixed_sentences(weighing, words), brief_conditions(study, words)))),
    )


def evidence_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[str]:
    """How many outcomes are not the reviewer's own evidence, by their kind, and whether they count; none for none."""
    kinds = Counter(fact.evidence for fact in weighing.borrowed)
    if not kinds:
        return [words.say("Only own evidence counts here; there is no other.")] if weighing.choice.own else []
    listed = ", ".join(f"{kinds[kind]} {words.say(kind)}" for kind in KINDS if kinds[kind])
    if weighing.choice.own:
        return [words.say("Only own evidence counts here; left out: {kinds}.", kinds=listed)]
    return [words.say("Not own evidence, and counted: {kinds}.", kinds=listed)]


def time_words(times: TimeMeasure, words: Words = ENGLISH) -> str:
    """The time that all figures of times are taken from, as a heading says it."""
    return words.say("hands time") if times == "hands" else words.say("elapsed time")


def interval_name(interval: RateInterval, words: Words = ENGLISH) -> str:
    """The interval of completion rates, as a heading says it."""
    return words.say("adjusted Wald") if interval == "adjusted Wald" else words.say("Clopper-Pearson")


def reach_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[str]:
    """Which sittings were broken off, and how many cards were never reached: they explain each n."""
    said = []
    titles = {chair.letter: chair.title for chair in weighing.study.chairs}
    for chair, numbers in sorted(weighing.reach.broken_off.items()):
        listed = ", ".join(map(str, numbers))
        said.append(
            words.say("Broken off at {chair}: sitting {numbers}.", chair=titles.get(chair, chair), numbers=listed)
        )
    missed = sum(weighing.reach.not_reached.values())
    if missed:
        said.append(words.count("{count} card was never reached.", "{count} cards were never reached.", missed))
    return said


def mixed_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[str]:
    """The chairs that changed between the sittings compared here, a sentence each."""
    found = []
    for mixed in weighing.mixed:
        changes = "; ".join(change for each in mixed.changed for change in each)
        parts = " | ".join(", ".join(map(str, numbers)) for numbers in mixed.sittings)
        found.append(
            words.say(
                "{chair} changed between its sittings ({sittings}): {changes}.",
                chair=mixed.chair,
                sittings=parts,
                changes=changes,
            )
        )
    return found


def position_sentence(positions: Sequence[PositionEffect], words: Words = ENGLISH) -> str:
    """Whether later chairs went faster or slower than a person's first."""
    if not positions:
        return words.say("Order: not enough to tell whether later chairs went faster.")
    parts = [
        words.say(
            "the chair in position {position} took {ratio} times as long ({interval})",
            position=effect.position,
            ratio=words.number(effect.ratio.value or 0, ".2f"),
            interval=words.interval(effect.ratio.low, effect.ratio.high or 0.0, ".2f"),
        )
        for effect in positions
    ]
    return words.say("Order: against a person's first chair, all else alike, {effects}.", effects=", ".join(parts))
