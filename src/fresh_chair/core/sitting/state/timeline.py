"""The time of each entry since the sitting began: the moderator's own line, and others' marks put on it."""

from dataclasses import dataclass, field

from fresh_chair.core.clock import Moment, elapsed_ns


def signed_ns(earlier: Moment, later: Moment) -> int:
    """Nanoseconds from one moment to another; negative within one boot where the second came first."""
    return later.ticks_ns - earlier.ticks_ns if earlier.boot == later.boot else elapsed_ns(earlier, later)


@dataclass(slots=True)
class Timeline:
    """Where on the line the moderator's latest entry stands.

    Two people's entries can reach the disk in another order than their keys were pressed: each stands where its key
    was, and only the moderator's own never go back. The line is the moderator's clock alone. Another machine's clock
    may be hours off: it is laid on the line once, by the two wall clocks and what is known of their difference, and
    from there on its own ticks count. It never moves what the moderator logged.

    Attributes:
        last: The moderator's latest moment; before there is one, the first of anybody's.
        at_ns: The latest moment of all, since the sitting began.
        own_ns: The latest one of the moderator's.
        others: By the boot of another machine, its latest moment and where that stands.
    """

    last: Moment | None = None
    at_ns: int = 0
    own_ns: int = 0
    others: dict[str, tuple[Moment, int]] = field(default_factory=dict)

    def at(self, moment: Moment, *, ahead_ns: int = 0) -> int:
        """Nanoseconds from the beginning of the sitting to a moment.

        Args:
            moment: By any machine's clock.
            ahead_ns: By how much the wall clock of another machine is known to be ahead of the moderator's.
        """
        if self.last is None:
            return 0
        before, at_ns = self.others.get(moment.boot, (self.last, self.own_ns))
        if before.boot == moment.boot:
            return max(at_ns + moment.ticks_ns - before.ticks_ns, 0)
        return max(self.own_ns + moment.wall_ns - ahead_ns - self.last.wall_ns, 0)

    def take(
        self,
        moment: Moment,
        *,
        observed: bool = False,
        afterwards: bool = False,
        alive: Moment | None = None,
        ahead_ns: int = 0,
    ) -> int:
        """Put an entry on the line; returns where it stands.

        Args:
            moment: When its key was pressed.
            observed: True for a second observer's.
            afterwards: True for the moderator's word on earlier entries, said then or days later: it stands where it
                was said, and the line goes on as though it had not been.
            alive: For an entry after a gap: the last sign of life. Ticks as far as they reach, the wall clock only
                for the gap itself.
            ahead_ns: As for `at`.
        """
        if observed and self.last is not None:
            at_ns = self.at(moment, ahead_ns=ahead_ns)
            if moment.boot != self.last.boot:
                self.others[moment.boot] = (moment, at_ns)
            self.at_ns = max(self.at_ns, at_ns)
            return at_ns
        if self.last is not None and afterwards:
            return max(self.own_ns + signed_ns(self.last, moment), self.own_ns)
        if self.last is None:
            at_ns = 0
        elif alive is not None:
            at_ns = self.own_ns + signed_ns(self.last, alive) + elapsed_ns(alive, moment)
        else:
            at_ns = self.own_ns + signed_ns(self.last, moment)
        self.last, self.own_ns = moment, max(at_ns, self.own_ns)
        self.at_ns = max(self.at_ns, self.own_ns)
        return self.own_ns
