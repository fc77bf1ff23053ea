"""Values computed from a study, once for each of its states and shared by all who ask."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from threading import Lock
from typing import TYPE_CHECKING, TypeVar, cast

from fresh_chair.core.plan.study import Study

if TYPE_CHECKING:
    from fresh_chair.core.sitting.journal import Entry

T = TypeVar("T")


class Computed:
    """Keeps one value a name, as long as the plan and every journal are as they were when it was computed."""

    def __init__(self) -> None:
        self._lock = Lock()
        # With the plan it was computed from, so that no other plan can take its address meanwhile.
        self._kept: dict[str, tuple[tuple[object, ...], Study, object]] = {}

    def forget(self) -> None:
        """Compute everything again when it is next asked for."""
        with self._lock:
            self._kept.clear()

    def value(self, name: str, study: Study, journals: Mapping[int, Sequence[Entry]], compute: Callable[[], T]) -> T:
        """The value of a name for this state; computed where it is not the one that is kept."""
        ends = ((number, len(entries), entries[-1].id) for number, entries in journals.items() if entries)
        state = (id(study), *ends)
        with self._lock:
            kept = self._kept.get(name)
        if kept is not None and kept[0] == state:
            return cast("T", kept[2])
        value = compute()
        with self._lock:
            self._kept[name] = (state, study, value)
        return value
