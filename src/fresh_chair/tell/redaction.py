"""Open data without quotes, words typed about people, names of observers and locations of files."""

import csv
import json
import re
from collections.abc import Mapping, Sequence
from io import StringIO
from typing import Any

LEFT_OUT = "(left out)"
# By table, the columns with words typed about people; every table's names of persons are replaced.
_WORDS: Mapping[str, tuple[str, ...]] = {
    "attempts.csv": ("reason", "why"),
    "answers.csv": ("words",),
    "marks.csv": ("words", "reason", "content_json"),
    "snags.csv": ("words",),
    "walk_remarks.csv": (),
    "attachments.csv": ("name",),
    "later.csv": ("what", "whom", "source"),
}
_NAMES = ("author", "rater", "by", "tried_by_name", "reviewer")
_FIELDS = ("words", "reason", "why", "told", "file", "location", "name", "source")
_PERSONS = ("author", "rater", "observer")


class Redactor:
    """Leaves words that may identify a person out of tables and of the whole study.

    Args:
        walks: The sittings of a reviewer alone, whose words are the reviewer's own.
        names: Everybody who logged, judged or rated: they stand in no other text either.
    """

    def __init__(self, walks: frozenset[int], names: Sequence[str] = ()) -> None:
        self._walks = walks
        self._names: dict[str, str] = {}
        for name in names:
            self._person(name)
        # A name of one letter would be found in every other word.
        known = sorted((name for name in self._names if len(name) > 1), key=len, reverse=True)
        self._named = re.compile(rf"\b(?:{'|'.join(map(re.escape, known))})\b") if known else None

    def _person(self, name: str) -> str:
        """A name as it leaves the study: the moderator as such, all others by a number."""
        if not name or name == "moderator" or name == LEFT_OUT:
            return name
        return self._names.setdefault(name, f"observer {len(self._names) + 1}")

    def _without_names(self, text: str) -> str:
        """A text with the names of observers and raters replaced by their numbers."""
        return text if self._named is None else self._named.sub(lambda match: self._names[match[0]], text)

    def csv(self, file: str, text: str) -> str:
        """A table without them."""
        rows = list(csv.reader(StringIO(text)))
        if not rows:
            return text
        columns, body = rows[0], rows[1:]
        words = _WORDS.get(file, ())
        sitting = columns.index("sitting") if "sitting" in columns else None
        kind = columns.index("kind") if "kind" in columns else None
        for row in body:
            own = sitting is not None and row[sitting].isdecimal() and int(row[sitting]) in self._walks
            quote = kind is not None and row[kind] == "quote"
            for at, column in enumerate(columns):
                if column in _NAMES and file != "forecasts.csv":
                    row[at] = self._person(row[at])
                elif row[at] and ((column in words and not own) or (quote and column == "words")):
                    row[at] = LEFT_OUT
                else:
                    row[at] = self._without_names(row[at])
        # The cells are harmless as they are; written anew as text, a negative number would be taken for a formula.
        out = StringIO()
        csv.writer(out, lineterminator="\n").writerows([columns, *body])
        return out.getvalue()

    def study(self, text: str) -> str:
        """The whole study as JSON without them."""
        whole: dict[str, Any] = json.loads(text)
        for sitting in whole["sittings"]:
            for entry in sitting["entries"]:
                own = sitting["number"] in self._walks and entry["content"].get("kind") != "quote"
                self._entry(entry, words=not own)
        for part in ("sorting", "evidence", "changes"):
            for entry in whole[part]:
                self._entry(entry, words=False)
        for entry in whole["evidence"]:
            self._record(entry["content"].get("record", {}))
        _without_locations(whole["chairs"])
        logins: dict[str, str] = {}
        for signature in whole["signatures"]:
            name = signature["login"]
            signature["login"] = name and logins.setdefault(name, f"login {len(logins) + 1}")
            signature["station"] = LEFT_OUT if signature["station"] else ""
        return self._without_names(json.dumps(whole, indent=1, ensure_ascii=False)) + "\n"

    def _record(self, record: dict[str, Any]) -> None:
        """A record of the later list, or a reply of makers, as their tables have it."""
        if "whom" in record:
            for key in ("what", "whom"):
                record[key] = LEFT_OUT if record[key] else ""
        elif "text" in record and "by" in record:
            record["by"] = self._person(record["by"])

    def _entry(self, entry: dict[str, Any], *, words: bool) -> None:
        for key in _PERSONS:
            if isinstance(entry.get(key), str):
                entry[key] = self._person(entry[key])
        content = entry.get("content")
        if not isinstance(content, dict):
            return
        for key in _PERSONS:
            if isinstance(content.get(key), str):
                content[key] = self._person(content[key])
        for key in _FIELDS if words else ("location", "file"):
            if isinstance(content.get(key), str) and content[key]:
                content[key] = LEFT_OUT


def _without_locations(data: Any) -> None:
    """Leave the locations of files out of everything on record of the chairs."""
    for part in data if isinstance(data, list) else data.values() if isinstance(data, dict) else ():
        _without_locations(part)
    if isinstance(data, dict) and isinstance(data.get("location"), str) and data["location"]:
        data["location"] = LEFT_OUT
