"""Sentences about comparisons of chairs, and about the conditions in which they differ."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.figures.single.comparison import ALPHA, FEWEST_FOR_A_WINNER, Comparison, Measure, Verdict
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.study import Study
from fresh_chair.core.words.catalogue import ENGLISH, Words


def comparison_sentences(study: Study, comparisons: Sequence[Comparison], words: Words = ENGLISH) -> list[str]:
    """The sentences that one task's comparisons allow: one for completion and one for time."""
    titles = {chair.letter: chair.title for chair in study.chairs}
    said = []
    for measure, speak in ((Measure.COMPLETION, _say_completion), (Measure.TIME, _say_time)):
        ours = [comparison for comparison in comparisons if comparison.measure is measure and comparison.estimate.n]
        if not ours:
            said.append(_nothing_yet(measure, words))
            continue
        firm = [c for c in ours if c.verdict in (Verdict.FIRST_BETTER, Verdict.SECOND_BETTER)]
        chosen = firm or [min(ours, key=lambda c: (c.p if c.p is not None else 2.0, -c.estimate.n))]
        said.append(" ".join(speak(comparison, titles, words) for comparison in chosen))
    return said


def unlike_conditions(study: Study, words: Words = ENGLISH) -> list[str]:
    """The differences between the chairs besides the distribution, for the reader of a comparison."""
    chairs = study.chairs
    said = []
    if len({chair.machine for chair in chairs}) > 1:
        each = [
            words.say("{chair} on {machine}", chair=chair.title, machine=study.machine_of(chair).name)
            for chair in chairs
        ]
        said.append(words.say("Not all on the same machine: {chairs}.", chairs="; ".join(each)))
    virtual = [chair.title for chair in chairs if study.machine_of(chair).virtual]
    if virtual and len(virtual) < len(chairs):
        listed = words.listed(virtual)
        if all(study.machine_of(chair).kind for chair in chairs):
            said.append(words.say("{chairs} ran in a virtual machine, the others did not.", chairs=listed))
        else:
            said.append(
                words.say("{chairs} ran in a virtual machine; whether the others did was not said.", chairs=listed)
            )
    early = [f"{chair.title} ({words.say(chair.stage)})" for chair in chairs if chair.stage in ("beta", "candidate")]
    if early and len(early) < len(chairs):
        said.append(words.say("Not a finished release: {chairs}.", chairs=words.listed(early)))
    if len({chair.state for chair in chairs}) > 1:
        states = "; ".join(f"{chair.title} {_state(chair, words)}" for chair in chairs)
        said.append(words.say("Not all in the same state: {chairs}.", chairs=states))
    said += [
        words.say("{chair} was altered: {alterations}.", chair=chair.title, alterations="; ".join(chair.alterations))
        for chair in chairs
        if chair.alterations
    ]
    return said


def _state(chair: Chair, words: Words) -> str:
    if not chair.in_use_for:
        return words.say(chair.state)
    return words.say("{state} for {time}", state=words.say(chair.state), time=chair.in_use_for)


def brief_conditions(study: Study, words: Words = ENGLISH) -> str:
    """The same in one line, by letter; empty where nothing differs."""
    chairs = study.chairs
    parts = []
    if len({chair.machine for chair in chairs}) > 1:
        parts.append(words.say("different machines"))
    virtual = [chair.letter for chair in chairs if study.machine_of(chair).virtual]
    if virtual and len(virtual) < len(chairs):
        parts.append(words.say("{chairs} virtual", chairs=words.listed(virtual)))
    parts += [f"{chair.letter} {words.say(chair.stage)}" for chair in chairs if chair.stage in ("beta", "candidate")]
    if len({chair.state for chair in chairs}) > 1:
        parts.append(words.say("different states"))
    parts += [words.say("{chair} altered", chair=chair.letter) for chair in chairs if chair.alterations]
    return words.say("Unlike conditions: {conditions}.", conditions=", ".join(parts)) if parts else ""


def _say_completion(comparison: Comparison, titles: Mapping[str, str], words: Words) -> str:
    estimate = comparison.estimate
    value, low, high = (100 * (part or 0.0) for part in (estimate.value, estimate.low, estimate.high))
    told = {
        "people": _people(estimate.n, words),
        "first": titles[comparison.first],
        "second": titles[comparison.second],
        "value": f"{value:+.0f}",
        "interval": words.interval(low, high, "+.0f"),
        "p": _p(comparison, words),
    }
    if comparison.same_people:
        known = words.say("Of {people} at both, {first} minus {second} is {value} points ({interval}; {p})", **told)
    else:
        known = words.say(
            "Of {people}, others at each, {first} minus {second} is {value} points ({interval}; {p})", **told
        )
    return f"{_lead(comparison, titles, words)} {known}."


def _say_time(comparison: Comparison, titles: Mapping[str, str], words: Words) -> str:
    first, second = titles[comparison.first], titles[comparison.second]
    estimate = comparison.estimate
    if estimate.value is not None and estimate.value < 1:
        first, second = second, first
        estimate = _inverse(estimate)
    lead, people = _lead(comparison, titles, words), _people(estimate.n, words)
    named = {"people": people, "first": first, "second": second}
    if estimate.value is None or estimate.low is None or estimate.high is None:
        known = (
            words.say("{people} completed it at both {first} and {second}", **named)
            if comparison.same_people
            else words.say("{people}, others at each, completed it at {first} or {second}", **named)
        )
        return f"{lead} {known}."
    ends = {"low": _times(estimate.low, words), "high": _times(estimate.high, words), "p": _p(comparison, words)}
    ratio = _times(estimate.value, words)
    if not comparison.same_people:
        known = words.say(
            "{people}, others at each, took {ratio} times as long at {first} as at {second} ({low} to {high}; {p})",
            ratio=ratio,
            **named,
            **ends,
        )
        return f"{lead} {known}{_fewer_finished(comparison, words)}."
    known = words.say(
        "{people} took {ratio} times as long at {first} as at {second} ({low} to {high}; {p})",
        ratio=ratio,
        **named,
        **ends,
    )
    if estimate.n < FEWEST_FOR_A_WINNER:
        known += words.say("; below {count} people no winner is named", count=FEWEST_FOR_A_WINNER)
    if comparison.left_out:
        known += words.say("; {count} more did not complete at both", count=comparison.left_out)
    return f"{lead} {known}{_fewer_finished(comparison, words)}."


def _fewer_finished(comparison: Comparison, words: Words) -> str:
    if comparison.verdict is Verdict.CANNOT_TELL and (comparison.p_adjusted or 1.0) < ALPHA:
        return words.say("; faster among those who finished, but fewer finished")
    return ""


def _lead(comparison: Comparison, titles: Mapping[str, str], words: Words) -> str:
    """The verdict first: the reader takes it away."""
    completion = comparison.measure is Measure.COMPLETION
    winner = {Verdict.FIRST_BETTER: comparison.first, Verdict.SECOND_BETTER: comparison.second}.get(comparison.verdict)
    if winner is not None and completion:
        return words.say("Completion: better at {chair}.", chair=titles[winner])
    if winner is not None:
        return words.say("Time: better at {chair}.", chair=titles[winner])
    return words.say("Completion: cannot tell.") if completion else words.say("Time: cannot tell.")


def _nothing_yet(measure: Measure, words: Words) -> str:
    if measure is Measure.COMPLETION:
        return words.say("Completion: nobody has tried it at two chairs yet, so nothing can be compared.")
    return words.say("Time: nobody has completed it at two chairs yet, so no times can be compared.")


def _inverse(estimate: Estimate) -> Estimate:
    low = None if estimate.high is None else 1 / estimate.high
    high = None if estimate.low is None else 1 / estimate.low
    return replace(estimate, value=1 / (estimate.value or 1.0), low=low, high=high)


def _times(ratio: float, words: Words) -> str:
    return words.number(ratio, ".2f" if ratio < 1 else ".1f" if ratio < 10 else ".0f")


def _p(comparison: Comparison, words: Words) -> str:
    if comparison.p is None or comparison.p_adjusted is None:
        return words.say("no test possible")
    return words.say(
        "p {p}, {adjusted} after Holm", p=_p_text(comparison.p, words), adjusted=_p_text(comparison.p_adjusted, words)
    )


def _p_text(p: float, words: Words) -> str:
    return f"< {words.number(0.001)}" if p < 0.001 else words.number(p, ".3f" if p < 0.1 else ".2f")


def _people(count: int, words: Words) -> str:
    return words.count("{count} person", "{count} people", count)
