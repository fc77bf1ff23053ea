"""Sentences about chairs compared over all tasks: the verdict first, then its people and its figures."""

from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime
from math import exp

from fresh_chair.core.figures.estimate import TOO_WIDE, too_wide
from fresh_chair.core.figures.overall.estimates import (
    MEASURES,
    MeasureOverall,
    OverallMeasure,
    OverallVerdict,
    PairEstimate,
    SignFlip,
    VerdictKind,
)
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.sheet import TimeMeasure
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.completion import (
    completed_seen,
    completion_sentences,
    opposite_words,
    parts_sentence,
)
from fresh_chair.core.words.figures import time_words
from fresh_chair.core.words.reasons import reason_words

# A winner among fewer people than this is told with a warning.
FEW = 8
# What the people themselves show, by measure.
SEEN: Mapping[OverallMeasure, str] = {
    "who fared better": "Of {people} at both, {x} fared better at {first}, {y} at {second}, {even} alike.",
    "completed unaided": "Of {people} at both, {x} completed more alone at {first}, {y} at {second}, {even} alike.",
    "completed": "Of {people} at both, {x} completed more at {first}, {y} at {second}, {even} alike.",
    "time": "Of {people} at both, {x} were faster at {first}, {y} at {second}, {even} alike.",
    "ease": "Of {people} at both, {x} found it easier at {first}, {y} at {second}, {even} alike.",
    "satisfaction": "Of {people} at both, {x} scored {first} higher, {y} {second}, {even} alike.",
}


@frozen
class OverallSentence:
    """One pair on one measure in words.

    Attributes:
        heading: The measure's name.
        role: Whether the measure was decided beforehand, later, or is secondary.
        verdict: In a few words, with the chairs' titles.
        seen: How the people themselves fared, and what stands beside the verdict.
        figures: Every number it stands on, in one line.
    """

    measure: OverallMeasure
    heading: str
    role: str
    first: str
    second: str
    kind: VerdictKind
    verdict: str
    seen: str
    figures: str

    @property
    def whole(self) -> str:
        """All of it but the figures."""
        return f"{self.verdict} {self.seen}".rstrip()


@frozen
class OverallWords:
    """All sentences on whole chairs.

    Attributes:
        notes: About all of them: whether it was decided beforehand, and what times had to leave out.
        sentences: The primary measure's first, then each other measure's, a pair at a time.
    """

    notes: tuple[str, ...]
    sentences: tuple[OverallSentence, ...]


def overall_words(weighing: Weighing, words: Words = ENGLISH) -> OverallWords:
    """The sentences that the comparison over all tasks allows."""
    primary = weighing.study.sheet.comparing.primary
    titles = {chair.letter: chair.title for chair in weighing.study.chairs}
    order = sorted(weighing.overall, key=lambda measure: (measure != primary, MEASURES.index(measure)))
    said = [
        _sentence(weighing, weighing.overall[measure], index, titles, words)
        for measure in order
        for index in range(len(weighing.overall[measure].verdicts))
    ]
    return OverallWords(tuple(_notes(weighing, words)), tuple(said))


def _notes(weighing: Weighing, words: Words) -> Iterator[str]:
    if not weighing.study.sheet.comparing.primary:
        yield words.say(
            "No primary measure was decided beforehand, so all of this is secondary; "
            "the study sheet has a field for it, to be filled before anyone sits down."
        )
    if weighing.decided_late:
        days = [f"{datetime.fromtimestamp(wall / 1e9, UTC):%Y-%m-%d}" for wall in weighing.decided_late]
        yield words.say(
            "How chairs are compared was changed after the first sitting ({days}); read it as looked at afterwards.",
            days=", ".join(dict.fromkeys(days)),
        )
    time = weighing.overall.get("time")
    if time is not None and time.dropped:
        titles = {card.id: card.title for card in weighing.study.cards}
        dropped = "; ".join(titles.get(each, each) for each in time.dropped)
        yield words.say("Never completed, and so in no time over all tasks: {dropped}.", dropped=dropped)
    if _secondary_winners(weighing):
        yield words.say(
            "Each measure keeps to its own 5 in 100; four of them together name a winner that is none in 11 to 13 of "
            "100 studies, so a winner on a secondary measure is a lead to follow."
        )


def _secondary_winners(weighing: Weighing) -> bool:
    primary = weighing.study.sheet.comparing.primary
    secondary = [found for measure, found in weighing.overall.items() if measure != primary or weighing.decided_late]
    return any(verdict.winner for found in secondary for verdict in found.verdicts)


def _sentence(
    weighing: Weighing, found: MeasureOverall, index: int, titles: dict[str, str], words: Words
) -> OverallSentence:
    verdict = found.verdicts[index]
    pair = verdict.estimate
    margin = weighing.study.sheet.comparing.margin_completion / 100
    seen = [_people_seen(found.measure, found.flips[index], verdict, titles, words)]
    seen += completion_sentences(found.measure, verdict, titles, margin, words)
    seen.append(_as_seen(weighing, found.measure, index, titles, words))
    seen.append(parts_sentence(verdict, titles, words))
    seen.append(longer_words(verdict, titles, words))
    if verdict.alone:
        seen.append(
            words.say("This pair alone would show a difference; {count} pairs were looked at.", count=verdict.family)
        )
    if verdict.winner and pair.people < FEW:
        seen.append(overstated_words(pair, words))
    return OverallSentence(
        found.measure,
        measure_words(found.measure, words, weighing.choice.times),
        _role(weighing, found.measure, words),
        pair.first,
        pair.second,
        verdict.said,
        _verdict_words(found.measure, verdict, titles, words),
        " ".join(filter(None, seen)),
        _figures(verdict, words),
    )


def longer_words(verdict: OverallVerdict, titles: Mapping[str, str], words: Words = ENGLISH) -> str:
    """That those who completed took longer at the winner; empty where they did not."""
    if verdict.took_longer is None:
        return ""
    return words.say(
        "Those who completed took {times} times as long at {winner}, though.",
        times=words.number(verdict.took_longer, ".2f"),
        winner=titles[verdict.winner],
    )


def overstated_words(pair: PairEstimate, words: Words = ENGLISH) -> str:
    """The warning that stands with a winner among few people."""
    return words.say("With {count} people a first winner's lead is usually overstated.", count=pair.people)


def _role(weighing: Weighing, measure: OverallMeasure, words: Words) -> str:
    if measure != weighing.study.sheet.comparing.primary:
        return words.say("secondary")
    return words.say("chosen after the first sitting") if weighing.decided_late else words.say("decided beforehand")


def measure_words(measure: OverallMeasure, words: Words = ENGLISH, times: TimeMeasure = "hands") -> str:
    """A measure's name as a heading."""
    return {
        "who fared better": words.say("who fared better"),
        "completed unaided": words.say("completed unaided"),
        "completed": words.say("completed, alone or with help"),
        "time": time_words(times, words),
        "ease": words.say("ease"),
        "satisfaction": words.say("System Usability Scale"),
    }[measure]


def _verdict_words(measure: OverallMeasure, verdict: OverallVerdict, titles: dict[str, str], words: Words) -> str:
    """The verdict, how large the difference may be, and over which tasks."""
    said = _bare_verdict(measure, verdict, titles, words)
    common = common_words(verdict.estimate, words)
    return f"{said} {common}" if common else said


def common_words(pair: PairEstimate, words: Words = ENGLISH) -> str:
    """Over how many of the tasks a pair is compared; empty where it is all of them, or cannot be compared."""
    if pair.value is None or not pair.left_out:
        return ""
    return words.say("Over the {common} of {tasks} tasks done at both.", common=len(pair.common), tasks=pair.tasks)


def _bare_verdict(measure: OverallMeasure, verdict: OverallVerdict, titles: dict[str, str], words: Words) -> str:
    pair = verdict.estimate
    first, second = titles[pair.first], titles[pair.second]
    mixed = opposite_words(verdict, titles, words)
    if mixed:
        return words.say("{first} and {second} are mixed: {mixed}.", first=first, second=second, mixed=mixed)
    if verdict.why or verdict.low is None or verdict.high is None:
        return words.say(
            "{first} and {second}: cannot tell; {why}.",
            first=first,
            second=second,
            why=reason_words(verdict.why, words),
        )
    if measure == "time" and not verdict.winner and too_wide(exp(verdict.low), exp(verdict.high)):
        return words.say(
            "{first} and {second}: cannot tell; {why}.", first=first, second=second, why=reason_words(TOO_WIDE, words)
        )
    reach = _reach(measure, verdict, titles, words)
    winner = titles.get(verdict.winner, "")
    other = second if verdict.winner == pair.first else first
    if verdict.said is VerdictKind.BETTER_BY_MARGIN:
        return words.say(
            "{winner} is better than {other}, by more than the margin: {reach}.",
            winner=winner,
            other=other,
            reach=reach,
        )
    if verdict.said is VerdictKind.BETTER_BY_LESS:
        return words.say(
            "{winner} is better than {other}, by less than matters: {reach}.", winner=winner, other=other, reach=reach
        )
    if verdict.said is VerdictKind.BETTER:
        return words.say(
            "{winner} is better than {other}; by how much is open: {reach}.", winner=winner, other=other, reach=reach
        )
    if verdict.said is VerdictKind.ALIKE:
        return words.say(
            "{first} and {second} are alike, any difference is smaller than the margin: {reach}.",
            first=first,
            second=second,
            reach=reach,
        )
    return words.say("{first} and {second}: cannot tell; anything {reach}.", first=first, second=second, reach=reach)


def _reach(measure: OverallMeasure, verdict: OverallVerdict, titles: dict[str, str], words: Words) -> str:
    """From where to where the difference may go, on the side of the winner where there is one."""
    assert verdict.low is not None
    assert verdict.high is not None
    low, high, pair = verdict.low, verdict.high, verdict.estimate
    first, second = titles[pair.first], titles[pair.second]
    level = words.say("{level} % interval", level=round(100 * verdict.level))
    if (pair.value or 0.0) < 0:
        low, high, first, second = -high, -low, second, first
    if measure == "time":
        # The first is the slower one now, so that ratios are read upwards.
        return words.say(
            "from {low} to {high} times as long at {slower} as at {faster} ({level})",
            slower=first,
            faster=second,
            low=words.number(exp(low), ".2f"),
            high=words.number(exp(high), ".2f"),
            level=level,
        )
    spread = _spread(measure, low, high, words)
    return words.say(
        "from {spread} for {first} against {second} ({level})", spread=spread, first=first, second=second, level=level
    )


def _spread(measure: OverallMeasure, low: float, high: float, words: Words) -> str:
    """An interval in the units of its measure; net shares end at all of the people."""
    if measure == "who fared better":
        return words.say("{low} to {high} of 100 tasks net", low=_hundredths(low), high=_hundredths(high))
    if measure in ("completed unaided", "completed"):
        return words.say("{low} to {high} points of 100", low=_hundredths(low), high=_hundredths(high))
    shape = "+.1f" if measure == "ease" else "+.0f"
    return words.say("{low} to {high} points", low=words.number(low, shape), high=words.number(high, shape))


def _hundredths(share: float) -> str:
    return f"{100 * min(max(share, -1.0), 1.0):+.0f}"


def _people_seen(
    measure: OverallMeasure, flip: SignFlip, verdict: OverallVerdict, titles: dict[str, str], words: Words
) -> str:
    """How many of the people fared better where; it describes, and decides nothing."""
    people = flip.first + flip.second + flip.even
    if not people:
        return ""
    first, second = titles[verdict.estimate.first], titles[verdict.estimate.second]
    return words.say(
        SEEN[measure], people=people, x=flip.first, y=flip.second, first=first, second=second, even=flip.even
    )


def _as_seen(weighing: Weighing, measure: OverallMeasure, index: int, titles: dict[str, str], words: Words) -> str:
    """The bare counts of a completion that cannot be estimated."""
    verdict = weighing.overall[measure].verdicts[index]
    fared = weighing.overall.get("who fared better")
    if measure not in ("completed unaided", "completed") or verdict.estimate.value is not None or fared is None:
        return ""
    beside = next((each for each in fared.verdicts[index].completions if each.measure == measure), None)
    return f"{completed_seen(beside, verdict, titles, words)}." if beside is not None and beside.tried[0] else ""


def _figures(verdict: OverallVerdict, words: Words) -> str:
    """Every number of a verdict, for those who check it."""
    pair = verdict.estimate
    if pair.value is None or pair.error is None:
        return words.say("n {count}; no estimate: {why}", count=pair.people, why=reason_words(pair.why, words))
    return words.say(
        "{first} less {second} {value}, standard error {error}, {degrees} df, n {count}; margin {margin}; p {p}, {pa} "
        "after Holm over {family}; alike p {q}, {qa}; beyond the margin p {b}, {ba}; interval {interval}",
        first=pair.first,
        second=pair.second,
        value=_number(pair.value, words),
        error=_number(pair.error, words),
        degrees=words.number(pair.degrees, ".4g"),
        count=pair.people,
        margin=_number(verdict.margin, words),
        family=verdict.family,
        p=_p(verdict.p, words),
        pa=_p(verdict.p_adjusted, words),
        q=_p(verdict.q, words),
        qa=_p(verdict.q_adjusted, words),
        b=_p(verdict.beyond, words),
        ba=_p(verdict.beyond_adjusted, words),
        interval=words.interval(verdict.low or 0.0, verdict.high or 0.0, "+.3f"),
    )


def _number(value: float, words: Words) -> str:
    return words.number(value, "+.3f" if abs(value) < 10 else "+.1f")


def _p(p: float | None, words: Words) -> str:
    if p is None:
        return "-"
    return f"< {words.number(0.001)}" if p < 0.001 else words.number(p, ".3f")


def overall_lines(said: Sequence[OverallSentence]) -> Iterator[tuple[str, OverallSentence]]:
    """Sentences, each with its measure's heading where a new one begins; empty for the others."""
    before = ""
    for each in said:
        heading = f"{each.heading} ({each.role})" if each.measure != before else ""
        before = each.measure
        yield heading, each
