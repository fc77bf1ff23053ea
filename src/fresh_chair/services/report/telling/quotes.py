"""The words of people that may be shown: of whom they are, whether they agreed, and which the reviewer chose."""

from fresh_chair.core.evidence.judged import ContradictionAnswer
from fresh_chair.core.evidence.telling import QuoteChoice
from fresh_chair.core.findings.observations import Observation
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.people import Consent
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.tell.document.model import Quotation, Run, Text

# The kinds of marks that are worth showing in words; the first is the person's own.
_SHOWN = ("quote", "delight", "snag", "warning", "note")


def quote_consents(opened: StudyReading) -> list[Consent]:
    """The consents of the study sheet that are about quoting, by their id."""
    return [each for each in opened.study.sheet.consents if "quot" in each.id.casefold()]


def may_quote(opened: StudyReading, code: str) -> bool:
    """Whether a person's own words may be printed: they agreed, or the reviewer answered that they may be."""
    if agreed_to_quotes(opened, code):
        return True
    answered = (held.record for held in evidence_of_kind(opened, "answer"))
    return any(
        isinstance(each, ContradictionAnswer) and each.answer == "stands" and each.about.startswith(f"quote {code} ")
        for each in answered
    )


def agreed_to_quotes(opened: StudyReading, code: str) -> bool:
    """Whether a person agreed to being quoted, or is a reviewer, whose own words they are.

    Where the study sheet has no consent about quoting, nobody was asked, and nobody agreed.
    """
    person = opened.study.person_by_code.get(code)
    if person is None or person.role in ("expert", "reviewer"):
        return person is not None
    asked = quote_consents(opened)
    return bool(asked) and not person.erased and all(each.id in person.consents for each in asked)


def choices_of(told: ToldStudy) -> dict[str, str]:
    """The reviewer's choice of each mark, by its target, for this reader."""
    chosen: dict[str, str] = {}
    for held in evidence_of_kind(told.opened, "choice"):
        each = held.record
        if isinstance(each, QuoteChoice) and each.reader in ("", told.reader or ""):
            chosen[each.of] = each.says
    return chosen


def shown_observations(told: ToldStudy, view: FindingView, *, chair: str = "", most: int = 1) -> list[Observation]:
    """The marks of a finding that are worth showing, those the reviewer chose first, then people's own words.

    Marks that feed other findings too come after those that do not.

    Args:
        told: The document.
        view: The finding.
        chair: Only those at this chair; empty for all.
        most: How many.
    """
    chosen = choices_of(told)
    fitting = [
        each
        for each in view.observations
        if each.words
        and chosen.get(each.target) != "left out"
        and chair in ("", each.chair)
        and each.kind in _SHOWN
        and (each.kind != "quote" or may_quote(told.opened, each.participant))
        and (each.own or not told.own)
    ]
    # A mark that feeds this finding alone says more about it than one that feeds several.
    fitting.sort(
        key=lambda each: (
            chosen.get(each.target) != "shown first",
            min(told.feeds[each.target], 2),
            _SHOWN.index(each.kind),
        )
    )
    return fitting[:most]


def quoted(text: str, words: Words = ENGLISH) -> str:
    """Words between the quotation marks of a language; as they are where there are marks in them already.

    >>> quoted("where is it")
    '“where is it”'
    >>> quoted('"oh" - stops reading')
    '"oh" - stops reading'
    """
    return text if any(sign in text for sign in '"“”„«»') else words.say("“{words}”", words=text)


def quotation(told: ToldStudy, each: Observation) -> Quotation:
    """A mark as a quote, with whose it is."""
    return Quotation((Run(as_said(told, each)),), quote_source(told, each))


def as_said(told: ToldStudy, each: Observation) -> str:
    """A mark's words: the person's own between quotation marks, an observer's without."""
    return quoted(each.words, told.words) if each.kind == "quote" else each.words


def quote_source(told: ToldStudy, each: Observation) -> Text:
    """Whose words a mark is, and how that is known."""
    said = told.prose.say
    if not each.sitting:
        return said("on record")
    who = Run(each.participant)
    number = Run(each.at, "quiet")
    if each.kind == "quote":
        source = said("{person}, at {time}", person=who, time=number)
    elif each.walked:
        source = said("the reviewer, at {time}", time=number)
    else:
        source = said("written down beside {person}, at {time}", person=who, time=number)
    return (*source, *told.known(each.evidence, walked=each.walked))


@frozen
class QuoteLine:
    """A mark that documents may show.

    Attributes:
        says: Shown first, left out, or empty where nothing was chosen.
        agreed: Whether the person agreed to being quoted.
    """

    target: str
    kind: str
    words: str
    code: str
    whose: str
    findings: str
    says: str
    agreed: bool


def quote_lines(opened: StudyReading) -> list[QuoteLine]:
    """Every mark with words that documents may show, people's own words first."""
    chosen: dict[str, str] = {}
    for held in evidence_of_kind(opened, "choice"):
        each = held.record
        if isinstance(each, QuoteChoice) and not each.reader:
            chosen[each.of] = each.says
    found, lines = sorted_findings_of(opened), []
    for mark in found.observations:
        if not mark.sitting or not mark.words or mark.kind not in _SHOWN:
            continue
        fed = ", ".join(f"F{view.finding.number} {view.title}" for view in found.findings_of(mark))
        whose = f"{mark.participant} at {mark.chair}, sitting {mark.sitting}, {mark.at}"
        lines.append(
            QuoteLine(
                mark.target, mark.kind, mark.words, mark.participant, whose, fed, chosen.get(mark.target, ""),
                agreed_to_quotes(opened, mark.participant),
            )
        )  # fmt: skip
    return sorted(lines, key=lambda each: (not each.says, _SHOWN.index(each.kind)))
