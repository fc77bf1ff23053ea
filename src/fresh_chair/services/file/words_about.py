"""Reviewers' words that rest on a person's marks, or hold their code: listed, reworded, or taken out of the bytes."""

import re
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.people import Erasure
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.judging_words import fields_in
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading
from fresh_chair.store.ports import WordLedger
from fresh_chair.store.scrubbing import ERASED

# As the command line names them.
_NAMED: dict[WordLedger, str] = {"entry": "sitting", "sort_entry": "finding", "evidence_entry": "evidence"}


@frozen
class WordsAbout:
    """One text of a reviewer, in one entry.

    Attributes:
        ledger, number, sitting: The entry it stands in; `sitting` is 0 for the ledgers of the whole study.
        what: Which text it is: a finding's title, a severity's reason.
        text: The text itself.
    """

    ledger: WordLedger
    number: int
    sitting: int
    what: str
    text: str

    @property
    def handle(self) -> str:
        """Its name on the command line, such as finding:12 or sitting:3/15."""
        where = f"{self.sitting}/{self.number}" if self.sitting else str(self.number)
        return f"{_NAMED[self.ledger]}:{where}"


def words_about(opened: StudyReading, code: str) -> list[WordsAbout]:
    """Every text of a reviewer that rests on a person's marks, or holds their code; their own marks are not among them.

    Args:
        opened: The study, before the person is erased: afterwards nothing tells whose the marks were.
        code: The person's.

    Raises:
        InputError: Where there is nobody of this code.
    """
    if code not in opened.study.person_by_code:
        raise InputError(f"Nobody in this study is {legible(clipped(code, 20))}.", "Nothing was changed.")
    own = {seat.number for seat in opened.study.seats if seat.participant == code}
    marks = {f"mark:{entry.id}" for number in own for entry in opened.entries.get(number, ())}
    resting = {found.id for found in opened.findings.by_id.values() if marks & set(found.evidence)}
    named = re.compile(rf"\b{re.escape(code)}\b")
    found: list[WordsAbout] = []
    for entry in opened.sorting.entries:
        rests = getattr(entry.content, "finding", "") in resting
        found += _texts("sort_entry", entry.number, 0, entry.content, rests=rests, named=named)
    for record in opened.evidence.entries:
        found += _texts("evidence_entry", record.number, 0, record.content, rests=False, named=named)
    for number, entries in opened.entries.items():
        if number not in own:
            for mark in entries:
                found += _texts("entry", mark.number, number, mark.content, rests=False, named=named)
    return found


def _texts(
    ledger: WordLedger, number: int, sitting: int, content: Any, *, rests: bool, named: re.Pattern[str]
) -> Iterator[WordsAbout]:
    kind = str(getattr(content, "kind", "record")).replace("_", " ")
    for field, text in fields_in(asdict(content)):
        if text != ERASED and (rests or named.search(text)):
            yield WordsAbout(ledger, number, sitting, f"{kind}, {field.replace('_', ' ')}", text)


def still_there(opened: StudyReading, found: list[WordsAbout]) -> list[WordsAbout]:
    """Those of some texts that the study still holds as they were."""
    held: dict[tuple[WordLedger, int, int], set[str]] = {}
    for entry in opened.sorting.entries:
        held["sort_entry", 0, entry.number] = {text for _, text in fields_in(asdict(entry.content))}
    for record in opened.evidence.entries:
        held["evidence_entry", 0, record.number] = {text for _, text in fields_in(asdict(record.content))}
    for number, entries in opened.entries.items():
        for mark in entries:
            held["entry", number, mark.number] = {text for _, text in fields_in(asdict(mark.content))}
    return [each for each in found if each.text in held.get((each.ledger, each.sitting, each.number), ())]


def reword(opened: OpenStudy, about: WordsAbout, words: str = "") -> None:
    """Put other words in the place of a text, in the entry itself: the first ones are gone from the bytes too.

    Args:
        opened: The open study.
        about: The text.
        words: The other words; by default it is said to be erased.

    Raises:
        InputError: Where there is no such text any more.
        NotSaved: Where the disk refuses.
    """
    opened.require_moderating()
    if not still_there(opened, [about]):
        raise InputError(f"“{legible(clipped(about.text, 40))}” is not there any more.", "Nothing was changed.")
    now = opened.clock.now().wall_ns
    # Every trace has a name of its own.
    trace = Erasure(participant=f"{about.handle} {now}", wall_ns=now, author=opened.author, figures_kept=True)
    opened.preparations.reword(
        about.ledger, about.number, sitting=about.sitting, text=about.text, words=words.strip() or ERASED, trace=trace
    )
    opened.reload()
    opened.store.pack()


def text_at(opened: StudyReading, handle: str) -> list[WordsAbout]:
    """The texts of an entry by its name on the command line, such as finding:12 or sitting:3/15. Raises InputError."""
    kind, _, where = handle.strip().partition(":")
    sitting, slash, number = where.rpartition("/")
    ledgers = {named: ledger for ledger, named in _NAMED.items()}
    right = kind in ledgers and number.isdecimal() and bool(slash) == (kind == "sitting")
    right = right and (not slash or sitting.isdecimal())
    contents: dict[int, Any] = {}
    if right and kind == "finding":
        contents = {entry.number: entry.content for entry in opened.sorting.entries}
    elif right and kind == "evidence":
        contents = {entry.number: entry.content for entry in opened.evidence.entries}
    elif right and slash:
        contents = {entry.number: entry.content for entry in opened.entries.get(int(sitting), ())}
    if not right or int(number) not in contents:
        raise InputError(
            f"“{legible(clipped(handle, 40))}” names no entry.", "Such as finding:12, evidence:7 or sitting:3/15."
        )
    every = re.compile("")
    at = int(sitting) if slash else 0
    return list(_texts(ledgers[kind], int(number), at, contents[int(number)], rests=True, named=every))
