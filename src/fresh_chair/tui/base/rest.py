"""Collecting garbage while no key is pressed: a pass over all new objects takes longer than a mark may wait."""

import gc

from fresh_chair.core.clock import SECOND
from fresh_chair.services.system.clock import running_ns

REST_SECONDS = 1.0
# At rest every so many lesser passes; where nobody rests, at the latest after so many.
_PASSES_AT_REST = 10
_PASSES_WITHOUT_REST = 400


class Rest:
    """Knows when the last key was pressed, and collects when that is a while ago."""

    def __init__(self) -> None:
        self._keyed_ns = 0

    def keyed(self) -> None:
        """A key was pressed."""
        self._keyed_ns = running_ns()

    def settle(self) -> None:
        """Set the present objects apart: they stay, and no later pass looks through them."""
        gc.enable()
        gc.collect()
        gc.freeze()
        gc.set_threshold(700, 10, _PASSES_WITHOUT_REST)

    def collect(self) -> None:
        """Look through all new objects, unless keys are being pressed."""
        if running_ns() - self._keyed_ns > REST_SECONDS * SECOND and gc.get_count()[2] > _PASSES_AT_REST:
            gc.collect()
