"""A study written down as a text: the TOML outline that `fresh-chair new --outline` reads."""

import re
from dataclasses import field, fields
from typing import Any, ClassVar

from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import CarriedFinding, Chair, Machine
from fresh_chair.core.plan.fields import FORBID, Line, Words
from fresh_chair.core.plan.orders import planned_seats
from fresh_chair.core.plan.people import Participant
from fresh_chair.core.plan.sheet import Sheet
from fresh_chair.core.plan.study import Study
from fresh_chair.core.plan.text.toml import checked, require_version, toml_of
from fresh_chair.core.text import legible

OUTLINE_VERSION = 2
_KEPT = "Nothing was created."


@frozen(kw_only=True)
class Outline:
    """The outline as it stands in the file; docs/formats.md describes it field by field.

    Attributes:
        evidence: Evidence records, in their own text language.
    """

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    outline: int
    title: Line
    question: Words = ""
    sample: bool = False
    seed: int = 1
    sheet: Sheet = field(default_factory=Sheet)
    machines: tuple[Machine, ...] = ()
    chairs: tuple[Chair, ...] = ()
    cards: tuple[TaskCard, ...] = ()
    people: tuple[Participant, ...] = ()
    carried: tuple[CarriedFinding, ...] = ()
    evidence: str = ""


def study_from_outline(text: str, *, name: str, study_id: str) -> Study:
    """The study that an outline describes, with everybody's orders planned.

    Args:
        text: The outline, TOML 1.0.
        name: What to call the text in an error, usually its file name.
        study_id: The id the new study gets.

    Raises:
        InputError: All problems at once, each as reason @ field.
    """
    raw = toml_of(text, name=name, kept=_KEPT)
    if require_version(raw, "outline", (1, OUTLINE_VERSION), name=name) == 1:
        raise_first(raw)
    outline: Outline = checked(Outline, raw, name=name, kept=_KEPT)
    parts = {
        part.name: getattr(outline, part.name) for part in fields(outline) if part.name not in ("outline", "evidence")
    }
    try:
        study = Study(id=study_id, **parts)
        return Study(id=study_id, **parts, seats=planned_seats(study))
    except ValueError as problem:
        raise InputError(f"{name} cannot be used as it is: {legible(str(problem))}.", _KEPT) from problem


def evidence_in_outline(text: str, *, name: str) -> str:
    """The evidence records that an outline holds, as their text; empty for none. Raises InputError for no TOML."""
    raw = toml_of(text, name=name, kept=_KEPT)
    evidence = raw.get("evidence", "")
    return evidence if isinstance(evidence, str) else ""


def raise_first(raw: dict[str, Any]) -> None:
    """The tables of a first-version plan in the present form: of an outline, or of a study file.

    Machines had no sheet of their own then, what to put back was one text, and the audience was one line. Whatever
    is not what it should be is left for the check that follows.
    """
    audience = raw.pop("audience", "")
    if isinstance(audience, str) and audience:
        raw["sheet"] = {"audiences": [{"name": audience[:200]}]}
    machines: dict[str, dict[str, Any]] = {}
    for chair in _tables(raw, "chairs"):
        name, faults = chair.get("machine"), chair.pop("known_faults", [])
        virtual = chair.pop("virtual", False)
        if not isinstance(name, str) or not isinstance(faults, list):
            continue
        key = repr((name, faults, virtual))
        if key not in machines:
            machines[key] = {
                "id": _free_id(name, [machine["id"] for machine in machines.values()]),
                "name": name,
                "virtual": virtual,
                "faults": [{"what": fault} for fault in faults],
            }
        chair["machine"] = machines[key]["id"]
    raw["machines"] = list(machines.values())
    for card in _tables(raw, "cards"):
        if isinstance(card.get("put_back"), str):
            card["put_back"] = [card["put_back"]] if card["put_back"] else []


def _tables(raw: dict[str, Any], part: str) -> list[dict[str, Any]]:
    listed = raw.get(part)
    return [each for each in listed if isinstance(each, dict)] if isinstance(listed, list) else []


def _free_id(name: str, taken: list[str]) -> str:
    stem = "-".join(re.findall("[a-z0-9]+", name.lower()))[:32].strip("-") or "machine"
    return next(each for each in (stem, *(f"{stem}-{n}" for n in range(2, 99))) if each not in taken)
