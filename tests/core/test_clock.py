"""Law 2: time is taken from a clock that nothing can bend."""

from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.clock import SECOND, Moment, clock_text, elapsed_ns
from fresh_chair.core.sitting.state.timeline import Timeline
from fresh_chair.services.system.clock import SystemClock


def test_a_wall_clock_set_back_changes_nothing_within_one_boot() -> None:
    before = Moment(10 * SECOND, "b", 5000 * SECOND)
    after = Moment(25 * SECOND, "b", 5000 * SECOND - 86_400 * SECOND)
    assert elapsed_ns(before, after) == 15 * SECOND


def test_across_boots_the_wall_clock_bridges_and_never_runs_backwards() -> None:
    before = Moment(9000 * SECOND, "b1", 100 * SECOND)
    assert elapsed_ns(before, Moment(3 * SECOND, "b2", 160 * SECOND)) == 60 * SECOND
    assert elapsed_ns(before, Moment(3 * SECOND, "b2", 40 * SECOND)) == 0


@given(st.integers(0, 10**15), st.integers(0, 10**15))
def test_time_never_runs_backwards(one: int, other: int) -> None:
    assert elapsed_ns(Moment(one, "b", 0), Moment(other, "b", 0)) >= 0


def test_the_machines_clock_goes_on_and_names_its_boot() -> None:
    clock = SystemClock()
    first, second = clock.now(), clock.now()
    assert second.ticks_ns >= first.ticks_ns
    assert first.boot == second.boot == SystemClock().now().boot


def test_clock_text_shows_hours_only_when_there_are_any() -> None:
    assert [clock_text(seconds * SECOND) for seconds in (0, 59, 60, 3599, 3600)] == [
        "00:00",
        "00:59",
        "01:00",
        "59:59",
        "1:00:00",
    ]


def moment(seconds: float) -> Moment:
    return Moment(round(seconds * SECOND), "b", 0)


def test_ones_own_time_never_goes_back_and_an_observers_stands_where_its_key_was() -> None:
    line = Timeline()
    assert [line.take(moment(seconds)) for seconds in (100, 110)] == [0, 10 * SECOND]
    assert line.take(moment(104), observed=True) == 4 * SECOND
    assert line.take(moment(106)) == 10 * SECOND


def test_a_gap_is_what_the_ticks_saw_and_the_wall_clock_only_beyond_them() -> None:
    line = Timeline()
    line.take(Moment(0, "b1", 0))
    alive = Moment(20 * SECOND, "b1", 500 * SECOND)
    assert line.take(Moment(3 * SECOND, "b2", 530 * SECOND), alive=alive) == 50 * SECOND
