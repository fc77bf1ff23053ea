"""A sitting logged from a recording: where it stands, and the keys that move it."""

from fresh_chair.core.clock import clock_text
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.recording import RecordedSitting, read_code
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.dialogue import asks


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
            following = self.sit.session.following
            if following is not None:
                said.append(following.words)
        if live is not None and live.state.observers:
            names = ", ".join(sorted(live.state.observers))
            said.append(f"{legible(names)} {'watches' if len(live.state.observers) == 1 else 'watch'} too")
        return f" {self.sit.signs.dot} ".join(said)

    def may(self, act: str, *arguments: object) -> bool:
        """Only a recording can be moved."""
        return self.recorded is not None

    def led(self) -> bool:
        """Bring the recording's clock to where a followed player is; True where that changed anything."""
        following, recorded = self.sit.session.following, self.recorded
        if following is None or recorded is None:
            return False
        if following.problem is not None:
            self.sit.session.following = None
            self.sit.tell_problem(following.problem)
            return True
        return following.lead(recorded.player)

    @asks
    async def follow(self) -> None:
        """Follow a player of this machine: play, pause and seek there move the clock here; or follow it no longer."""
        from fresh_chair.services.sitting.player_following import PlayerFollowing, players_here

        session = self.sit.session
        if session.following is not None:
            session.following.stop()
            session.following = None
            self.sit.tick()
            self.sit.tell("No player is followed any more; the recording is moved by hand.")
            return
        found: list[str] = []
        if not self.sit.attempt(lambda: found.extend(players_here())):
            return
        if not found:
            self.sit.tell("No player of this machine can be asked; open the recording in one, or move it by hand.")
            return
        names = [legible(clipped(name, 24)) for name in found]
        at = 0 if len(found) == 1 else await self.sit.ask_one_of("follow which player?", names)
        if at is not None:
            session.following = PlayerFollowing(found[at])
            session.following.start()
            self.sit.tell(f"{names[at]} is followed: play, pause and seek there.")

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

    @asks
    async def time_code(self) -> None:
        """Type or paste where the player stands, and how fast it plays."""
        recorded = self.recorded
        if recorded is None:
            return
        at = clock_text(recorded.player.position_ns)
        if await self.sit.ask_until(f"the player stands at (now {at}; 12:31, or 12:31 x1.5)", self._go_to):
            await self.sit.drawn()
        self.sit.ask_on()

    def _go_to(self, text: str) -> bool:
        recorded = self.recorded
        if recorded is None or not text.strip():
            return True
        done = self.sit.attempt(lambda: recorded.player.go_to(*read_code(text)))
        self.sit.tick()
        return done

    def pasted(self, text: str) -> bool:
        """Take a pasted time code as where the player stands; False where it is none of a recording's."""
        if self.recorded is None or self.sit.asking:
            return False
        if self._go_to(text):
            self.sit.ask_on()
        return True
