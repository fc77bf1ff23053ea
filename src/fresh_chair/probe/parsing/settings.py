"""Settings stores: the output of gsettings, dconf, xfconf and the ini files of desktops."""

import re
from collections.abc import Iterator

from fresh_chair.core.chair.state import LONGEST_VALUE

_MOST_LINES = 200_000


def blocks(text: str) -> Iterator[tuple[str, list[str]]]:
    """Parts of an answer that begin with `=== name`."""
    name, lines = "", list[str]()
    for line in text.splitlines()[:_MOST_LINES]:
        if line.startswith("=== "):
            if lines:
                yield name, lines
            name, lines = line[4:], []
        else:
            lines.append(line)
    if lines:
        yield name, lines


def gsettings(text: str) -> dict[str, str]:
    """`SCHEMA KEY VALUE`, a line each, as `gsettings list-recursively` prints them."""
    found = {}
    for line in text.splitlines()[:_MOST_LINES]:
        parts = line.split(" ", 2)
        if len(parts) == 3:
            found[f"gsettings {parts[0]} {parts[1]}"] = parts[2][:LONGEST_VALUE]
    return found


def dconf(text: str, known: dict[str, str]) -> dict[str, str]:
    """The settings in the output of `dconf dump /`, without those a schema has listed already.

    Args:
        text: The dump: `[path]` and `key=value`.
        known: What gsettings said, as `gsettings` gives it.
    """
    said = {"/" + name.removeprefix("gsettings ").replace(".", "/").replace(" ", "/") for name in known}
    found = {}
    path = ""
    for line in text.splitlines()[:_MOST_LINES]:
        if line.startswith("[") and line.endswith("]"):
            path = line[1:-1].strip("/")
        elif "=" in line and not line.startswith(" "):
            key, value = line.split("=", 1)
            whole = f"/{path}/{key}" if path else f"/{key}"
            if whole not in said:
                found[f"dconf {whole}"] = value[:LONGEST_VALUE]
    return found


def xfconf(text: str) -> dict[str, str]:
    """The settings in the output of `xfconf-query -lv` for each channel, or in the XML files that keep them."""
    found: dict[str, str] = {}
    for channel, lines in blocks(text):
        if channel == "files":
            found.update(_xfconf_files("\n".join(lines)))
            continue
        for line in lines:
            match = re.match(r"(/\S*)\s+(.*)", line)
            if match:
                found[f"xfconf {channel} {match.group(1)}"] = match.group(2)[:LONGEST_VALUE]
    return found


_TAG = re.compile(r"<(/?)(channel|property|value)\b([^<>]*?)(/?)>")
_ATTRIBUTE = re.compile(r'(\w+)="([^"<>]*)"')
_ENTITIES = (("&lt;", "<"), ("&gt;", ">"), ("&quot;", '"'), ("&apos;", "'"), ("&amp;", "&"))
_DEEPEST = 40


def _xfconf_files(text: str) -> dict[str, str]:
    """Properties of channel files. Tag by tag, since several files follow each other and nothing outside is fetched."""
    found: dict[str, str] = {}
    channel, path = "", [""]
    for close, tag, attributes, empty in _TAG.findall(text):
        values = {name: _unescaped(value) for name, value in _ATTRIBUTE.findall(attributes)}
        if tag == "channel":
            channel, path = ("", [""]) if close else (values.get("name", ""), [""])
        elif tag == "property" and close:
            path = path[:-1] or [""]
        elif tag == "property" and len(path) < _DEEPEST:
            here = f"{path[-1]}/{values.get('name', '')}"
            if "value" in values:
                found[f"xfconf {channel} {here}"] = values["value"][:LONGEST_VALUE]
            if not empty:
                path.append(here)
        elif tag == "value" and not close:
            name = f"xfconf {channel} {path[-1]}"
            found[name] = (
                f"{found[name]}; {values.get('value', '')}"[:LONGEST_VALUE]
                if name in found
                else values.get("value", "")
            )
    return found


def _unescaped(text: str) -> str:
    for entity, letter in _ENTITIES:
        text = text.replace(entity, letter)
    return text


def ini(text: str) -> dict[str, str]:
    """Files of groups and keys, each after a line `=== file`."""
    found = {}
    for file, lines in blocks(text):
        for group, key, value in ini_lines(lines):
            found[f"ini {file} [{group}] {key}"] = value[:LONGEST_VALUE]
    return found


def ini_lines(lines: list[str]) -> Iterator[tuple[str, str, str]]:
    """Group, key and value of each line of such a file; groups within groups are written A][B there, and here."""
    group = ""
    for raw in lines:
        line = raw.strip()
        if line.startswith("[") and line.endswith("]"):
            group = line[1:-1]
        elif "=" in line and not line.startswith(("#", ";")):
            key, value = line.split("=", 1)
            # What may not be changed is marked at the key.
            yield group, re.sub(r"\[\$\w+\]$", "", key.strip()), value.strip()
