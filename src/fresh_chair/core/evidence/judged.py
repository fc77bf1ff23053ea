"""Records of judgement: verdicts for an audience, criteria and scores of scorecards, answers to contradictions."""

from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le, MaxLen
from fresh_chair.core.evidence.targets import Target, require_target, target_parts
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words, require_date

Id = Annotated[str, MaxLen(40)]
Short = Annotated[str, MaxLen(200)]
Letter = Annotated[str, MaxLen(1)]
VerdictSays = Literal[
    "recommended", "recommended if", "wait for", "not for them", "not for me to judge", "no clear winner"
]
# The figures a criterion can be mapped from; empty for the reviewer's own scores.
CriterionFigure = Literal[
    "", "completion", "completion unaided", "time", "ease", "satisfaction", "who fared better", "waits",
    "worst severity", "problems", "strengths", "claims kept",
]  # fmt: skip


@frozen(kw_only=True)
class ChairVerdict:
    """A verdict on a chair for an audience.

    Attributes:
        audience: For whom; empty for everyone.
        chair: The chair; empty where it is of a whole contest.
        condition: On what condition it is recommended, or what to wait for.
        firm: Whether it is meant to stay.
        relative_to: What it is measured against, in words.
        revises: The earlier verdict it takes the place of.
        met: When its condition was met, or the release came: it is open again from then on.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    chair: Letter = ""
    audience: Short = ""
    says: VerdictSays
    condition: Short = ""
    firm: Literal["provisional", "final"] = "provisional"
    relative_to: Short = ""
    why: Words = ""
    on: str = ""
    revises: Target = ""
    met: str = ""

    def __post_init__(self) -> None:
        require_date("the day of the verdict", self.on)
        require_date("the day its condition was met", self.met)
        require_target("the verdict it revises", self.revises)
        if self.revises and target_parts(self.revises)[0] != "verdict":
            raise ValueError("a verdict revises a verdict, such as verdict:ID")
        if self.says in ("recommended if", "wait for") and not self.condition.strip():
            raise ValueError(f"“{self.says}” needs the condition, or the release")
        if not self.chair and self.says != "no clear winner":
            raise ValueError("only “no clear winner” is of no chair")


@frozen(kw_only=True)
class Criterion:
    """A criterion of a scorecard.

    Attributes:
        scorecard: The scorecard it belongs to; empty where the study has one only.
        audience: For whom its weight holds; empty for everyone.
        weight: How much it counts, against the weights of the others.
        figure: The figure it is mapped from; empty where the reviewer scores it.
        worst, best: The values of that figure that give the lowest and the highest score, in between in proportion.
        low, high: The ends of the reviewer's scale.
        names: Names of the steps of the scale, from the lowest on; empty for plain numbers.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    name: Line
    scorecard: Short = ""
    audience: Short = ""
    weight: Annotated[float, Ge(0), Le(1000)] = 1
    figure: CriterionFigure = ""
    worst: float | None = None
    best: float | None = None
    low: float = 0
    high: float = 10
    names: tuple[Short, ...] = ()

    def __post_init__(self) -> None:
        if not self.low < self.high:
            raise ValueError("a scale goes from a lower to a higher value")
        if self.figure and (self.worst is None or self.best is None or self.worst == self.best):
            raise ValueError("say which values of the figure give the lowest and the highest score")
        if self.names and len(self.names) < 2:
            raise ValueError("a scale in words has two steps at least")


@frozen(kw_only=True)
class Score:
    """The reviewer's own score of a chair on a criterion, with its reason; links tie it to its evidence."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    criterion: Target
    chair: Letter
    value: float
    why: Words = ""

    def __post_init__(self) -> None:
        require_target("the criterion", self.criterion, needed=True)
        if target_parts(self.criterion)[0] != "criterion":
            raise ValueError("a score is of a criterion, such as criterion:ID")


@frozen(kw_only=True)
class ContradictionAnswer:
    """The reviewer's answer to a contradiction that the program listed.

    Attributes:
        about: The contradiction's key, as the list shows it.
        answer: Whether something was changed for it, or it stands.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: Id
    about: Short
    answer: Literal["changed", "stands"] = "stands"
    because: Words = ""
