"""Sentences about scorecards: the rule of a criterion, and how firm a ranking is."""

from collections.abc import Mapping

from fresh_chair.core.evidence.judged import Criterion
from fresh_chair.core.judgement.firmness import Firmness
from fresh_chair.core.judgement.scorecard import Scorecard
from fresh_chair.core.words.catalogue import ENGLISH, Words


def rule_words(criterion: Criterion, words: Words = ENGLISH) -> str:
    """How a criterion comes to its scores."""
    if not criterion.figure:
        ends = {"low": f"{criterion.low:g}", "high": f"{criterion.high:g}"}
        return words.say("the reviewer's own score, {low} to {high}", **ends)
    return words.say(
        "{figure}: {worst} gives {low}, {best} gives {high}, in between in proportion",
        figure=criterion.figure,
        worst=f"{criterion.worst:g}",
        best=f"{criterion.best:g}",
        low=f"{criterion.low:g}",
        high=f"{criterion.high:g}",
    )


def firmness_sentences(
    card: Scorecard, found: Firmness | None, titles: Mapping[str, str], words: Words = ENGLISH
) -> list[str]:
    """Whether each rank is firm or too close to call; a firm rank is no test, and names no winner."""
    if found is None:
        return [
            words.say("How firm: too little in it comes from people at tasks done at every chair to draw it again.")
        ]
    said = [words.say("How firm, {how} ({draws} draws):", how=_how(found.how, words), draws=found.draws)]
    for total in sorted(card.totals, key=lambda each: each.rank or len(card.totals) + 1):
        if total.rank is None:
            continue
        chances = found.chances[total.chair]
        chance = f"{100 * chances[total.rank - 1]:.0f} %"
        named = {"title": titles[total.chair], "rank": total.rank, "chance": chance}
        if found.firm(total.chair, total.rank):
            said.append(words.say("{title}: rank {rank} is firm, in {chance} of draws.", **named))
        else:
            said.append(words.say("{title}: too close to call, rank {rank} in {chance} of draws.", **named))
    if found.by_weights:
        shares = ", ".join(f"{titles[c]} {100 * share:.0f} %" for c, share in found.by_weights.items())
        said.append(words.say("Over all possible weights the winner is: {shares}.", shares=shares))
    return [*said, words.say("A firm rank is no test, and names no winner.")]


def _how(how: str, words: Words) -> str:
    return {
        "from the fit of its one measure": words.say("from the fit of its one measure"),
        "from people drawn again, widened for the design": words.say("from people drawn again, widened for the design"),
    }[how]
