"""A sitting as a drawing: every lane and every mark where it was, and the same bytes for the same sitting."""

from pathlib import Path

import pytest
from matplotlib.colors import to_hex
from matplotlib.patches import Rectangle

from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError
from fresh_chair.core.sitting.mark_letters import tick_letter
from fresh_chair.draw.paper import saved
from fresh_chair.draw.sitting import LANE_FILL, sitting_chart
from fresh_chair.services.sitting.text.notes import draw_sitting
from fresh_chair.services.study.open_study import OpenStudy

NUMBER = 9


def test_every_span_and_every_mark_is_drawn_where_it_was(demo: OpenStudy) -> None:
    sitting = demo.sittings[NUMBER]
    axes = sitting_chart(demo.study, demo.study.seat(NUMBER), sitting).axes[0]
    spans = sorted((span.begin_ns, span.end_ns, span.lane) for attempt in sitting.attempts for span in attempt.spans)
    bars = sorted((p for p in axes.patches if isinstance(p, Rectangle)), key=lambda bar: bar.get_x())
    assert len(bars) == len(spans)
    for (begin, end, lane), bar in zip(spans, bars, strict=True):
        assert bar.get_x() == pytest.approx(begin / SECOND / 60)
        assert bar.get_width() == pytest.approx((end - begin) / SECOND / 60)
        assert to_hex(bar.get_facecolor()) == LANE_FILL[lane]
    ticks = [tick for attempt in sitting.attempts for tick in attempt.ticks if tick_letter(tick)]
    marks = sorted((tick.at_ns / SECOND / 60, tick_letter(tick)) for tick in ticks)
    letters = [text for text in axes.texts if text.get_text() in {tick_letter(tick) for tick in ticks}]
    shown = sorted((text.get_position()[0], text.get_text()) for text in letters)
    assert [letter for _, letter in shown] == [letter for _, letter in marks]
    assert [at for at, _ in shown] == pytest.approx([at for at, _ in marks])


@pytest.mark.parametrize("kind", ["svg", "pdf"])
def test_the_same_sitting_gives_the_same_bytes(demo: OpenStudy, kind: str) -> None:
    seat, sitting = demo.study.seat(NUMBER), demo.sittings[NUMBER]
    one, other = (saved(sitting_chart(demo.study, seat, sitting), kind) for _ in range(2))
    assert one == other


def test_it_is_written_by_the_ending_of_its_name(demo: OpenStudy, tmp_path: Path) -> None:
    assert draw_sitting(demo, NUMBER, tmp_path / "a.svg").path.read_bytes().startswith(b"<?xml")
    assert draw_sitting(demo, NUMBER, tmp_path / "a.pdf").path.read_bytes().startswith(b"%PDF")
    with pytest.raises(InputError, match=r"neither \.svg nor \.pdf"):
        draw_sitting(demo, NUMBER, tmp_path / "a.png")
    with pytest.raises(InputError, match="Nothing is logged"):
        draw_sitting(demo, 24, tmp_path / "b.svg")
