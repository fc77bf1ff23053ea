"""Stored contents without the words and traces of a person."""

import json
from typing import Any

from fresh_chair.core.chair.state import State

ERASED = "erased"
# Kinds of entries about chairs that hold what a chair answered.
ANSWERS = ("freshness_read", "checks_asked", "noise_learnt")
# Sections of a chair's state whose names people choose themselves.
OWN_NAMES = ("home",)
# The fields of a sitting's entry in which words of the person, or names of what is theirs, can stand.
_WORDY = ("words", "reason", "file", "evidence")
_WORD_LISTS = ("told", "skipped")


def scrubbed(body: object, own_places: frozenset[str] = frozenset()) -> object:
    """An entry's stored content without anything of the person in it."""
    try:
        raw = json.loads(body) if isinstance(body, str) else None
    except (ValueError, RecursionError):
        raw = None
    if not isinstance(raw, dict):
        # What cannot be read cannot be told apart either.
        return "{}"
    was = json.dumps(raw, ensure_ascii=False)
    for key in _WORDY:
        if raw.get(key):
            raw[key] = ERASED
    for key in _WORD_LISTS:
        if raw.get(key):
            raw[key] = [ERASED]
    if raw.get("place") and raw["place"] not in own_places:
        raw["place"] = ERASED
    now = json.dumps(raw, ensure_ascii=False)
    return body if now == was else now


def without_traces(raw: Any) -> dict[str, Any]:
    """The stored content of an entry about a chair, without a person's traces."""
    if not isinstance(raw, dict):
        return {}
    if raw.get("told"):
        raw["told"] = [ERASED]
    if raw.get("differing"):
        raw["differing"] = []
    if isinstance(raw.get("answers"), list):
        raw["answers"] = [
            {**each, "value": ERASED, "why": ""} if isinstance(each, dict) and each.get("value") else each
            for each in raw["answers"]
        ]
    if isinstance(raw.get("names"), list):
        raw["names"] = [name for name in raw["names"] if str(name).partition(":")[0] not in OWN_NAMES]
    return raw


def without_own_names(state: State) -> State:
    """A chair's state without the names that people choose themselves."""
    kept = {name: part if name not in OWN_NAMES else {} for name, part in state.sections.items()}
    return State(kept, state.unread)
