"""Fields of a plan with several parts, as small forms: a part a line, each with the form of its value."""

import re
from dataclasses import MISSING, fields, is_dataclass, replace
from typing import Any, get_args, get_origin, get_type_hints

from fresh_chair.core.codec import Unfit, fitted
from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.chairs import Fault
from fresh_chair.core.plan.field_syntax import choices_of, line_of, meant, plain_hint
from fresh_chair.core.plan.people import Consent, ScreenerQuestion
from fresh_chair.core.plan.sheet import Audience, Group, StudyQuestion, Threshold
from fresh_chair.core.plan.study import Study
from fresh_chair.services.plan.editing import FieldLine, get_value, set_field
from fresh_chair.services.study.open_study import OpenStudy

_KEPT = "Nothing was changed."
# What belongs into a part, with its unit where it has one.
_NOTES = {
    (Audience, "needs"): "What matters to them.",
    (Threshold, "measure"): "What is to be good enough.",
    (
        Threshold,
        "value",
    ): "Completion: a share, 80 % or 0.8. Time: times the expert's. Ease: 1 to 7. Satisfaction: 0 to 100. "
    "Severity: the worst allowed, 0 to 4.",
    (Threshold, "why"): "Why that much, and no less.",
    (ScreenerQuestion, "id"): "Small letters, digits and hyphens; columns of tables are called so.",
    (ScreenerQuestion, "accept"): "Answers that let somebody in, parted by commas; empty where any does.",
    (Consent, "id"): "Small letters, digits and hyphens.",
    (Consent, "words"): "As it is read aloud, after: do you agree to",
    (Consent, "needed"): "no for what they may decline.",
    (Group, "chairs"): "Letters of the chairs they sit at, parted by commas.",
    (StudyQuestion, "id"): "Small letters, digits and hyphens.",
    (StudyQuestion, "points"): "How far a scale goes, 2 to 11.",
    (StudyQuestion, "low"): "What 1 means.",
    (StudyQuestion, "high"): "What the other end means.",
    (StudyQuestion, "choices"): "Two to nine, parted by commas.",
    (Fault, "excuses"): "What it may excuse, never more than it can cause.",
}


def is_listed(study: Study, path: str) -> bool:
    """Whether a field of a plan holds several things of several parts each."""
    return path.count(".") >= 1 and _kind(study, path) is not None


def _kind(study: Study, path: str) -> type | None:
    try:
        owner, field = get_value(study, path)
    except InputError:
        return None
    hint, _ = plain_hint(get_type_hints(type(owner), include_extras=True)[field])
    if get_origin(hint) is not tuple:
        return None
    inner, _ = plain_hint(get_args(hint)[0])
    return inner if isinstance(inner, type) and is_dataclass(inner) else None


def _listed(study: Study, path: str) -> tuple[type, tuple[Any, ...]]:
    kind = _kind(study, path)
    if kind is None:
        raise InputError("There is no such list in the plan.", _KEPT)
    owner, field = get_value(study, path)
    return kind, getattr(owner, field)


def part_lines(study: Study, path: str) -> list[FieldLine]:
    """Every part of every thing in a list, each on a line of its own.

    Raises:
        InputError: Where the plan has no such list.
    """
    kind, listed = _listed(study, path)
    hints = get_type_hints(kind, include_extras=True)
    lines = []
    for number, thing in enumerate(listed):
        head = str(number + 1)
        for part in fields(kind):
            value = getattr(thing, part.name)
            text = f"{value:g}" if isinstance(value, float) else line_of(value, sign=",")
            note = _NOTES.get((kind, part.name), "")
            words = part.name.replace("_", " ")
            choices = choices_of(hints[part.name])
            lines.append(FieldLine(f"{number}.{part.name}", words, text, note, head, choices, False, text))
            head = ""
    return lines


def set_part(opened: OpenStudy, path: str, line: str, text: str) -> None:
    """One part of one thing changed to the value of a line of text. Raises as `set_field`."""
    kind, listed = _listed(opened.study, path)
    number, _, name = line.partition(".")
    at = int(number)
    hint = get_type_hints(kind, include_extras=True)[name]
    try:
        value = fitted(kind, name, meant(hint, text, name.replace("_", " "), sign=","))
        changed = replace(listed[at], **{name: value})
    except (Unfit, ValueError) as problem:
        raise InputError(f"That cannot be so: {str(problem).removesuffix(f' @ {name}')}.", _KEPT) from problem
    _put(opened, path, (*listed[:at], changed, *listed[at + 1 :]))


def add_part(opened: OpenStudy, path: str, words: str) -> None:
    """One more thing at the end of a list, from the words that matter most of it. Raises as `set_field`."""
    kind, listed = _listed(opened.study, path)
    words = words.strip()
    if not words:
        raise InputError("Say at least a word about it.", _KEPT)
    stem = "-".join(re.findall("[a-z0-9]+", words.lower())[:4])[:32].strip("-") or "new"
    taken = {getattr(each, "id", "") for each in listed}
    name = next(each for each in (stem, *(f"{stem}-{n}" for n in range(2, 99))) if each not in taken)
    values: dict[str, Any] = {"id": name, "value": 0.8, "measure": "completion", "chairs": ()}
    first = _FIRST[kind]
    needed = [part.name for part in fields(kind) if part.default is MISSING and part.default_factory is MISSING]
    try:
        new = kind(**{each: values[each] for each in needed if each != first}, **{first: words})
    except ValueError as problem:
        raise InputError(f"That cannot be so: {problem}.", _KEPT) from problem
    _put(opened, path, (*listed, new))


def remove_part(opened: OpenStudy, path: str, line: str) -> None:
    """Take the thing that a line belongs to out of its list. Raises as `set_field`."""
    _, listed = _listed(opened.study, path)
    at = int(line.partition(".")[0])
    _put(opened, path, (*listed[:at], *listed[at + 1 :]))


def _put(opened: OpenStudy, path: str, listed: tuple[Any, ...]) -> None:
    set_field(opened, path, line_of(listed))


# The part of each that is typed first.
_FIRST: dict[type, str] = {
    Audience: "name",
    Threshold: "why",
    ScreenerQuestion: "ask",
    Consent: "words",
    Group: "name",
    StudyQuestion: "ask",
    Fault: "what",
}
