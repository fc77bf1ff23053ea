"""Rest: no long pass over objects while keys are pressed, and one as soon as they are not."""

import gc

import pytest

from fresh_chair.tui.base import rest


def test_objects_are_looked_through_at_rest_and_not_between_keys(monkeypatch: pytest.MonkeyPatch) -> None:
    now, passes = [0], []
    monkeypatch.setattr(rest, "running_ns", lambda: now[0])
    monkeypatch.setattr(gc, "get_count", lambda: (0, 0, 11))
    monkeypatch.setattr(gc, "collect", lambda: passes.append(now[0]))
    resting = rest.Rest()
    now[0] = 5_000_000_000
    resting.keyed()
    now[0] += 900_000_000
    resting.collect()
    assert passes == []
    now[0] += 200_000_000
    resting.collect()
    assert passes == [now[0]]


def test_what_was_off_for_the_start_is_on_once_everything_is_loaded(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(gc, "freeze", lambda: None)
    threshold = gc.get_threshold()
    gc.disable()
    try:
        rest.Rest().settle()
        assert gc.isenabled()
    finally:
        gc.enable()
        gc.set_threshold(*threshold)
