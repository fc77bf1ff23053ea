"""Notes with times gone through once: each becomes a mark, a step, or is left out, at its place in the recording."""

from pathlib import Path

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.recording import RecordedSitting
from fresh_chair.services.sitting.text.notes import notes_text
from fresh_chair.services.sitting.text.timed_notes import cues_in
from fresh_chair.services.system.files import name_of


@frozen
class Cue:
    """One note, and where in the recording it stands."""

    at_seconds: float
    words: str


class NotesPass:
    """A pass over the notes of a recording, from where that stands to their end.

    Args:
        live: The walk, which must be logged from a recording.
        path: WebVTT or SRT.

    Raises:
        InputError: Where it holds no note from there on.
        FileProblem: Where it cannot be read.
        Refused: Where the walk is not logged from a recording.
    """

    def __init__(self, live: LiveSitting, path: Path) -> None:
        if not isinstance(live, RecordedSitting):
            raise Refused("Notes with times belong to a recording.", "Begin the walk over it: --recording walk.webm")
        self._live = live
        here = live.player.position_ns / SECOND
        cues = [Cue(at, words) for at, words in cues_in(notes_text(path)) if at >= live.offset_seconds]
        self.left = [cue for cue in cues if cue.at_seconds >= here]
        self.passed = len(cues) - len(self.left)
        if not self.left:
            said = "before here alone" if cues else "no note with a time"
            raise InputError(f"{name_of(path)} holds {said}.", "Notes are read from WebVTT and SRT.")

    @property
    def cue(self) -> Cue | None:
        """The note in hand; None after the last one."""
        return self.left[0] if self.left else None

    def moment(self) -> Moment:
        """The moment of the note in hand; the recording stands there from now on."""
        cue = self.cue
        assert cue is not None
        self._live.player.go_to(cue.at_seconds)
        return self._live.now()

    def next(self) -> None:
        """Go on to the next note."""
        del self.left[:1]
