"""Records about a chair, by hand or from the probe: claims, readings, installation, defaults, looks.

Each record is whole; a change is the record again under the same id, and the earlier one stays in the file.
"""

from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import MaxLen
from fresh_chair.core.chair.record_time import require_at
from fresh_chair.core.checks.parser import read_check
from fresh_chair.core.evidence.kinds import OWN, Evidence, Said
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words, require_date

Id = Annotated[str, MaxLen(40)]
Short = Annotated[str, MaxLen(200)]
ClaimAnswer = Literal[
    "not looked at",
    "as promised",
    "partly",
    "not so",
    "newer through an update",
    "cannot be tested here",
    "taken on trust",
]
Trust = Literal["trusted", "doubted", "not looked at closely"]
Precision = Literal["measured", "range", "at least", "at most", "about", "share", "version", "felt"]
Power = Literal["not known", "mains", "battery"]
Online = Literal["not known", "online", "offline"]
Medium = Literal["not known", "installed", "live"]
StepKind = Literal[
    "on the disk before", "step", "machine at work", "question", "decided without asking", "error", "repair", "restart",
    "note",
]  # fmt: skip
Asked = Literal["not looked at", "asked", "silent", "not there"]
Switch = Literal["not known", "on", "off"]
Wording = Literal["not looked at", "honest", "one-sided", "misleading", "no words at all"]
Effect = Literal["not judged", "helpful", "misleading", "frightening", "nagging", "absent where needed"]
Fit = Literal["not looked at", "fits", "partly", "does not fit", "not legible"]
# Defaults that matter to the one who will own the machine.
CONSENT_ITEMS = (
    "data sharing",
    "location",
    "sign-ups",
    "automatic login",
    "encryption",
    "firewall",
    "update policy",
    "extra sources",
)


@frozen(kw_only=True)
class Claim:
    """A promise of the release notes or the site, held against the chair itself.

    Attributes:
        by, where, day: Who promises it, in which text, of which day.
        check: A check that answers it; empty where only a person can.
        note: What was found.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    promised: Line
    by: Short = ""
    where: Short = ""
    day: str = ""
    check: Annotated[str, MaxLen(600)] = ""
    answer: ClaimAnswer = "not looked at"
    note: Words = ""
    at: Short = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_at(self.at)
        require_date("the day of a claim", self.day)
        if self.check:
            read_check(self.check)


@frozen(kw_only=True)
class Reading:
    """One measured figure of a chair, with its method, its conditions and its trust.

    Attributes:
        low: The value; the lower end of a range, or how many of a share; None for a version and what was only felt.
        high: The upper end of a range.
        of: Of how many a share is.
        version: The version, which is no number.
        felt: How it felt, where nothing was measured.
        typed: What was typed; empty where it was read off the chair, or came before that was kept.
        at: When it was read; empty for the moment at which it was put down.
        minutes_up: Minutes since the machine was started; None where not known.
        open_now: What was open besides.
        why: Why it is not trusted.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    what: Line
    unit: Short = ""
    precision: Precision = "measured"
    low: float | None = None
    high: float | None = None
    of: float | None = None
    version: Short = ""
    felt: Short = ""
    typed: Short = ""
    at: Short = ""
    evidence: Said = ""
    method: Short = ""
    minutes_up: float | None = None
    open_now: Short = ""
    network: Online = "not known"
    power: Power = "not known"
    medium: Medium = "not known"
    trust: Trust = "not looked at closely"
    why: Short = ""

    def __post_init__(self) -> None:
        require_at(self.at)
        if self.precision == "felt":
            if not self.felt.strip() or self.low is not None:
                raise ValueError("what was only felt has words and no number")
        elif self.precision == "version":
            if not self.version.strip() or self.low is not None:
                raise ValueError("a version is no number")
        elif self.low is None:
            raise ValueError("a reading has a number, unless it was only felt")
        if (self.of is not None) != (self.precision == "share"):
            raise ValueError("a share is of something, and nothing else is")
        if self.of is not None and self.low is not None and not 0 <= self.low <= self.of:
            raise ValueError("a share is no more than the whole")
        if (self.high is not None) != (self.precision == "range"):
            raise ValueError("a range has two ends, and nothing else has")
        if self.high is not None and self.low is not None and self.high < self.low:
            raise ValueError("the upper end of a range is not below the lower one")
        if self.trust == "doubted" and not self.why.strip():
            raise ValueError("a doubt needs a reason")


@frozen(kw_only=True)
class InstallStep:
    """One entry of an installation log; its time is that of the key.

    Attributes:
        chosen: The answer that was chosen, for a question; what was decided, where nobody was asked.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    step: StepKind
    words: Words = ""
    chosen: Short = ""
    at: Short = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_at(self.at)


@frozen(kw_only=True)
class FirstPage:
    """One page that the first boot shows.

    Attributes:
        preset: What is chosen where one only goes on.
        plain_next: What going on leads to.
        refuse: How to refuse.
        later: Where it can be changed later.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    page: Line
    preset: Short = ""
    plain_next: Short = ""
    refuse: Short = ""
    later: Short = ""
    once: bool = False
    at: Short = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_at(self.at)


@frozen(kw_only=True)
class ConsentItem:
    """One default or consent: whether it was asked, how it stands, how honest the words are, how to refuse.

    Attributes:
        source: Where how it stands was read; empty where a person saw it.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    item: Line
    asked: Asked = "not looked at"
    switch: Switch = "not known"
    wording: Wording = "not looked at"
    refuse: Short = ""
    later: Short = ""
    source: Short = ""
    note: Words = ""
    at: Short = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_at(self.at)


@frozen(kw_only=True)
class WarningMet:
    """A warning that the machine gave, or should have given."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    words: Line
    about: Short = ""
    effect: Effect = "not judged"
    note: Words = ""
    at: Short = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_at(self.at)


@frozen(kw_only=True)
class Look:
    """How one program fits the rest of the desktop."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    program: Line
    toolkit: Short = ""
    theme: Fit = "not looked at"
    dark: Fit = "not looked at"
    icons: Fit = "not looked at"
    letters: Fit = "not looked at"
    window_buttons: Fit = "not looked at"
    note: Words = ""
    at: Short = ""
    evidence: Said = ""

    def __post_init__(self) -> None:
        require_at(self.at)


Record = Claim | Reading | InstallStep | FirstPage | ConsentItem | WarningMet | Look
KINDS: dict[str, type[Record]] = {
    "claim": Claim,
    "reading": Reading,
    "install": InstallStep,
    "page": FirstPage,
    "consent": ConsentItem,
    "warning": WarningMet,
    "look": Look,
}
KIND_OF = {kind: name for name, kind in KINDS.items()}


def kind_of(record: Record) -> str:
    """A record's kind on disk."""
    return KIND_OF[type(record)]


def evidence_of(record: Record) -> Evidence:
    """How a record is known: as it says itself, or as is usual: measured where it was read off or is a number."""
    if record.evidence:
        return record.evidence
    match record:
        case Reading(precision="felt"):
            return "seen"
        case Reading():
            return "measured"
        case ConsentItem(source=source) if source:
            return "measured"
        case Claim(answer="taken on trust"):
            return "read about"
    return "seen"


def borrowed_words(record: Record) -> str:
    """How a record is known where that is not the reviewer's own evidence, to stand after it; empty where it is."""
    evidence = evidence_of(record)
    return "" if evidence in OWN else f" ({evidence})"


def number_text(number: float) -> str:
    """A number without superfluous digits.

    >>> number_text(412.0), number_text(5.25)
    ('412', '5.25')
    """
    return str(int(number)) if number == int(number) and abs(number) < 1e15 else f"{number:.8g}"


def reading_text(reading: Reading) -> str:
    """A reading in words: a value, a range, a bound, about so much, a share, a version, or felt."""
    if reading.precision == "felt":
        return f"felt: {reading.felt}"
    if reading.precision == "version":
        return reading.version
    if reading.low is None:
        return "nothing"
    unit = f" {reading.unit}" if reading.unit else ""
    if reading.precision == "range" and reading.high is not None:
        return f"{number_text(reading.low)} to {number_text(reading.high)}{unit}"
    if reading.precision == "share" and reading.of is not None:
        return f"{number_text(reading.low)} of {number_text(reading.of)}{unit}"
    lead = f"{reading.precision} " if reading.precision in ("at least", "at most", "about") else ""
    return f"{lead}{number_text(reading.low)}{unit}"
