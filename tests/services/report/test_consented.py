"""Words that somebody spoke stand in no document where they did not agree to being quoted, whatever the mark."""

from dataclasses import replace

import pytest

from fresh_chair.core.text import has_spoken, without_spoken
from fresh_chair.services.report.reports import READERS, Telling, prepared
from fresh_chair.services.report.telling.open_points import OpenPoint, open_points
from fresh_chair.services.report.telling.quotes import agreed_to_quotes
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tell.document.model import Document, Quotation, plain


def text_of(document: Document) -> str:
    return "\n".join(plain(text) for text in document.texts())


@pytest.mark.parametrize(
    ("words", "left"),
    [
        ("reads “go away” twice", "reads […] twice"),
        ("„geh weg“, sagt sie", "[…], sagt sie"),
        ('"oh" and "no"', "[…] and […]"),
        ("« va-t'en »", "[…]"),
        ("“never closed", "[…]"),
        ("the person's own menu", "the person's own menu"),
    ],
)
def test_what_stands_between_quotation_marks_was_spoken(words: str, left: str) -> None:
    assert without_spoken(words) == left
    assert has_spoken(words) is (words != left)


def test_nobody_who_refused_is_quoted_in_any_mark_of_any_document(demo: OpenStudy) -> None:
    newcomers = [seat for seat in demo.study.seats if demo.study.person_by_code[seat.participant].role == "participant"]
    begun = [seat for seat in newcomers if demo.sittings.get(seat.number) is not None]
    agreed, refused = (seat for seat in begun[:20:9] if agreed_to_quotes(demo, seat.participant))
    people = tuple(replace(p, consents={}) if p.code == refused.participant else p for p in demo.study.people)
    demo.amend(replace(demo.study, people=people))
    for seat, secret in ((refused, "a heron told me"), (agreed, "a gull told me")):
        live = LiveSitting(demo, seat)
        for kind in ("snag", "delight", "note"):
            correcting.add_late(live, kind, "0:30", f"stops, says “{secret}”", "heard again")
    texts = {
        reader: [text_of(each.document) for each in prepared(demo, Telling(reader, ("md",)))]
        for reader in (*READERS, None)
    }
    everything = "\n".join(text for found in texts.values() for text in found)
    assert "a heron told me" not in everything
    assert "stops, says […]" in everything
    assert "a gull told me" in everything
    assert any(point.sort == "quote" and refused.participant in point.words for point in open_points_of(demo))


def open_points_of(opened: OpenStudy) -> list[OpenPoint]:
    (ready, *_) = prepared(opened, Telling("researcher", ("md",)))
    return list(open_points(ready.told))


def test_what_an_observer_wrote_is_not_printed_as_speech(demo: OpenStudy) -> None:
    for ready in prepared(demo, Telling("maker", ("md",))):
        for block in ready.document.blocks():
            if isinstance(block, Quotation) and "written down beside" in plain(block.source):
                assert not plain(block.text).startswith("“")
