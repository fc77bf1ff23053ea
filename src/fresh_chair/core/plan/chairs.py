"""Chairs, and the machines they stand on."""

import re
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le
from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words, require_date, require_name
from fresh_chair.core.text import legible

Stage = Literal["", "stable", "long-term", "beta", "candidate", "rolling snapshot"]
State = Literal["live", "fresh", "upgraded", "in use"]
PutBack = Literal["fresh copy", "by hand"]
Severity = Annotated[int, Ge(0), Le(4)]


@frozen(kw_only=True)
class Fault:
    """A standing fault of a machine, and the troubles it may excuse: never more than it can cause."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    what: Line
    excuses: Words = ""


@frozen(kw_only=True)
class Machine:
    """A computer that one or more chairs stand on.

    Attributes:
        virtual: Whether it is one of a virtual machine; None where nobody said so.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    name: Line
    virtual: bool | None = None
    processor: Words = ""
    memory: Words = ""
    disk: Words = ""
    display: Words = ""
    faults: tuple[Fault, ...] = ()

    def __post_init__(self) -> None:
        require_name("a machine's id", self.id)

    @property
    def kind(self) -> str:
        """Real or virtual; empty where that was not said."""
        return "" if self.virtual is None else "virtual" if self.virtual else "real"


@frozen(kw_only=True)
class Chair:
    """One machine with one distribution on it, in one known state.

    Attributes:
        stage: Of the release; empty where nobody said so.
        snapshot: The date of a rolling snapshot.
        machine: The id of the machine it stands on.
        state: Run from the medium, freshly installed, upgraded from an earlier release, or in use already.
        in_use_for: How long, where it is in use.
        installed: The choices made at installation.
        put_back: Whether everyone gets a copy as it was at first boot, or it is put back by hand. What can be seen
            once per installation can be seen by everyone only on a fresh copy.
        labels: What places and programs are called there, for the check of what gives an answer away.
        hue: Which of the hues it has, from 1; 0 for the one of its letter.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    letter: str
    name: Line
    release: Line
    edition: Words = ""
    stage: Stage = ""
    snapshot: str = ""
    base: Words = ""
    desktop: Line
    kernel: Words = ""
    medium: Words = ""
    package_formats: tuple[Line, ...] = ()
    state: State = "fresh"
    in_use_for: Words = ""
    installed: Words = ""
    put_back: PutBack = "fresh copy"
    machine: str
    alterations: tuple[Words, ...] = ()
    labels: tuple[Line, ...] = ()
    hue: Annotated[int, Ge(0), Le(8)] = 0

    def __post_init__(self) -> None:
        if not re.fullmatch("[A-Z]", self.letter):
            raise ValueError(f"a chair's letter is one of A to Z, not {legible(self.letter[:12])!r}")
        require_date("a snapshot", self.snapshot)
        if self.snapshot and self.stage != "rolling snapshot":
            raise ValueError("only a rolling snapshot has the date of a snapshot")

    @property
    def title(self) -> str:
        """Distribution and release, as it is spoken of."""
        return f"{self.name} {self.release}"


@frozen(kw_only=True)
class CarriedFinding:
    """A finding of an earlier study, carried over with the chair it was met at.

    Attributes:
        sort: A finding, or something that pleased.
        seen_by: Counted people who met it then, of `tried` who tried what it was met on; `uncounted` besides.
        source: Title of the study it comes from.
        cards: The cards it was met on there.
        number: Its number there; 0 for none.
        life: Gone where it had been met before that study, and not in it.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    chair: str
    title: Line
    sort: Literal["finding", "delight"] = "finding"
    severity: Severity | None = None
    seen_by: Annotated[int, Ge(0)] = 0
    tried: Annotated[int, Ge(0)] = 0
    uncounted: Annotated[int, Ge(0)] = 0
    source: Line
    source_id: str
    cards: tuple[str, ...] = ()
    number: Annotated[int, Ge(0)] = 0
    life: Literal["", "gone"] = ""

    @property
    def words(self) -> str:
        """Who met it then, and where it comes from."""
        if self.sort == "delight":
            met = "a delight"
        elif self.life:
            met = f"gone then, met before; tried by {self.tried}"
        elif self.tried:
            met = f"met by {self.seen_by} of {self.tried} then"
        else:
            met = "met by a pilot or the expert only" if self.uncounted else "met then"
        return f"{met}, in {self.source}"


def chair_parts(through: str) -> tuple[str, str, str]:
    """Distribution, release and desktop of a chair as it is typed, empty where left out. Raises InputError for none."""
    name, release, desktop = (*(part.strip() for part in through.split("|")), "", "")[:3]
    if not name:
        raise InputError("Say what is walked through: distribution | release | desktop.", "Nothing was made.")
    return name, release, desktop
