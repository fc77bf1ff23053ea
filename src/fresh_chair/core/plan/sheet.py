"""The study sheet: audiences, sponsor, thresholds and dates."""

from dataclasses import field
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words, repeated, require_date, require_name, require_time
from fresh_chair.core.plan.people import Consent, ScreenerQuestion

Measure = Literal["completion", "time", "ease", "satisfaction", "severity"]
# Completion as the primary measure is completion unaided.
Primary = Literal["", "who fared better", "completed unaided", "time", "ease", "satisfaction"]
Day = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
DAYS: tuple[Day, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
MEASURE_WORDS = {
    "completion": "at least {0:.0%} of attempts completed, unaided or with help",
    "time": "hands time at most {0:g} times the expert's",
    "ease": "an ease of at least {0:g} of 7",
    "satisfaction": "a System Usability Scale of at least {0:g} of 100",
    "severity": "no finding more severe than {0:g}",
}
_MEASURE_RANGE = {
    "completion": (0, 1),
    "time": (1, 100),
    "ease": (1, 7),
    "satisfaction": (0, 100),
    "severity": (0, 4),
}

# Scales of the study's own go from 1 to as many as this.
MOST_POINTS = 11


@frozen(kw_only=True)
class Audience:
    """One kind of reader's user, with the measures that matter to them."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    name: Line
    needs: Words = ""


AUDIENCES = (
    Audience(name="complete newcomer", needs="first steps without help; nothing that frightens"),
    Audience(name="switcher", needs="finds what they know under another name"),
    Audience(name="supported relative", needs="few questions, nothing that breaks, help from afar"),
    Audience(name="office", needs="documents, printing, shared folders, updates that do not interrupt"),
    Audience(name="school", needs="many alike machines, limits for pupils, quick to put back"),
    Audience(name="tinkerer", needs="room to change everything, and a way back"),
    Audience(name="old hardware", needs="starts and answers quickly on little memory"),
    Audience(name="assistive needs", needs="large type, contrast, keyboard alone, speech"),
    Audience(name="player", needs="graphics drivers, controllers, games that start"),
)


@frozen(kw_only=True)
class Threshold:
    """A level decided beforehand to be good enough.

    Attributes:
        value: A share of 1 for completion, times the benchmark for time, 1 to 7 for ease, 0 to 100 for satisfaction,
            0 to 4 for the worst severity allowed.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    measure: Measure
    value: float
    why: Words = ""

    def __post_init__(self) -> None:
        low, high = _MEASURE_RANGE[self.measure]
        if not low <= self.value <= high:
            raise ValueError(f"a threshold of {self.measure} lies between {low} and {high}, not at {self.value:g}")

    @property
    def words(self) -> str:
        """The threshold as it is spoken of."""
        return MEASURE_WORDS[self.measure].format(self.value)


@frozen(kw_only=True)
class Group:
    """People who sit at some of the chairs only."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    name: Line
    chairs: tuple[str, ...]


@frozen(kw_only=True)
class StudyQuestion:
    """A question of the study's own, beside ease and the usability scale.

    Attributes:
        kind: A scale from 1 on, a choice, or free words.
        points: How far a scale goes.
        low, high: What the ends of a scale mean.
        choices: What can be chosen, up to nine.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    ask: Line
    when: Literal["after each card", "after the sitting"] = "after the sitting"
    kind: Literal["scale", "choice", "words"] = "scale"
    low: Words = ""
    high: Words = ""
    choices: tuple[Line, ...] = ()
    points: Annotated[int, Ge(2), Le(MOST_POINTS)] = 7

    def __post_init__(self) -> None:
        require_name("a question's id", self.id)
        if self.kind == "choice" and not 2 <= len(self.choices) <= 9:
            raise ValueError(f"question {self.id} offers {len(self.choices)} choices; two to nine can be offered")


@frozen(kw_only=True)
class Timetable:
    """When sittings are held: from which day on, on which weekdays, beginning at which times of the day."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    first_day: str = ""
    days: tuple[Day, ...] = DAYS[:5]
    starts: tuple[str, ...] = ("09:30", "11:00", "14:00", "15:30")
    place: Words = ""

    def __post_init__(self) -> None:
        require_date("the first day", self.first_day)
        for start in self.starts:
            require_time("the start of a sitting", start)


# Which time every figure of times is taken from, and which interval stands beside a completion rate.
TimeMeasure = Literal["hands", "elapsed"]
RateInterval = Literal["adjusted Wald", "Clopper-Pearson"]


@frozen(kw_only=True)
class Comparing:
    """How chairs are to be compared over all tasks, decided before anyone sits down.

    Attributes:
        primary: The measure that answers the question; all others are secondary. Empty where none was chosen.
        pairs: Letters of the chairs that are compared, such as A-B; empty for every pair.
        margin_fared: The smallest net share of people faring better that matters, of 1.
        margin_time: The smallest ratio of times that matters.
        margin_completion: The smallest difference of completion that matters, in points of 100.
        margin_ease, margin_satisfaction: Likewise, in points of their scales.
        times: Hands time, or elapsed time with the machine's share in it; one of them in every figure.
        interval: Of completion rates.
        by_group: Whether the groups of people were the question; otherwise they are looked at afterwards.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    primary: Primary = ""
    pairs: tuple[str, ...] = ()
    margin_fared: Annotated[float, Ge(0.01), Le(1)] = 0.2
    margin_time: Annotated[float, Ge(1.01), Le(10)] = 1.25
    margin_completion: Annotated[float, Ge(1), Le(100)] = 15
    margin_ease: Annotated[float, Ge(0.1), Le(6)] = 0.5
    margin_satisfaction: Annotated[float, Ge(1), Le(100)] = 8
    times: TimeMeasure = "hands"
    interval: RateInterval = "adjusted Wald"
    by_group: bool = False

    def __post_init__(self) -> None:
        for pair in self.pairs:
            first, sign, second = pair.partition("-")
            if not (sign and first and second) or first == second:
                raise ValueError(f"a pair is two chairs such as A-B, not {pair}")

    @property
    def pairs_of_letters(self) -> list[tuple[str, str]]:
        """The pairs, as the letters of both chairs."""
        return [(first, second) for first, _, second in (pair.partition("-") for pair in self.pairs)]


@frozen(kw_only=True)
class Sheet:
    """The decisions about a study as a whole, beside its title and question.

    Attributes:
        paid_by: Who pays for it, and who lent what: the disclosure every report prints.
        minutes_per_sitting: How long a participant was promised it would take.
        minutes_apart: Of these, for welcome, consent and the questionnaire, without any card.
        greeting: What is read aloud when somebody sits down.
        ask_expectation: Whether people are asked before each card how easy they expect it to be.
        questions: What else is asked, after each card or after the sitting.
        ask_preference: Whether people are asked after their last chair which they would rather have.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    audiences: tuple[Audience, ...] = ()
    paid_by: Words = ""
    thresholds: tuple[Threshold, ...] = ()
    minutes_per_sitting: Annotated[int, Ge(5), Le(480)] = 60
    minutes_apart: Annotated[int, Ge(0), Le(120)] = 8
    screener: tuple[ScreenerQuestion, ...] = ()
    consents: tuple[Consent, ...] = ()
    groups: tuple[Group, ...] = ()
    timetable: Timetable = field(default_factory=Timetable)
    comparing: Comparing = field(default_factory=Comparing)
    greeting: Words = ""
    ask_expectation: bool = False
    questions: tuple[StudyQuestion, ...] = ()
    ask_preference: bool = False

    def problems(self, letters: set[str]) -> list[str]:
        """Contradictions of the sheet, where these are the chairs."""
        found = [
            *repeated("audience", [audience.name.casefold() for audience in self.audiences]),
            *repeated("screener question", [question.id for question in self.screener]),
            *repeated("consent", [consent.id for consent in self.consents]),
            *repeated("question", [question.id for question in self.questions]),
            *repeated("group", [group.name for group in self.groups]),
        ]
        found += repeated("pair", [" and ".join(sorted(pair)) for pair in self.comparing.pairs_of_letters])
        found += [
            f"the pair {first}-{second} names no chair that is listed: {letter}"
            for first, second in self.comparing.pairs_of_letters
            for letter in (first, second)
            if letter not in letters
        ]
        for group in self.groups:
            found += repeated(f"group {group.name}'s chair", group.chairs)
            found += [
                f"group {group.name} names no chair that is listed: {c}" for c in group.chairs if c not in letters
            ]
        return found
