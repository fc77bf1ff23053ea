"""Who a chair says it is: facts with where each was read, and where they disagree."""

import re
from collections.abc import Iterable
from typing import ClassVar

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.chairs import Chair, Machine
from fresh_chair.core.plan.fields import FORBID, Line, Words
from fresh_chair.core.text import clipped, legible

# In the order in which they are shown.
NAMES = (
    "distribution",
    "release",
    "edition",
    "base",
    "kernel",
    "desktop",
    "desktop version",
    "session",
    "display",
    "graphics",
    "processor",
    "memory",
    "disk",
    "reserved on disk",
    "machine",
    "package formats",
    "software sources",
    "default web",
    "default mail",
    "default pictures",
    "default music",
    "default video",
    "default pdf",
    "default text",
    "default folders",
    "programs",
    "updates waiting",
    "language",
    "keyboard",
)


@frozen(kw_only=True)
class Fact:
    """One thing that a chair says of itself.

    Attributes:
        source: Where it was read: a file, or a command.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    name: Line
    value: Words
    source: Line


@frozen(kw_only=True)
class Unread:
    """One thing that could not be read, and why."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    name: Line
    why: Line


@frozen
class Disagreement:
    """Two places that say different things about the same.

    Attributes:
        one, other: What is said, each with who says it.
    """

    name: str
    one: str
    one_source: str
    other: str
    other_source: str


PLAN = "the plan"


def fact(name: str, value: str, source: str) -> Fact | None:
    """A fact from a chair's output, made harmless and short; None where the output is empty."""
    value = clipped(legible(value).strip(), 400)
    return Fact(name=name, value=value, source=clipped(legible(source), 200)) if value else None


def disagreements(
    facts: Iterable[Fact], chair: Chair | None = None, machine: Machine | None = None
) -> list[Disagreement]:
    """Facts that contradict each other or the plan, in the order of the names."""
    by_name: dict[str, list[Fact]] = {}
    for each in facts:
        by_name.setdefault(each.name, []).append(each)
    found = []
    for name, said in by_name.items():
        first = said[0]
        found += [
            Disagreement(name, first.value, first.source, other.value, other.source)
            for other in said[1:]
            if not _alike(name, first.value, other.value)
        ]
    for name, planned in (_planned(chair, machine) if chair is not None else {}).items():
        said = by_name.get(name, [])
        if planned and said and not any(_alike(name, planned, each.value) for each in said):
            found.append(Disagreement(name, planned, PLAN, said[0].value, said[0].source))
    return sorted(found, key=lambda each: NAMES.index(each.name) if each.name in NAMES else len(NAMES))


def _planned(chair: Chair, machine: Machine | None) -> dict[str, str]:
    planned = {
        "distribution": chair.name,
        "release": chair.release,
        "edition": chair.edition,
        "kernel": chair.kernel,
        "desktop": chair.desktop,
        "package formats": ", ".join(chair.package_formats),
    }
    if machine is not None:
        planned["machine"] = machine.kind
        planned["memory"] = machine.memory
    return planned


def _alike(name: str, one: str, other: str) -> bool:
    """Whether two ways of saying it mean the same: one may say more than the other, never something else."""
    if name == "memory":
        sizes = [_gibibytes(one), _gibibytes(other)]
        # What the kernel and the graphics keep for themselves is missing from what is reported.
        return None in sizes or abs(sizes[0] - sizes[1]) <= 0.2 * max(sizes[0], sizes[1])  # type: ignore[operator, type-var]
    if name == "machine":
        return one.split()[:1] == other.split()[:1]
    if name == "package formats":
        listed, found = ({part.strip().casefold() for part in text.split(",")} for text in (one, other))
        return listed <= found or found <= listed
    if name in ("release", "kernel"):
        return _starts_alike(re.findall(r"\d+", one), re.findall(r"\d+", other))
    words, others = _words(one), _words(other)
    return words <= others or others <= words


def _starts_alike(one: list[str], other: list[str]) -> bool:
    """Whether two versions agree as far as both go."""
    return all(left == right for left, right in zip(one, other, strict=False))


def _words(text: str) -> set[str]:
    return {word for word in re.findall(r"[^\W_]+", text.casefold()) if not word.isdigit()}


def _gibibytes(text: str) -> float | None:
    match = re.search(r"(\d+(?:[.,]\d+)?)\s*(Gi?B|GiB|Mi?B|G|M)\b", text, re.IGNORECASE)
    if match is None:
        return None
    size = float(match.group(1).replace(",", "."))
    return size / 1024 if match.group(2)[0] in "Mm" else size
