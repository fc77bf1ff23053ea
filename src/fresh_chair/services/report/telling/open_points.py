"""Open points before a document goes out: each is answered by the reviewer, or printed as open."""

from collections.abc import Iterator
from typing import Literal

from fresh_chair.core.evidence.judged import ContradictionAnswer
from fresh_chair.core.evidence.telling import OwnParagraph
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import LEFT_OUT, clipped, has_spoken
from fresh_chair.core.words.identifying import identifying_words
from fresh_chair.core.words.thresholds import threshold_words
from fresh_chair.services.evidence.judging_words import judging_words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.figures.turning import turning
from fresh_chair.services.judgement.contradictions import contradictions
from fresh_chair.services.judgement.verdicts import verdict_matrix
from fresh_chair.services.report.telling.quotes import agreed_to_quotes
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Section

PointSort = Literal[
    "contradiction", "empty cells", "no verdict", "unsorted", "open threshold", "quote", "identifying"
]  # fmt: skip


@frozen
class OpenPoint:
    """One thing that is open.

    Attributes:
        key: Names it for good, so that an answer finds it again.
        chair: The chair it is of; empty for none, or several.
        about: What it is about, as a target; empty for none.
        answer: The reviewer's answer; None where it is open.
    """

    key: str
    sort: PointSort
    words: str
    chair: str = ""
    about: str = ""
    answer: ContradictionAnswer | None = None


def open_points(told: ToldStudy) -> list[OpenPoint]:
    """Everything to be answered before a document goes out, the open ones first, contradictions in front."""
    answers = {
        held.record.about: held.record
        for held in evidence_of_kind(told.opened, "answer")
        if isinstance(held.record, ContradictionAnswer)
    }
    found = [
        *_contradictions(told),
        *_empty_cells(told),
        *_verdicts(told),
        *_unsorted(told),
        *_thresholds(told),
        *_quotes(told),
        *_identifying(told),
    ]
    points = [
        OpenPoint(each.key, each.sort, each.words, each.chair, each.about, each.answer or answers.get(each.key))
        for each in found
    ]
    return sorted(points, key=lambda each: each.answer is not None)


def points_of_study(opened: StudyReading) -> list[OpenPoint]:
    """The open points of a whole study, whether its answer turns among them; that takes a while."""
    weighing = weigh(opened)
    return open_points(ToldStudy(opened, weighing, turning=turning(opened, weighing)))


def _contradictions(told: ToldStudy) -> Iterator[OpenPoint]:
    for each in contradictions(told.opened, told.weighing, told.turning, told.words):
        yield OpenPoint(each.key, "contradiction", each.words, "", each.about, each.answer)


def _empty_cells(told: ToldStudy) -> Iterator[OpenPoint]:
    """Chairs with cards that no newcomer tried there; of a study with newcomers only."""
    if told.walks_only or not told.weighing.facts:
        return
    for letter, title in told.titles.items():
        empty = [
            card.title for card in told.study.cards if not card.dropped and not told.weighing.cells[card.id, letter].n
        ]
        if empty:
            said = told.words.say("nobody tried at {chair}: {cards}", chair=title, cards="; ".join(empty))
            yield OpenPoint(f"empty {letter}", "empty cells", said, letter)


def _verdicts(told: ToldStudy) -> Iterator[OpenPoint]:
    missing = verdict_matrix(told.opened).missing
    if missing:
        said = told.words.say("no verdict is given for {count} of audience and chair", count=missing)
        yield OpenPoint(f"verdicts {missing}", "no verdict", said)


def _unsorted(told: ToldStudy) -> Iterator[OpenPoint]:
    for letter, title in told.titles.items():
        loose = sum(each.chair == letter for each in told.found.loose)
        if loose:
            said = told.words.say("{count} seen at {chair} and in no finding yet", count=loose, chair=title)
            yield OpenPoint(f"unsorted {letter} {loose}", "unsorted", said, letter)


def _thresholds(told: ToldStudy) -> Iterator[OpenPoint]:
    if told.walks_only:
        return
    for number, each in enumerate(told.weighing.thresholds, start=1):
        if each.held == "open":
            said = told.words.say(
                "open at {chair}: {threshold}",
                chair=told.titles[each.chair],
                threshold=threshold_words(each.threshold, told.words),
            )
            yield OpenPoint(f"threshold open {each.chair} {number}", "open threshold", said, each.chair)


def _quotes(told: ToldStudy) -> Iterator[OpenPoint]:
    """People whose own words were written down and who did not agree to being quoted: they are left out."""
    for number, sitting in sorted(told.opened.sittings.items()):
        code = told.study.seat(number).participant
        quoted = sum(remark.kind == "quote" and bool(remark.words) for remark in sitting.remarks.values())
        # A document has them left out already.
        others = [remark.words for remark in sitting.remarks.values() if remark.kind != "quote"]
        quoted += sum(has_spoken(words) or LEFT_OUT in words for words in others)
        if quoted and not agreed_to_quotes(told.opened, code):
            said = told.words.say("{code} did not agree to being quoted; left out: {count}", code=code, count=quoted)
            yield OpenPoint(f"quote {code} {number}", "quote", said, told.study.seat(number).chair)


def _identifying(told: ToldStudy) -> Iterator[OpenPoint]:
    """Marks, and the reviewer's own paragraphs, with words that may identify a person."""
    for number, sitting in sorted(told.opened.sittings.items()):
        for remark in sitting.remarks.values():
            found = identifying_words(remark.words)
            if found:
                chair = told.study.seat(number).chair
                yield _identifies(told, f"mark:{remark.entry}", found, remark.words, chair)
    for held in evidence_of_kind(told.opened, "paragraph"):
        each = held.record
        if isinstance(each, OwnParagraph) and (found := identifying_words(each.text)):
            yield _identifies(told, f"paragraph:{each.id}", found, each.text, each.chair)
    for name, text in judging_words(told.opened):
        if found := identifying_words(text):
            yield _identifies(told, name, found, text, "")


def _identifies(told: ToldStudy, target: str, found: str, text: str, chair: str) -> OpenPoint:
    said = told.words.say("“{found}” may say who somebody is: {text}", found=found, text=clipped(text, 80))
    return OpenPoint(f"identifies {target}", "identifying", said, chair, target)


def open_section(told: ToldStudy, *, chair: str = "", study: bool = False, most: int = 0) -> Iterator[Section]:
    """The section of open points.

    Args:
        told: The study.
        chair: Only what is of this chair.
        study: Also what is of no single chair.
        most: In a document with little room, so many lines of a sort; 0 for all.
    """
    points = [each for each in open_points(told) if each.answer is None and _fits(each, chair, study=study)]
    if not points:
        return
    blocks: list[Block] = [Paragraph(told.prose.say("Nobody has answered these yet:"))]
    if most:
        sorts = dict.fromkeys(each.sort for each in points)
        counts = {sort: sum(each.sort == sort for each in points) for sort in sorts}
        blocks = [Listing(tuple((Run(f"{sort_words(told, sort)}: {count}"),) for sort, count in counts.items()))]
    else:
        blocks.append(Listing(tuple((Run(each.words),) for each in points)))
    yield Section("open", told.words.say("Still open"), tuple(blocks))


def _fits(point: OpenPoint, chair: str, *, study: bool) -> bool:
    return chair in ("", point.chair) or (study and not point.chair)


def sort_words(told: ToldStudy, sort: PointSort) -> str:
    """A sort of points in plain words."""
    say = told.words.say
    return {
        "contradiction": say("things on record that contradict each other"),
        "empty cells": say("machines at which some tasks were not tried"),
        "no verdict": say("verdicts that are not given"),
        "unsorted": say("machines with troubles that are not sorted yet"),
        "open threshold": say("levels that are neither met nor missed yet"),
        "quote": say("people who did not agree to being quoted, and are not"),
        "identifying": say("words that may say who somebody is"),
    }[sort]
