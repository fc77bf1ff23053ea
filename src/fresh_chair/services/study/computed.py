"""Values computed from an open study, once for each of its states and shared by all who ask."""

from collections.abc import Callable
from threading import Lock
from typing import TypeVar, cast

from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting.state.sitting import Sitting

T = TypeVar("T")


class Computed:
    """Keeps one value a name, as long as the plan and every sitting are as they were when it was computed."""

    def __init__(self) -> None:
        self._lock = Lock()
        # With what each was computed from, so that no other object can take its address meanwhile.
        self._kept: dict[str, tuple[tuple[object, ...], object, object]] = {}

    def value(self, name: str, study: Study, sittings: dict[int, Sitting], compute: Callable[[], T]) -> T:
        """The value of a name for this state; computed where it is not the one that is kept."""
        state = (id(study), *((number, id(sitting), sitting.entries) for number, sitting in sittings.items()))
        with self._lock:
            kept = self._kept.get(name)
        if kept is not None and kept[0] == state:
            return cast("T", kept[2])
        value = compute()
        with self._lock:
            self._kept[name] = (state, (study, tuple(sittings.values())), value)
        return value
