"""A study written down as a text: the TOML outline that `fresh-chair new --outline` reads."""

import tomllib
from dataclasses import dataclass
from typing import Any, ClassVar

from pydantic import TypeAdapter, ValidationError

from fresh_chair.core.errors import InputError
from fresh_chair.core.orders import seats_for
from fresh_chair.core.study import Chair, Line, Participant, Study, TaskCard, Words
from fresh_chair.core.text import legible

OUTLINE_VERSION = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Outline:
    """The outline as it stands in the file; docs/formats.md describes it field by field."""

    __pydantic_config__: ClassVar[dict[str, str]] = {"extra": "forbid"}

    outline: int
    title: Line
    question: Words = ""
    audience: Words = ""
    sample: bool = False
    seed: int = 1
    chairs: tuple[Chair, ...] = ()
    cards: tuple[TaskCard, ...] = ()
    people: tuple[Participant, ...] = ()


def study_from_outline(text: str, *, name: str, study_id: str) -> Study:
    """The study that an outline describes, with a seat for everyone at every chair.

    Args:
        text: The outline, TOML 1.0.
        name: What to call the text in an error, usually its file name.
        study_id: The id the new study gets.

    Raises:
        InputError: All problems at once, each as reason @ place.
    """
    try:
        raw = tomllib.loads(text)
    except tomllib.TOMLDecodeError as problem:
        raise InputError(f"{name} is not valid TOML: {legible(str(problem))}.", "Nothing was created.") from problem
    version = raw.get("outline")
    if version != OUTLINE_VERSION:
        raise InputError(
            f"{name} says outline = {version!r}, and this version reads outline = {OUTLINE_VERSION}.",
            "Put that line at its top, or use the version that wrote it.",
        )
    try:
        outline = TypeAdapter(Outline).validate_python(raw)
        return Study(
            id=study_id,
            title=outline.title,
            question=outline.question,
            audience=outline.audience,
            sample=outline.sample,
            seed=outline.seed,
            chairs=outline.chairs,
            cards=outline.cards,
            people=outline.people,
            seats=seats_for(outline.people, outline.chairs, outline.cards, seed=outline.seed),
        )
    except ValidationError as problem:
        raise InputError(f"{name} cannot be used as it is:\n{reasons(problem)}", "Nothing was created.") from problem
    except ValueError as problem:
        raise InputError(f"{name} cannot be used as it is: {problem}.", "Nothing was created.") from problem


def reasons(problem: ValidationError) -> str:
    """Every reason of a failed validation, one a line, as reason @ place."""
    lines = []
    for error in problem.errors(include_url=False, include_context=False, include_input=False):
        place = _place(error["loc"])
        reason = error["msg"].removeprefix("Value error, ")
        lines.append(f"  {legible(reason)} @ {legible(place)}")
    return "\n".join(lines)


def _place(location: tuple[Any, ...]) -> str:
    """`('cards', 2, 'goal')` as `cards[3].goal`, counted from one as people count."""
    text = ""
    for part in location:
        text += f"[{part + 1}]" if isinstance(part, int) else f".{part}" if text else str(part)
    return text or "the whole"
