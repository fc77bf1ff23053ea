"""Packages, programs, default programs and where software comes from."""

import re

from fresh_chair.core.chair.state import LONGEST_VALUE
from fresh_chair.probe.parsing.settings import blocks
from fresh_chair.probe.questions.state import PURPOSE_TYPES


def packages(text: str) -> dict[str, str]:
    """Version by package, the format before the name: `dpkg paint-box`."""
    found: dict[str, str] = {}
    for kind, lines in blocks(text):
        reader = {"dpkg": _dpkg, "snap": _snap, "flatpak": _flatpak, "apk": _apk}.get(kind, _two_words)
        for name, version in filter(None, map(reader, lines)):
            found[f"{kind} {name}"] = version[:LONGEST_VALUE]
    return found


def _dpkg(line: str) -> tuple[str, str] | None:
    parts = line.split()
    # i: is to be there; a second i: is there. Everything else is removed, or half of it.
    return (parts[1], parts[2]) if len(parts) == 3 and parts[0].startswith("ii") else None


def _two_words(line: str) -> tuple[str, str] | None:
    parts = line.split()
    return (parts[0], parts[1]) if len(parts) == 2 else None


def _apk(line: str) -> tuple[str, str] | None:
    match = re.fullmatch(r"(\S+?)-(\d\S*)", line.strip())
    return (match.group(1), match.group(2)) if match else None


def _snap(line: str) -> tuple[str, str] | None:
    parts = line.split()
    return (parts[0], parts[1]) if len(parts) >= 4 and parts[0] != "Name" else None


def _flatpak(line: str) -> tuple[str, str] | None:
    parts = re.split(r"\t+", line.strip())
    if not parts[0] or " " in parts[0]:
        return None
    return parts[0], " ".join(part for part in parts[1:] if part) or "there"


def programs(text: str) -> dict[str, str]:
    """Name by entry of the menus, without those that no menu shows."""
    names: dict[str, str] = {}
    hidden = set()
    group: dict[str, str] = {}
    for line in text.splitlines():
        file, _, rest = line.partition(".desktop:")
        if not rest:
            continue
        entry = file.rsplit("/", 1)[-1]
        if rest.startswith("["):
            group[entry] = rest
        elif group.get(entry, "[Desktop Entry]") == "[Desktop Entry]":
            key, _, value = rest.partition("=")
            if key == "Name":
                names.setdefault(entry, value.strip()[:LONGEST_VALUE])
            elif value.strip().casefold() == "true":
                hidden.add(entry)
    return {entry: name for entry, name in names.items() if entry not in hidden}


def defaults(text: str) -> dict[str, str]:
    """The default program for each common purpose: the first file that says one wins, as the standard has it."""
    found: dict[str, str] = {}
    fallback: dict[str, str] = {}
    for _, lines in blocks(text):
        group = ""
        for line in lines:
            if line.startswith("["):
                group = line
                continue
            kind, _, entries = line.partition("=")
            first = next((entry for entry in entries.split(";") if entry.strip()), "")
            if first and group == "[Default Applications]":
                found.setdefault(kind, first.strip())
            elif first and group == "[MIME Cache]":
                fallback.setdefault(kind, first.strip())
    return {
        purpose: program[:LONGEST_VALUE]
        for purpose, kind in PURPOSE_TYPES.items()
        if (program := found.get(kind) or fallback.get(kind))
    }


def sources(text: str) -> dict[str, str]:
    """Sources of software: the whole line is the name, since a line more or less is the difference that matters."""
    return {" ".join(line.split())[:LONGEST_VALUE]: "on" for line in text.splitlines() if line.strip()}
