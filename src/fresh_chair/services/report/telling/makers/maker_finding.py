"""One finding as its makers read it: asked, expected, happened, how many, how bad, how to see it, trials."""

from collections import Counter
from collections.abc import Callable, Iterator

from fresh_chair.core.evidence.telling import MakersReply
from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.findings.state.parts import Cause, Trial, Workaround
from fresh_chair.core.words.findings import occurrence_words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.findings.life import life_line
from fresh_chair.services.report.telling.chair_points import met_words
from fresh_chair.services.report.telling.pictures import pictures_of
from fresh_chair.services.report.telling.quotes import quotation, shown_observations
from fresh_chair.services.report.telling.timelines import attempt_line
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Text

# So many people's attempts are told mark by mark; the others are in the numbers.
_ATTEMPTS = 3
_MARKS = 6
NamesAnother = Callable[[ToldStudy, str], bool]


def finding_blocks(told: ToldStudy, view: FindingView, names_another: NamesAnother) -> Iterator[Block]:
    """A finding at the chair of the document.

    Args:
        told: The study; `chair` is theirs.
        view: The finding.
        names_another: Whether a text speaks of another chair, and so is left out.
    """
    own = [text for text in _judged(told, view) if not any(names_another(told, span.text) for span in text)]
    yield Paragraph(_headline(told, view))
    yield from (Paragraph(text) for text in own)
    yield from _asked(told, view)
    yield from _expected(told, view)
    yield from _happened(told, view)
    yield from _steps(told, view)
    yield from _tried(told, view, names_another)
    yield from _to_ask_for(told, view)
    for held in evidence_of_kind(told.opened, "reply"):
        each = held.record
        if isinstance(each, MakersReply) and each.chair == told.chair and each.of == f"finding:{view.id}":
            yield reply_paragraph(told, each)


def _label(text: str) -> Run:
    return Run(f"{text} ", "strong")


def _here(told: ToldStudy, view: FindingView) -> list[Observation]:
    return [each for each in view.observations if each.chair == told.chair]


def _headline(told: ToldStudy, view: FindingView) -> Text:
    spans: list[Run] = [*met_words(told, view, told.chair), Run(". ")]
    if view.finding.occurrence.how != "not said":
        spans += [
            *told.prose.say("It comes: {how}.", how=occurrence_words(view.finding.occurrence, told.words)),
            Run(" "),
        ]
    since = since_release(told, view, told.chair)
    if since:
        spans += [*told.prose.say("Since: {release}.", release=since), Run(" ")]
    return (*spans, *met_elsewhere(told, view))


def since_release(told: ToldStudy, view: FindingView, letter: str) -> str:
    """The earliest release on record at which a finding of this chair's line was met; empty where only here."""
    title = told.titles[letter]
    stations = [each for each in life_line(told.opened, view) if each.state not in ("gone", "")]
    before = [each.where for each in life_line(told.opened, view) if each.where and title not in each.where]
    return before[0] if stations and before and any(title in each.where for each in stations) else ""


def _judged(told: ToldStudy, view: FindingView) -> Iterator[Text]:
    """How bad it is, as met and with its workaround known, each with its reason."""
    if view.finding.sort != "problem":
        return
    met = view.finding.severity_in(Scope(chair=told.chair))
    if met is None:
        yield told.prose.say("How bad it is, is not judged yet.")
        return
    number = f"severity/F{view.finding.number}/{told.chair}"
    yield (
        *told.prose.say(
            "Severity as met: {severity} of 4, {words}: ",
            severity=Run(str(met.severity), id=number),
            words=told.words.say(SEVERITY_WORDS[met.severity]),
        ),
        Run(met.reason),
    )
    known = view.finding.severity_in(Scope(chair=told.chair, workaround_known=True))
    if known is not None and known != met:
        yield (
            *told.prose.say("Once the way round is known: {severity} of 4: ", severity=known.severity),
            Run(known.reason),
        )


def _asked(told: ToldStudy, view: FindingView) -> Iterator[Block]:
    """The cards as they were read aloud."""
    cards = [told.study.card_by_id[each] for each in view.cards if each in told.study.card_by_id]
    here = {each.card for each in _here(told, view)}
    for card in [each for each in cards if each.id in here]:
        yield Paragraph((_label(told.words.say("Asked:")), Run(card.goal, "quote")))


def _expected(told: ToldStudy, view: FindingView) -> Iterator[Block]:
    """Where people looked, against the way there is; and how easy they thought it would be."""
    items: list[Text] = []
    for name in dict.fromkeys(each.card for each in _here(told, view) if each.card in told.study.card_by_id):
        card = told.study.card_by_id[name]
        facts = told.facts_at.get((name, told.chair), [])
        first = Counter(fact.spots[0] for fact in facts if fact.spots)
        if first:
            looked = ", ".join(f"{spot} ({count})" for spot, count in first.most_common(4))
            items.append(told.prose.say("they looked first in: {places}", places=looked))
        given = [fact.expectation for fact in facts if fact.expectation is not None]
        if given:
            mean = told.words.number(sum(given) / len(given), ".1f")
            items.append(told.prose.say("how easy they expected it to be: {mean} of 7", mean=mean))
        if card.routes.get(told.chair):
            items.append(told.prose.say("the way there is: {way}", way=" › ".join(card.routes[told.chair])))
        if card.success:
            items.append(told.prose.say("it counts as done when: {criterion}", criterion=card.success))
    if items:
        yield Paragraph((_label(told.words.say("Expected:")),))
        yield Listing(tuple(items))


def _happened(told: ToldStudy, view: FindingView) -> Iterator[Block]:
    """Attempts mark by mark, then the other marks."""
    here, shown = _here(told, view), set[tuple[int, int]]()
    lines: list[Text] = []
    for each in here:
        key = (each.sitting, each.attempt or 0)
        if not each.sitting or each.attempt is None or key in shown or len(lines) == _ATTEMPTS:
            continue
        shown.add(key)
        sitting = told.opened.sittings[each.sitting]
        attempt = sitting.attempts[each.attempt - 1]
        who = (Run(f"{each.participant}: ", "strong"),)
        lines.append((*who, *attempt_line(told, sitting, attempt)))
    quoted = shown_observations(told, view, chair=told.chair, most=_MARKS)
    rest = [each for each in quoted if (each.sitting, each.attempt or 0) not in shown]
    if lines or rest:
        yield Paragraph((_label(told.words.say("Happened:")),))
    if lines:
        yield Listing(tuple(lines))
    for each in rest:
        yield quotation(told, each)
    yield from pictures_of(told, view, chair=told.chair)


def _steps(told: ToldStudy, view: FindingView) -> Iterator[Block]:
    """Steps to see it, from the state at the first start on."""
    said, chair = told.prose.say, told.study.chair_by_letter[told.chair]
    here = _here(told, view)
    cards = [told.study.card_by_id[each.card] for each in here if each.card in told.study.card_by_id]
    steps: list[Text] = [said("Take {chair}, {state}.", chair=chair.title, state=told.words.say(chair.state))]
    if cards:
        card = cards[0]
        if card.start:
            steps.append(said("Begin with: {start}", start=card.start))
        if card.fixtures:
            steps.append(said("On the bench: {things}", things=", ".join(card.fixtures)))
        spots = [s for s in (_spots(told, each) for each in here) if s]
        way = " › ".join(spots[0]) if spots else ""
        steps.append(said("Do as the card asks, by way of: {way}", way=way) if way else said("Do as the card asks."))
    worded = next((each.words for each in here if each.words and each.kind != "quote"), "")
    if worded:
        steps.append(said("Seen then: {what}", what=worded))
    yield Paragraph((_label(told.words.say("To see it:")),))
    yield Listing(tuple(steps), numbered=True)


def _spots(told: ToldStudy, each: Observation) -> list[str]:
    if not each.sitting or each.attempt is None:
        return []
    return told.opened.sittings[each.sitting].attempts[each.attempt - 1].spots


def _tried(told: ToldStudy, view: FindingView, names_another: NamesAnother) -> Iterator[Block]:
    """Causes with how sure they are, trials, and ways round."""
    say, items = told.prose.say, list[Text]()
    for part in view.finding.held("cause"):
        if isinstance(part, Cause):
            named = {"sure": told.words.say(part.sure), "what": part.words, "lies": told.words.say(part.lies)}
            items.append(
                say("cause, {sure}: {what} ({lies}), because {reason}", reason=part.reason, **named)
                if part.reason
                else say("cause, {sure}: {what} ({lies}), without a reason yet", **named)
            )
    for part in view.finding.held("trial"):
        if isinstance(part, Trial):
            items.append(say("tried: {what}: {result}", what=part.tried, result=told.words.say(part.result)))
    for part in view.finding.held("workaround"):
        if isinstance(part, Workaround):
            items.append(
                say(
                    "way round: {steps} ({skill}; helped: {helped})",
                    steps=part.steps, skill=told.words.say(part.skill), helped=told.words.say(part.helped),
                )
            )  # fmt: skip
    items = [item for item in items if not any(names_another(told, span.text) for span in item)]
    if items:
        yield Paragraph((_label(told.words.say("Tried:")),))
        yield Listing(tuple(items))


def _to_ask_for(told: ToldStudy, view: FindingView) -> Iterator[Block]:
    """The evidence that the reviewer holds, and gives on request."""
    here = _here(told, view)
    held = [
        told.prose.count("{count} mark with its moment", "{count} marks with their moments", len(here)),
    ]
    files = sum(
        attached.about == each.entry
        for each in here
        if each.sitting
        for attached in told.opened.sittings[each.sitting].attachments
    )
    if files:
        held.append(told.prose.count("{count} attached file", "{count} attached files", files))
    if any(each.sitting and told.opened.recorded(each.sitting) for each in here):
        held.append(told.prose.say("a recording, where the person agrees"))
    spans: list[Run] = [_label(told.words.say("May be asked for:"))]
    for index, each in enumerate(held):
        spans += [Run("; "), *each] if index else each
    yield Paragraph(tuple(spans), "quiet")


def met_elsewhere(told: ToldStudy, view: FindingView) -> Text:
    """The sentence that a finding was not met at the other chairs, where it was looked for; nothing else of them."""
    others = [each for each in view.spread if each.chair != told.chair and each.tried]
    if others and not any(each.people or each.others for each in others):
        return told.prose.say("Not met at the others.")
    return ()


def reply_paragraph(told: ToldStudy, each: MakersReply) -> Paragraph:
    """An answer of the makers, as they wrote it."""
    who = each.by or told.words.say("the makers")
    day = f", {told.words.day(each.on)}" if each.on else ""
    return Paragraph((Run(f"{who}{day}: ", "strong"), Run(each.text)))
