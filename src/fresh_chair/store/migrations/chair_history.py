"""A chair's states as they are read back from the dated changes of a plan, frozen as it was at revision s0004."""

import re
from collections.abc import Mapping, Sequence
from copy import deepcopy
from typing import Any

Body = dict[str, Any]

# Fields that are only a way of showing a chair, and no state of it.
_NO_STATE = ("letter", "hue", "labels", "put_back")
_TEXTS = {
    "name", "release", "edition", "stage", "snapshot", "base", "desktop", "kernel", "medium", "state", "in_use_for",
    "installed", "machine", "processor", "memory", "disk", "display", "id",
}  # fmt: skip
_LISTS = {"package_formats", "alterations"}


def history(
    chair: Body, machines: Mapping[str, Body], changes: Sequence[Mapping[str, Any]]
) -> list[tuple[int | None, Body]]:
    """The states of a chair, oldest first, each with its date; changes before the first sitting make none.

    Args:
        chair: The chair's document as it is now.
        machines: All machines' documents as they are now, by id.
        changes: The rows of the record of changes, in their order.
    """
    machines = {name: deepcopy(body) for name, body in machines.items()}
    now: Body = {"chair": chair, "machine": machines[chair["machine"]], "changed": []}
    found: list[tuple[int | None, Body]] = [(None, now)]
    for change in sorted(changes, key=lambda row: -row["number"]):
        parts = str(change["place"]).split(".")
        if not change["sittings"] or len(parts) != 3 or parts[2] in _NO_STATE:
            continue
        now = found[0][1]
        kind, name, field = parts
        before: Body = {"chair": now["chair"], "machine": now["machine"], "changed": []}
        if kind == "machine" and name in machines:
            # Every machine goes back in time, also while this chair stood on another one.
            machines[name] = _with(machines[name], field, change["before"])
        if kind == "chair" and name == chair["letter"]:
            before["chair"] = _with(now["chair"], field, change["before"])
            before["machine"] = machines.get(before["chair"]["machine"], now["machine"])
        elif kind == "machine" and name == now["machine"]["id"]:
            before["machine"] = machines[name]
        if before["chair"] == now["chair"] and before["machine"] == now["machine"]:
            continue
        said = f"{field.replace('_', ' ')}: {change['before'] or 'nothing'} became {change['after'] or 'nothing'}"
        if len(found) > 1 and found[1][0] == change["wall_ns"]:
            # One change of several fields makes one state.
            newer = found[1][1]
            newer["changed"] = [said, *newer["changed"]]
            found[0] = (None, before)
            continue
        found[0] = (change["wall_ns"], {**now, "changed": [said]})
        found.insert(0, (None, before))
    return found


def _with(owner: Body, field: str, text: str) -> Body:
    """A document with a field as its line of text meant it; as it is where that cannot be told any more."""
    if field in _TEXTS:
        return {**owner, field: text}
    if field == "virtual":
        return {**owner, field: text == "yes"}
    if field in _LISTS:
        return {**owner, field: _parted(text, ";")}
    if field == "faults":
        parts = [_parted(each, "|") for each in _parted(text, ";")]
        return {**owner, field: [{"what": part[0], "excuses": "".join(part[1:2])} for part in parts if part]}
    return owner


def _parted(text: str, sign: str) -> list[str]:
    parts = [part.strip().replace(f"\\{sign}", sign) for part in re.split(rf"(?<!\\){re.escape(sign)}", text)]
    return [part for part in parts if part]
