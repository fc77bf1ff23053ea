"""Sentences on groups of people and on the study's own scales, in the words of the comparison over all tasks."""

from dataclasses import replace

from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.core.words.overall import overall_words


def group_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[tuple[str, tuple[str, ...]]]:
    """Each group's heading with its sentences; none where there are no groups."""
    found = []
    asked = weighing.study.sheet.comparing.by_group
    role = words.say("the question") if asked else words.say("looked at afterwards")
    for group in weighing.groups:
        heading = words.count(
            "{group}, {count} person ({role})",
            "{group}, {count} people ({role})",
            group.people,
            group=group.name,
            role=role,
        )
        measure = group.found.measure
        alone = replace(weighing, overall={"completed unaided": group.unaided, measure: group.found})
        said = [each.whole for each in overall_words(alone, words).sentences if each.measure == measure]
        found.append((heading, tuple(said)))
    return found


def own_scale_sentences(weighing: Weighing, words: Words = ENGLISH) -> list[tuple[str, tuple[str, ...]]]:
    """Each of the study's own scales: its question with the chairs' means, then a sentence a pair."""
    found = []
    for scale in weighing.own_scales:
        known = {chair: mean.value for chair, mean in scale.means.items() if mean.value is not None}
        means = ", ".join(f"{chair} {words.number(mean, '.1f')}" for chair, mean in known.items())
        heading = words.say(
            "{question} (1 to {points}, margin {margin}; {means})",
            question=scale.question.ask,
            points=scale.question.points,
            margin=words.number(scale.margin, ".2g"),
            means=means,
        )
        alone = replace(weighing, overall={scale.found.measure: scale.found})
        found.append((heading, tuple(each.whole for each in overall_words(alone, words).sentences)))
    return found
