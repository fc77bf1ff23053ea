"""Everything a document is made from: the study, its figures, its language, and the reviewer's own words."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import cached_property
from pathlib import Path

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.evidence.kinds import BESIDE_A_NEWCOMER, IN_A_WALK, OWN, Evidence
from fresh_chair.core.evidence.telling import FOREWORD, OwnParagraph, Reader
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.overall.estimates import Turning
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.sorted_findings import SortedFindings
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.text import legible
from fresh_chair.core.words.catalogue import ENGLISH, Words
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.judgement.first_page import ChairAnswer, first_page
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.tell.document.model import Block, Look, Paragraph, Run, Section, Text
from fresh_chair.tell.document.prose import Prose


@dataclass
class ToldStudy:
    """A study as it is told to one reader.

    Attributes:
        turning: Whether the main answer turns; None where that was not worked out.
        own: Only the reviewer's own evidence: done, seen, measured.
        chair: Of a document for makers, theirs.
        sitting: Of a document for viewers, which one's; 0 for none.
        beside: The study file, beside which copies of attached files lie; None where there is none.
    """

    opened: StudyReading
    weighing: Weighing
    words: Words = ENGLISH
    turning: Turning | None = None
    own: bool = False
    reader: Reader | None = None
    chair: str = ""
    sitting: int = 0
    beside: Path | None = None
    # A finding's text stands in a document and in a file of its own, and is made once.
    finding_texts: dict[str, tuple[Block, ...]] = field(init=False, default_factory=dict)

    @property
    def study(self) -> Study:
        """The plan."""
        return self.opened.study

    @cached_property
    def prose(self) -> Prose:
        """Its sentences."""
        return Prose(self.words)

    @cached_property
    def found(self) -> SortedFindings:
        """Its findings."""
        return sorted_findings_of(self.opened)

    @cached_property
    def facts_at(self) -> dict[tuple[str, str], list[AttemptFact]]:
        """The attempts by their card and chair."""
        found: dict[tuple[str, str], list[AttemptFact]] = {}
        for fact in self.weighing.facts:
            found.setdefault((fact.card, fact.chair), []).append(fact)
        return found

    @cached_property
    def feeds(self) -> Counter[str]:
        """How many findings each observation is evidence of, by its target."""
        return Counter(target for view in self.found.findings for target in view.finding.evidence)

    @cached_property
    def answers(self) -> tuple[ChairAnswer, ...]:
        """Everything the first page says of each chair."""
        return first_page(self.opened, self.weighing)

    @cached_property
    def walked(self) -> tuple[Seat, ...]:
        """The walks that have begun."""
        return tuple(
            self.study.seat(number)
            for number, sitting in sorted(self.opened.sittings.items())
            if sitting.walk is not None
        )

    @cached_property
    def walks_only(self) -> bool:
        """Whether a reviewer walked here and no newcomer sat down."""
        return bool(self.walked) and not self.weighing.facts

    @cached_property
    def titles(self) -> dict[str, str]:
        """The chairs' titles by letter."""
        return {chair.letter: chair.title for chair in self.study.chairs}

    @cached_property
    def day(self) -> str:
        """The day of the newest thing on record, such as 2026-11-20."""
        moments = [entries[-1].moment.wall_ns for entries in self.opened.entries.values() if entries]
        moments += [ledger[-1].moment.wall_ns for ledger in (self.opened.evidence.entries,) if ledger]
        moments += [ledger[-1].moment.wall_ns for ledger in (self.opened.sorting.entries,) if ledger]
        newest = max(moments, default=0)
        return datetime.fromtimestamp(newest / SECOND, UTC).date().isoformat()

    def known(self, evidence: Evidence, *, walked: bool = False) -> Text:
        """How a thing is known, in brackets, where that is not the usual; empty where it is."""
        usual = IN_A_WALK if walked else BESIDE_A_NEWCOMER
        if evidence == usual or (not walked and evidence in OWN):
            return ()
        return self.prose.say(" ({evidence})", evidence=Run(self.words.say(evidence), "quiet"))

    def borrowed_words(self, borrowed: Sequence[tuple[Evidence, int]]) -> str:
        """How many of several things are known how, where that is not by the study itself."""
        listed = ", ".join(f"{count} {self.words.say(kind)}" for kind, count in borrowed)
        return self.words.say("of these: {kinds}", kinds=listed)

    def rate(self, met: int, of: int, number: str, look: Look = "plain") -> Run:
        """So many of so many, as a number with an id."""
        return Run(self.words.say("{met} of {all}", met=met, all=of), look, id=number)

    def number(self, value: float | None, shape: str, number: str, *, unit: str = "") -> Run:
        """A number with an id; a dash where there is none."""
        shown = "–" if value is None else f"{self.words.number(value, shape)}{unit}"
        return Run(shown, id=number)

    def of_100(self, low: float | None, high: float | None) -> str:
        """From where to where a share may go, in plain words."""
        ends = [self.words.number(100 * min(max(each or 0.0, 0.0), 1.0), ".0f") for each in (low, high)]
        return self.words.say("anything from {low} to {high} of 100", low=ends[0], high=ends[1])

    def own_paragraphs(self, at: str) -> tuple[Block, ...]:
        """The reviewer's own paragraphs at a section, a figure or a number of this document."""
        found = []
        for held in evidence_of_kind(self.opened, "paragraph"):
            each = held.record
            if not isinstance(each, OwnParagraph) or each.at != at:
                continue
            if each.reader in ("", self.reader or "") and each.chair in ("", self.chair):
                lines = [line for line in each.text.split("\n") if line.strip()]
                found += [Paragraph((Run(legible(line)),), "own") for line in lines]
        return tuple(found)

    def with_own(self, section: Section) -> Section:
        """A section with the reviewer's own paragraphs below its own blocks, and so in each section in it."""
        blocks: list[Block] = []
        for block in section.blocks:
            blocks.append(block)
            name = getattr(block, "name", "")
            if name:
                blocks += self.own_paragraphs(name)
        inner = tuple(map(self.with_own, section.sections))
        return Section(section.id, section.title, (*blocks, *self.own_paragraphs(section.id)), inner, section.keep)

    def foreword(self) -> Iterable[Section]:
        """The reviewer's foreword, where there is one."""
        # Its paragraphs come with those of every other section.
        return (Section(FOREWORD, self.words.say("Foreword")),) if self.own_paragraphs(FOREWORD) else ()


def clock(seconds: float) -> str:
    """A time in a sitting, as on a clock."""
    return clock_text(round(seconds * SECOND))
