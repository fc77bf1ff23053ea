"""The outcomes of an attempt, and how each counts."""

from enum import StrEnum


class Outcome(StrEnum):
    """The seven endings of an attempt, best first; void last, because it counts nowhere."""

    UNAIDED = "unaided"
    HELPED = "helped"
    PARTLY = "partly"
    GAVE_UP = "gave_up"
    OUT_OF_TIME = "out_of_time"
    BLOCKED = "blocked"
    VOID = "void"

    @property
    def words(self) -> str:
        """The ending as a reviewer says it."""
        return _WORDS[self]

    @property
    def sign(self) -> str:
        """The ending as one glyph, the same on screen and in charts."""
        return _SIGNS[self]

    @property
    def counts(self) -> bool:
        """False where the test failed, not the chair."""
        return self is not Outcome.VOID

    @property
    def completed(self) -> bool:
        """True where the goal was reached, alone or with help; the other endings censor the time."""
        return self in (Outcome.UNAIDED, Outcome.HELPED)

    @property
    def needs_reason(self) -> bool:
        """True where the ending is a statement about the test or the machine that must be backed."""
        return self in (Outcome.VOID, Outcome.BLOCKED)


_WORDS = {
    Outcome.UNAIDED: "completed unaided",
    Outcome.HELPED: "completed with help",
    Outcome.PARTLY: "partly done",
    Outcome.GAVE_UP: "gave up",
    Outcome.OUT_OF_TIME: "out of time",
    Outcome.BLOCKED: "blocked",
    Outcome.VOID: "void",
}
_SIGNS = dict(zip(Outcome, "■◆△□▷╳∅", strict=True))
