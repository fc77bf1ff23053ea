"""Records of a finding: hypotheses of its cause, trials, workarounds, excuses, and whether it comes and goes.

Each is whole; a change is the record again under the same id, and the earlier one stays in the file.
"""

from typing import Annotated, ClassVar, Literal, get_args

from fresh_chair.core.bounds import Ge, Le, MaxLen, MinLen
from fresh_chair.core.evidence.targets import Target, require_target
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Reason
from fresh_chair.core.plan.chairs import Severity
from fresh_chair.core.plan.fields import FORBID, Line, Words, require_date
from fresh_chair.core.text import count_of

Id = Annotated[str, MinLen(1), MaxLen(40)]
Short = Annotated[str, MaxLen(200)]
Count = Annotated[int, Ge(0), Le(100_000)]
FindingSort = Literal["problem", "strength", "oddity", "matter of taste", "request"]
Lies = Literal[
    "not known", "this desktop", "a program", "the base", "a driver or the machine", "the virtual machine",
    "network or bench", "the card or the study", "the person's habit",
]  # fmt: skip
CauseSure = Literal["a guess", "plausible", "likely", "shown", "ruled out"]
TrialResult = Literal["helped", "changed nothing", "made it worse"]
Skill = Literal["not said", "a newcomer finds it", "with help", "an expert"]
Lasts = Literal["not known", "yes", "until the next start", "no"]
Helped = Literal["not tried", "yes", "in part", "no"]
ExcuseSort = Literal["early release", "old or virtual machine", "habit", "standing fault"]
How = Literal[
    "not said", "once", "every time", "sometimes", "could not be had again", "expected and did not come"
]  # fmt: skip


@frozen(kw_only=True)
class Cause:
    """One hypothesis of why a finding is so.

    Attributes:
        lies: Where it lies.
        sure: How sure it is; ruled out is an answer, too.
        reason: Why it is thought, or why it was changed; a guess may stand without one.
        ruled_out_by: By which trial, control or fact it was ruled out.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    words: Line
    lies: Lies = "not known"
    sure: CauseSure = "a guess"
    reason: Annotated[str, MaxLen(2000)] = ""
    ruled_out_by: Short = ""

    def __post_init__(self) -> None:
        if self.sure != "a guess" and not self.reason.strip():
            raise ValueError("a cause that is more than a guess has a reason")
        if self.ruled_out_by and self.sure != "ruled out":
            raise ValueError("a cause that something has ruled out is ruled out")


@frozen(kw_only=True)
class Trial:
    """One attempt to find a cause, and its result.

    Attributes:
        cause: The hypothesis that was put to the test, by its id; empty for none.
        when: A day such as 2026-11-20.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    tried: Line
    result: TrialResult
    cause: Annotated[str, MaxLen(40)] = ""
    when: str = ""
    by: Short = ""
    note: Words = ""

    def __post_init__(self) -> None:
        require_date("when it was tried", self.when)


@frozen(kw_only=True)
class Workaround:
    """A way around a finding.

    Attributes:
        takes: How long it takes.
        rights: Which rights it needs.
        lasts: Whether it stays.
        helped: Whether it helped who tried it.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    steps: Annotated[Words, MinLen(1)]
    takes: Short = ""
    skill: Skill = "not said"
    rights: Short = ""
    risk: Short = ""
    lasts: Lasts = "not known"
    helped: Helped = "not tried"
    tried_by: Short = ""

    @property
    def known_to_newcomers(self) -> bool:
        """True where a newcomer comes upon it alone, and it helps: only such a one makes a finding less severe."""
        return self.skill == "a newcomer finds it" and self.helped in ("yes", "in part")


@frozen(kw_only=True)
class Excuse:
    """A reason to forgive a finding; the severity as met stays beside the excused one.

    Attributes:
        by: The fault, the alteration, the chair, ... that excuses it.
        severity: The excused value, never above the one as met; a habit or a matter of taste excuses without one.
        again: When it is to be looked at again.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    sort: ExcuseSort
    reason: Reason
    severity: Severity | None = None
    by: Target = ""
    again: Short = ""

    def __post_init__(self) -> None:
        if self.severity is None and self.sort != "habit":
            raise ValueError("say how bad it is, excused")
        require_target("what excuses it", self.by)


@frozen(kw_only=True)
class Occurrence:
    """Whether a finding comes back: in how many of how many tries, or how often a notice came.

    Attributes:
        met, tries: In how many tries it came, of how many.
        count: How often a recurring notice came.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    how: How = "not said"
    met: Count | None = None
    tries: Count | None = None
    count: Count | None = None
    note: Words = ""

    def __post_init__(self) -> None:
        if self.met is not None and (self.tries is None or self.met > self.tries):
            raise ValueError("it came in no more tries than there were")

    @property
    def words(self) -> str:
        """It in words.

        >>> Occurrence(how="sometimes", met=2, tries=5).words
        'sometimes (2 of 5 tries)'
        """
        tries = f" ({self.met} of {self.tries} tries)" if self.met is not None else ""
        count = f", {count_of(self.count, 'time')} in all" if self.count is not None else ""
        return f"{self.how}{tries}{count}"


FindingPart = Cause | Trial | Workaround | Excuse
PARTS: dict[str, type[FindingPart]] = {
    "cause": Cause, "trial": Trial, "workaround": Workaround, "excuse": Excuse,
}  # fmt: skip
PartKind = Literal["cause", "trial", "workaround", "excuse"]
FINDING_SORTS: tuple[FindingSort, ...] = get_args(FindingSort)


def part_kind(part: FindingPart) -> str:
    """The name of a part's kind.

    >>> part_kind(Trial(id="a", tried="another cable", result="helped"))
    'trial'
    """
    return type(part).__name__.lower()
