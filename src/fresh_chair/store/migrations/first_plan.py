"""A first-version plan brought to the second, frozen as it was at revision s0002."""

import re
from typing import Any


def raise_first(raw: dict[str, Any]) -> None:
    """The tables of a first-version plan in the present form: as a study file held it.

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
