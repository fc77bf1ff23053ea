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
_WORDY = ("words", "reason", "file", "evidence", "title")
# The fields of an evidence record in which they can.
_EVIDENCE_WORDS = ("what", "words", "note", "became", "answer", "differs", "whom", "told", "text")
# Fields of any entry in which somebody writes: a title, a reason, a paragraph.
WORD_FIELDS = frozenset(
    (
        *_WORDY,
        *_EVIDENCE_WORDS,
        "because",
        "steps",
        "tried",
        "result",
        "ruled_out_by",
        "takes",
        "source",
        "claim",
        "name",
    )
) - {"evidence", "file"}
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
        # How a thing is known is one of a few words of ours, and nobody's own.
        if raw.get(key) and not (key == "evidence" and raw.get("kind") == "evidence_told"):
            raw[key] = ERASED
    if raw.get("kind") == "attached":
        # Its copy beside the study is gone; so is all that could tell which file it was.
        raw |= {"name": ERASED, "location": ERASED, "sha256": "0" * 64, "size": 0}
    if isinstance(raw.get("items"), list):
        raw["items"] = [f"{ERASED} {number}" for number in range(1, len(raw["items"]) + 1)]
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


def without_words(body: object, targets: frozenset[str]) -> object:
    """An evidence record's stored content without its words, where it speaks of one of these targets.

    Args:
        body: The stored content.
        targets: The marks, steps, attempts and sittings of a person.
    """
    try:
        raw = json.loads(body) if isinstance(body, str) else None
    except (ValueError, RecursionError):
        raw = None
    values = raw.get("values") if isinstance(raw, dict) else None
    if not isinstance(raw, dict) or not isinstance(values, dict) or targets.isdisjoint(map(str, values.values())):
        return body
    told = {key: ERASED for key in _EVIDENCE_WORDS if values.get(key)}
    now = json.dumps({**raw, "values": {**values, **told}}, ensure_ascii=False)
    return body if json.loads(now) == raw else now


def reworded(body: object, text: str, words: str) -> object:
    """An entry's stored content with other words in the place of a text, wherever words stand in it."""
    try:
        raw = json.loads(body) if isinstance(body, str) else None
    except (ValueError, RecursionError):
        return body
    return json.dumps(_reworded(raw, text, words), ensure_ascii=False)


def _reworded(data: Any, text: str, words: str) -> Any:
    if isinstance(data, dict):
        return {
            key: words if key in WORD_FIELDS and value == text else _reworded(value, text, words)
            for key, value in data.items()
        }
    return [_reworded(each, text, words) for each in data] if isinstance(data, list) else data


def without_own_names(state: State) -> State:
    """A chair's state without the names that people choose themselves."""
    kept = {name: part if name not in OWN_NAMES else {} for name, part in state.sections.items()}
    return State(kept, state.unread)
