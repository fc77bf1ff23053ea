"""A sitting logged from a recording: where it stands, and the keys that move it."""

from textual import events, on
from textual.binding import Binding, BindingType

from fresh_chair.core.clock import clock_text
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.recording import RecordedSitting, read_code
from fresh_chair.tui.sit.course import Course

RECORDING_KEYS: list[BindingType] = [
    Binding("space", "play", "play, stop", id="sit.play", tooltip="The recording's clock runs, or stands"),
    Binding("slash", "time_code", "time code", id="sit.code", key_display="/", tooltip="Where the player stands"),
    Binding("left", "nudge(-5)", "5 s back", id="sit.earlier", key_display="←", show=False, tooltip="5 s back in it"),
    Binding("right", "nudge(5)", "5 s on", id="sit.later", key_display="→", show=False, tooltip="5 s on in it"),
]


class Recording(Course):
    """Keeps the screen where the player of the recording is."""

    @property
    def recorded(self) -> RecordedSitting | None:
        """The sitting in hand, where it is logged from a recording."""
        live = self.live
        return live if isinstance(live, RecordedSitting) else None

    def beside(self) -> str:
        """Where the recording stands, and who else watches."""
        live, recorded = self.live, self.recorded
        said = []
        if recorded is not None and recorded.state.recording is not None:
            player = recorded.player
            how = "plays" if player.playing else "stands"
            speed = f", {player.speed:g} times as fast" if player.speed != 1 else ""
            late = "; what is marked here is marked late" if recorded.behind else ""
            file = clipped(legible(recorded.state.recording[0].rpartition("/")[2]), 32)
            said.append(f"{file} {how} at {clock_text(player.position_ns)}{speed}{late}")
        if live is not None and live.state.observers:
            names = ", ".join(sorted(live.state.observers))
            said.append(f"{legible(names)} {'watches' if len(live.state.observers) == 1 else 'watch'} too")
        return f" {self.signs.dot} ".join(said)

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Only a recording can be moved."""
        if action in ("play", "nudge", "time_code") and self.is_mounted and self.recorded is None:
            return False
        return super().check_action(action, parameters)

    def action_play(self) -> None:
        """Let the recording's clock run, or stand."""
        if self.recorded is not None:
            self.recorded.player.toggle()
            self._tick()

    def action_nudge(self, seconds: int) -> None:
        """A little on or back."""
        if self.recorded is not None:
            self.recorded.player.nudge(seconds)
            self._tick()

    def action_time_code(self) -> None:
        """Type or paste where the player stands, and how fast it plays."""
        recorded = self.recorded
        if recorded is not None:
            at = clock_text(recorded.player.position_ns)
            self.ask_words(f"the player stands at (now {at}; 12:31, or 12:31 x1.5)", self._go_to, cancelled=self.ask_on)

    def _go_to(self, text: str) -> bool:
        recorded = self.recorded
        if recorded is None or not text.strip():
            return True
        done = self.attempt(lambda: recorded.player.go_to(*read_code(text)))
        self._tick()
        if done:
            self.ask_soon(self.ask_on)
        return done

    @on(events.Paste)
    def _pasted(self, event: events.Paste) -> None:
        """A time code that is pasted is where the player stands."""
        if self.recorded is not None and not self.asking:
            event.stop()
            self._go_to(event.text)
