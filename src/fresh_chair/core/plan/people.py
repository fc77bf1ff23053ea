"""The people of a study: codes, their background, and their consents."""

import re
from collections.abc import Sequence
from dataclasses import field
from typing import Annotated, ClassVar, Literal

from fresh_chair.core.bounds import Ge, Le
from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fields import FORBID, Line, Words, require_date, require_name
from fresh_chair.core.text import legible

CODE_PATTERN = re.compile(r"[A-Za-z0-9][A-Za-z0-9_-]{0,15}")
Role = Literal["participant", "pilot", "expert", "reviewer"]
Linux = Literal["", "never", "tried it", "uses it"]


def participant_code(text: str) -> str:
    """The text as a participant's code, or an error with the form of a code: law 6.

    Raises:
        InputError: Where it is anything but 1 to 16 letters, digits, - or _.
    """
    if CODE_PATTERN.fullmatch(text):
        return text
    shown = legible(text[:24]) + ("…" if len(text) > 24 else "")
    raise InputError(
        f"“{shown}” cannot be a participant's code.",
        "A code is 1 to 16 letters, digits, - or _, and starts with a letter or digit, such as P07.",
    )


@frozen(kw_only=True)
class Participant:
    """A person who sits down, known by a code and by nothing that identifies them.

    Attributes:
        role: A participant; or a pilot, the expert or a reviewer, whose sittings are kept and never counted.
        uses: What they use daily, and `uses_for` how long they have.
        comfort: How much at ease with computers, 1 to 5, in their own words' place.
        answers: To the screener's questions, by the question's id.
        consents: The day on which they agreed, by what they agreed to.
        left: Why they do not take part any more; empty while they do.
        replaces: The code of the one whose place they took.
        erased: The day on which what identifies them was removed.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    code: str
    role: Role = "participant"
    group: Words = ""
    profile: Words = ""
    uses: Words = ""
    uses_for: Words = ""
    comfort: Annotated[int, Ge(1), Le(5)] | None = None
    linux: Linux = ""
    language: Words = ""
    aids: Words = ""
    answers: dict[str, Words] = field(default_factory=dict)
    consents: dict[str, str] = field(default_factory=dict)
    left: Words = ""
    replaces: str = ""
    erased: str = ""

    def __post_init__(self) -> None:
        try:
            participant_code(self.code)
        except InputError as problem:
            raise ValueError(f"{problem.title} {problem.hint}") from None
        for what, day in self.consents.items():
            require_date(f"the consent to {legible(what)}", day or "none")
        require_date("the day of erasing", self.erased)

    @property
    def is_newcomer(self) -> bool:
        """True for participants and pilots, who are seated and asked by a moderator."""
        return self.role in ("participant", "pilot")

    @property
    def counts(self) -> bool:
        """True for those whom every figure counts."""
        return self.role == "participant"


def code_alone(person: Participant) -> Participant:
    """A person as the world outside the study may know them: their part in it, nothing of who they are."""
    return Participant(
        code=person.code,
        role=person.role,
        group=person.group,
        left=person.left and "left",
        replaces=person.replaces,
        erased=person.erased,
    )


@frozen(kw_only=True)
class ScreenerQuestion:
    """One question asked before an invitation, with the rule for its answer.

    Attributes:
        accept: The answers that let somebody in, compared without regard to case; empty where any answer does.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    ask: Line
    accept: tuple[Line, ...] = ()

    def __post_init__(self) -> None:
        require_name("a question's id", self.id)


@frozen(kw_only=True)
class Consent:
    """A consent; those that are needed come before the person sits down."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    id: str
    words: Line
    needed: bool = True

    def __post_init__(self) -> None:
        require_name("a consent's id", self.id)


@frozen
class Screened:
    """The screener's result for a person.

    Attributes:
        result: passed, failed, open where an answer is missing, or none where nothing is asked.
        reasons: Why not passed, one a question.
    """

    result: Literal["passed", "failed", "open", "none"]
    reasons: tuple[str, ...] = ()


def screened(person: Participant, screener: Sequence[ScreenerQuestion]) -> Screened:
    """Whether a person is one the study asks for; the expert and reviewers are asked nothing."""
    if not screener or not person.is_newcomer or person.erased:
        return Screened("none")
    failed, missing = [], []
    for question in screener:
        answer = person.answers.get(question.id, "").strip()
        if not answer:
            missing.append(f"{question.id} was not answered")
        elif question.accept and answer.casefold() not in {each.casefold() for each in question.accept}:
            failed.append(f"{question.id}: “{answer}” is none of {', '.join(question.accept)}")
    if failed:
        return Screened("failed", tuple(failed))
    return Screened("open", tuple(missing)) if missing else Screened("passed")


def lacking_consents(person: Participant, consents: Sequence[Consent]) -> tuple[str, ...]:
    """The needed consents that a person has not given yet."""
    if not person.is_newcomer or person.erased or person.left:
        return ()
    return tuple(consent.id for consent in consents if consent.needed and consent.id not in person.consents)


@frozen(kw_only=True)
class Erasure:
    """The trace of an erased person: when, by whom, and whether their figures stayed.

    Attributes:
        participant: Their code; or the entry (finding:12) whose words about them were replaced afterwards.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    participant: str
    wall_ns: int
    author: str
    figures_kept: bool
