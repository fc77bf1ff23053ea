"""A sitting logged from a recording: where it stands, and the keys that move it."""

from fresh_chair.core.clock import clock_text
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.recording import RecordedSitting, read_code
from fresh_chair.tui.sit.live.part import SitPart


class Player(SitPart):
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
        return f" {self.sit.signs.dot} ".join(said)

    def may(self, act: str, *arguments: object) -> bool:
        """Only a recording can be moved."""
        return self.recorded is not None

    def play(self) -> None:
        """Let the recording's clock run, or stand."""
        if self.recorded is not None:
            self.recorded.player.toggle()
            self.sit.tick()

    def nudge(self, seconds: int) -> None:
        """A little on or back."""
        if self.recorded is not None:
            self.recorded.player.nudge(seconds)
            self.sit.tick()

    def time_code(self) -> None:
        """Type or paste where the player stands, and how fast it plays."""
        recorded = self.recorded
        if recorded is not None:
            at = clock_text(recorded.player.position_ns)
            self.sit.ask_words(
                f"the player stands at (now {at}; 12:31, or 12:31 x1.5)", self._go_to, cancelled=self.sit.ask_on
            )

    def _go_to(self, text: str) -> bool:
        recorded = self.recorded
        if recorded is None or not text.strip():
            return True
        done = self.sit.attempt(lambda: recorded.player.go_to(*read_code(text)))
        self.sit.tick()
        if done:
            self.sit.ask_soon(self.sit.ask_on)
        return done

    def pasted(self, text: str) -> bool:
        """Take a pasted time code as where the player stands; False where it is none of a recording's."""
        if self.recorded is None or self.sit.asking:
            return False
        self._go_to(text)
        return True
