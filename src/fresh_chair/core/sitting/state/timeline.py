"""The time of each entry since the sitting began: one line of time for all authors."""

from dataclasses import dataclass

from fresh_chair.core.clock import Moment, elapsed_ns


def signed_ns(earlier: Moment, later: Moment) -> int:
    """Nanoseconds from one moment to another; negative within one boot where the second came first."""
    return later.ticks_ns - earlier.ticks_ns if earlier.boot == later.boot else elapsed_ns(earlier, later)


@dataclass(slots=True)
class Timeline:
    """Where on the line the latest entry stands.

    Two people's entries can reach the disk in another order than their keys were pressed: each stands where its key
    was, and only the moderator's own never go back.

    Attributes:
        last: The latest moment of all.
        at_ns: That moment, since the sitting began.
        own_ns: The latest one of the moderator's.
    """

    last: Moment | None = None
    at_ns: int = 0
    own_ns: int = 0

    def at(self, moment: Moment) -> int:
        """Nanoseconds from the beginning of the sitting to a moment."""
        return 0 if self.last is None else max(self.at_ns + signed_ns(self.last, moment), 0)

    def take(self, moment: Moment, *, observed: bool = False, alive: Moment | None = None) -> int:
        """Put an entry on the line; returns where it stands.

        Args:
            moment: When its key was pressed.
            observed: True for a second observer's.
            alive: For an entry after a gap: the last sign of life. Ticks as far as they reach, the wall clock only
                for the gap itself.
        """
        if alive is not None and self.last is not None:
            at_ns = self.at_ns + signed_ns(self.last, alive) + elapsed_ns(alive, moment)
        else:
            at_ns = self.at(moment)
        if not observed:
            at_ns = self.own_ns = max(at_ns, self.own_ns)
        if self.last is None or at_ns >= self.at_ns:
            self.last, self.at_ns = moment, at_ns
        return at_ns
