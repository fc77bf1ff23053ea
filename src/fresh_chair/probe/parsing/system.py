"""Users, networks, printers, the home folder, and files by their checksum."""

import re

from fresh_chair.core.chair.state import LONGEST_VALUE
from fresh_chair.core.text import legible

_FIRST_PERSON, _NOBODY = 1000, 65_534
_INNER = ("loopback", "bridge", "tun", "dummy")


def users(text: str) -> dict[str, str]:
    """People with a login: name and shell; root is one where it has a shell."""
    found = {}
    for line in text.splitlines():
        parts = line.split(":")
        if len(parts) < 7 or not parts[2].isdigit():
            continue
        number = int(parts[2])
        if (number == 0 or _FIRST_PERSON <= number < _NOBODY) and not parts[6].endswith(("nologin", "false")):
            found[parts[0]] = parts[6][:LONGEST_VALUE]
    return found


def networks(text: str) -> dict[str, str]:
    """Networks that are remembered, `up` or `remembered`: from nmcli's terse lines, or a list of names."""
    found = {}
    for line in text.splitlines():
        parts = [part.replace("\\:", ":").replace("\\\\", "\\") for part in re.split(r"(?<!\\):", line)]
        if len(parts) == 3:
            name, kind, device = parts
            if name and kind not in _INNER:
                found[name[:LONGEST_VALUE]] = "up" if device else "remembered"
            continue
        listed = re.match(r"\*(\S)(\S)\s+(.+?)\s{2,}\S+$", line) or re.match(r"\*(\S)\s()(.+?)\s{2,}\S+$", line)
        if listed:
            found[listed.group(3).strip()] = (
                "up" if set(listed.group(1) + listed.group(2)) & set("OR") else "remembered"
            )
        elif re.search(r"\.(psk|open|8021x)$", line):
            found[line.rsplit(".", 1)[0]] = "remembered"
    return found


def printers(text: str) -> dict[str, str]:
    """Printers, a name a line."""
    return {line.split()[0][:LONGEST_VALUE]: "there" for line in text.splitlines() if line.strip()}


def checksums(text: str) -> dict[str, str]:
    """Checksum and size by file, as `cksum` prints them."""
    found = {}
    for line in text.splitlines():
        match = re.fullmatch(r"(\d+) (\d+) (.+)", line)
        if match:
            found[match.group(3).removeprefix("./")] = f"{match.group(1)} {match.group(2)}"
    return found


_LS = re.compile(r"ls ([dl-])\S*\s+\d+\s+\d+\s+\d+\s+(\d+)\s+\S+\s+\S+\s+\S+\s+(.+)")
_KINDS = {"d": "folder", "f": "", "-": "", "l": "link"}
# Changed by asking alone, or by any login.
_OWN_TRACKS = (".bash_history", ".sh_history", ".zsh_history", ".viminfo", ".lesshst", ".xsession-errors")


def home(text: str) -> dict[str, str]:
    """Size by path below the home folder; never a file's contents."""
    found = {}
    for line in text.splitlines():
        parts = line.split("\t", 2)
        if len(parts) == 3:
            kind, size, path = parts
        elif match := _LS.fullmatch(line):
            kind, size, path = match.groups()
            path = path.split(" -> ")[0] if kind == "l" else path
            path = path.removeprefix("./")
        else:
            continue
        if not path or path == "." or path in _OWN_TRACKS:
            continue
        found[legible(path)[:LONGEST_VALUE]] = _KINDS.get(kind, "special") or f"{size} bytes"
    return found
