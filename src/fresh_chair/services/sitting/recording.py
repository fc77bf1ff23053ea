"""A sitting logged from a recording: the same keys, driven by time codes instead of the live clock."""

import re
import time
from collections.abc import Callable, Collection
from contextlib import suppress
from pathlib import Path

from fresh_chair.core.clock import SECOND, Moment, clock_text
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.plan.study import Seat
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.base import Happening
from fresh_chair.core.sitting.journal import Content, Entry
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.corrections import wall_ns_of
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, new_id

SPEEDS = (0.25, 4.0)
_CODE = re.compile(r"\s*(?:(?:(\d{1,2}):)?(\d{1,3}):)?(\d{1,6})(?:[.,](\d{1,3}))?\s*(?:x\s*(\d(?:[.,]\d{1,2})?))?\s*")
_LATE = "seen in the recording afterwards"


class RecordingClock:
    """A clock that is where the recording is.

    Args:
        begin: The moment at which the sitting begins.
        offset_seconds: Where in the recording that is.
        at_seconds: Where in the recording it stands first.
        ticks: Nanoseconds that go on by themselves.
    """

    def __init__(
        self,
        begin: Moment,
        offset_seconds: float,
        *,
        at_seconds: float | None = None,
        ticks: Callable[[], int] = time.monotonic_ns,
    ) -> None:
        self._begin = begin
        self._offset_ns = round(offset_seconds * SECOND)
        self._ticks = ticks
        self._at_ns = self._offset_ns if at_seconds is None else round(at_seconds * SECOND)
        self._since = ticks()
        self.speed = 1.0
        self.playing = False

    @property
    def position_ns(self) -> int:
        """Where in the recording it stands, in nanoseconds."""
        if not self.playing:
            return self._at_ns
        return self._at_ns + round((self._ticks() - self._since) * self.speed)

    def now(self) -> Moment:
        """The moment in the sitting that the recording shows."""
        passed = max(self.position_ns - self._offset_ns, 0)
        begin = self._begin
        return Moment(begin.ticks_ns + passed, begin.boot, begin.wall_ns + passed)

    def go_to(self, seconds: float, speed: float | None = None) -> None:
        """Stand somewhere else; a speed of its own where one is given.

        Raises:
            InputError: Where that lies before the sitting, or the speed is none a player has.
        """
        at_ns = round(seconds * SECOND)
        if at_ns < self._offset_ns:
            begins = clock_text(self._offset_ns)
            raise InputError(f"The sitting begins at {begins} of the recording.", "Nothing was changed.")
        if speed is not None and not SPEEDS[0] <= speed <= SPEEDS[1]:
            raise InputError(f"A speed lies between {SPEEDS[0]:g} and {SPEEDS[1]:g}.", "Nothing was changed.")
        self._at_ns, self._since = at_ns, self._ticks()
        self.speed = self.speed if speed is None else speed

    def nudge(self, seconds: float) -> None:
        """A little on or back, never before the sitting."""
        self.go_to(max(self.position_ns + seconds * SECOND, self._offset_ns) / SECOND)

    def follow(self, other: "RecordingClock") -> None:
        """Stand where another clock stands, and play as it does; never before the sitting."""
        self._at_ns, self._since = max(other.position_ns, self._offset_ns), self._ticks()
        self.speed, self.playing = other.speed, other.playing

    def align(self, seconds: float, *, playing: bool, speed: float) -> None:
        """Stand and play as a player of the recording does; before the sitting it stands at its beginning."""
        self._at_ns, self._since = max(round(seconds * SECOND), self._offset_ns), self._ticks()
        self.speed, self.playing = speed, playing

    def toggle(self) -> None:
        """Play, or stop playing."""
        self._at_ns, self._since = self.position_ns, self._ticks()
        self.playing = not self.playing


def read_code(text: str) -> tuple[float, float | None]:
    """Seconds and speed of a time code as it is typed or pasted.

    >>> read_code("1:02:31.5"), read_code("12:31 x1.5")
    ((3751.5, None), (751.0, 1.5))

    Raises:
        InputError: Where it is none.
    """
    match = _CODE.fullmatch(text)
    if match is None:
        raise InputError(f"A time code is such as 12:31, or 12:31 x1.5; not “{legible(clipped(text, 24))}”.")
    hours, minutes, seconds, fraction, speed = match.groups()
    whole = int(hours or 0) * 3600 + int(minutes or 0) * 60 + int(seconds)
    return whole + float(f"0.{fraction or 0}"), None if speed is None else float(speed.replace(",", "."))


class RecordedSitting(LiveSitting):
    """Logs one sitting from a recording. Marks made on going back are put in as late marks.

    Args:
        opened: The open study.
        seat: Which planned sitting.
        player: Where the recording is.
    """

    def __init__(self, opened: OpenStudy, seat: Seat, player: RecordingClock) -> None:
        super().__init__(opened, seat)
        self.player = player

    def now(self) -> Moment:
        """The moment that the recording shows."""
        return self.player.now()

    @property
    def behind(self) -> bool:
        """True while the recording stands before the last mark."""
        return self.state.began is not None and self.state.line.at(self.now()) < self.state.line.own_ns

    def log(self, content: Content, moment: Moment) -> Entry:
        """As for a live sitting; a mark before the last one is put in late, and clocks are refused there."""
        line = self.state.line
        if self.state.began is not None and line.last is not None and line.at(moment) < line.own_ns:
            content = self._late(content, line.at(moment))
            moment = line.last
        return super().log(content, moment)

    def _late(self, content: Content, at_ns: int) -> Content:
        late = j.late_mark(content, at_ns, _LATE)
        if late is not None:
            return late
        if isinstance(content, Happening) and content.afterwards:
            return content
        last = clock_text(self.state.line.own_ns + round(self.offset_seconds * SECOND))
        raise Refused(
            f"The recording stands before the last mark, at {last}.", "Marks can be added there; clocks go on from it."
        )

    @property
    def offset_seconds(self) -> float:
        """Where in the recording the sitting begins."""
        return self.state.recording[1] if self.state.recording is not None else 0.0

    def begin_at(self, file: str, offset_seconds: float, moment: Moment, *, beside: Collection[int] = ()) -> None:
        """Open the journal of a sitting that was recorded; `beside` are sittings of the same person that stay open.

        Raises:
            Refused: Where it was logged already, or the person is in another sitting that is still open.
            NotSaved: Where the disk refuses.
        """
        if self.state.began is not None:
            raise Refused(f"Sitting {self.seat.number} was logged already.", "Enter on the board goes on with it.")
        self._require_nobody_twice(beside)
        found = j.ChairFound("not checked", ("it is logged from a recording",))
        opened = j.RecordingOpened(clipped(file, 400), offset_seconds)
        self._commit([j.SittingBegan(), found, *self._walk(), opened], moment)


def open_recording(opened: OpenStudy, number: int, text: str, began: str = "") -> RecordedSitting:
    """Begin to log a sitting from a recording.

    Args:
        opened: The open study.
        number: The planned sitting's number.
        text: Where the recording lies, and after it where in it the sitting begins: `p04.webm 2:31`.
        began: When it was recorded, such as 2026-11-09T10:00; the file's own date by default, or now.

    Raises:
        InputError: Where no recording is named, or the date is none.
        Refused, NotSaved: As `begin_at`.
    """
    file, offset = recording_named(text)
    begin = Moment(0, f"recording-{new_id()}", _wall_ns(opened, file, began))
    sitting = RecordedSitting(opened, opened.study.seat(number), RecordingClock(begin, offset))
    sitting.begin_at(file, offset, begin)
    return sitting


def recording_named(text: str) -> tuple[str, float]:
    """File and offset in seconds of a recording as it is typed; it need not be here. Raises InputError for nothing."""
    file, _, last = text.strip().rpartition(" ")
    if file and _CODE.fullmatch(last):
        return file.strip(), read_code(last)[0]
    if not text.strip():
        raise InputError("Say which recording: a path, and where in it the sitting begins: p04.webm 2:31.")
    return text.strip(), 0.0


def recording_path(file: str, beside: Path) -> Path | None:
    """Where a recording lies: as it was named, or beside the study; None where it is in neither place."""
    with suppress(OSError, RuntimeError, ValueError):
        named = Path(file).expanduser()
        return next((path for path in (named, beside.parent / named) if path.is_file()), None)
    return None


def absence_of(opened: OpenStudy, text: str) -> str:
    """The sentence to ask with where a recording as it is typed is not here; empty where it is. Raises InputError."""
    file, _ = recording_named(text)
    here = recording_path(file, opened.beside) is not None
    return "" if here else f"There is no {legible(clipped(file, 60))} here"


def taken_up(opened: OpenStudy, number: int) -> LiveSitting:
    """A sitting to go on writing in: one from a recording stands at its last entry, and is not playing."""
    seat, sitting = opened.study.seat(number), opened.sittings.get(number)
    if sitting is None or sitting.recording is None or sitting.began is None:
        return LiveSitting(opened, seat)
    offset = sitting.recording[1]
    at_seconds = offset + sitting.line.own_ns / SECOND
    return RecordedSitting(opened, seat, RecordingClock(sitting.began, offset, at_seconds=at_seconds))


def _wall_ns(opened: OpenStudy, file: str, began: str) -> int:
    if began.strip():
        return wall_ns_of(began)
    path = recording_path(file, opened.beside)
    try:
        return opened.clock.now().wall_ns if path is None else path.stat().st_mtime_ns
    except OSError:
        return opened.clock.now().wall_ns
