"""Reading a chair beside the screen: one at a time, with progress, and it can be stopped."""

import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from threading import Thread
from typing import TYPE_CHECKING

from fresh_chair.core.errors import FreshChairError, HostKeyUnknown, Refused
from fresh_chair.services.chair.enquiries import Brought
from fresh_chair.services.study.open_study import OpenStudy

if TYPE_CHECKING:
    from fresh_chair.probe.runner import Progress

# A question that takes longer says for how long it has been waited for.
_SLOW_SECONDS = 3.0


@dataclass(slots=True)
class ChairReader:
    """One reading of one chair, several enquiries after each other.

    Attributes:
        brought: What came back so far, enquiry by enquiry.
        problem: Why it ended before its end; None where it did not.
        bug: What nobody foresaw; whoever looks at the reader raises it again.
    """

    opened: OpenStudy
    letter: str
    enquiries: Sequence[str]
    cards: Sequence[str] = ()
    brought: list[Brought] = field(default_factory=list)
    problem: FreshChairError | None = None
    bug: Exception | None = None
    enquiry: str = ""
    _progress: "Progress | None" = None
    _thread: Thread | None = None
    _stopped: bool = False

    def start(self) -> None:
        """Begin. Raises Refused where the study may only be read."""
        self.opened.require_adding()
        self._thread = Thread(target=self._run, name="chair-reader", daemon=True)
        self._thread.start()

    @property
    def running(self) -> bool:
        """True until the last answer is on record."""
        return self._thread is not None and self._thread.is_alive()

    @property
    def unknown_host(self) -> HostKeyUnknown | None:
        """The host key to confirm first, where that is why the reading ended."""
        return self.problem if isinstance(self.problem, HostKeyUnknown) else None

    def stop(self) -> None:
        """Ask no more; answers on record already stay."""
        self._stopped = True
        if self._progress is not None:
            self._progress.stop.set()

    def wait(self, seconds: float) -> bool:
        """Wait for the end; False where it has not come by then."""
        if self._thread is not None:
            self._thread.join(seconds)
        return not self.running

    def said(self) -> str:
        """How far it is, in a few words."""
        progress = self._progress
        if progress is None or not progress.of:
            return f"{self.enquiry or 'reaching the chair'}"
        taken = time.monotonic() - progress.since
        so_far = f", {taken:.0f} s so far" if taken >= _SLOW_SECONDS else ""
        return f"{self.enquiry}: {progress.current or 'taking in'}, {progress.asked} of {progress.of}{so_far}"

    def _run(self) -> None:
        try:
            # Loading what asks takes a moment, which belongs into this thread too.
            from fresh_chair.probe.runner import Progress
            from fresh_chair.services.chair.asking import run_enquiry

            for enquiry in self.enquiries:
                if self._stopped:
                    raise Refused("Stopped.", "What was read before is on record.")
                self.enquiry, self._progress = enquiry, Progress()
                if self._stopped:
                    self._progress.stop.set()
                self.brought.append(
                    run_enquiry(self.opened, self.letter, enquiry, cards=self.cards, progress=self._progress)
                )
        except FreshChairError as problem:
            self.problem = problem
        except Exception as problem:  # noqa: BLE001 - handed to the screen, which raises it where bugs are reported
            self.bug = problem
