"""Readings and defaults from a chair's answers."""

import re
from datetime import UTC, datetime
from typing import Any

from fresh_chair.core.chair.answers import Answers, text_of, why_not
from fresh_chair.core.chair.identity import Unread
from fresh_chair.core.frozen import frozen
from fresh_chair.probe.questions.readings import REST_SECONDS

# A chair's clock that differs from ours by more than this is said.
_CLOCK_SECONDS = 300


@frozen
class Measured:
    """A figure measured by the probe.

    Attributes:
        readings: Fields of a reading each, without an id.
        unread: What could not be measured, and why.
        remarks: What else must be known, in sentences.
    """

    readings: list[dict[str, Any]]
    unread: list[Unread]
    remarks: list[str]


def measured(answers: Answers, *, now: float) -> Measured:
    """Readings with the conditions they were taken under.

    Args:
        answers: To the questions of `measuring.READINGS`, and `updates` where it was asked.
        now: What time it is, in seconds since 1970.
    """
    conditions, remarks = _conditions(text_of(answers, "conditions"), now)
    found: list[dict[str, Any]] = []
    unread = []
    for what, question, read in (
        ("idle memory", "memory", _memory),
        ("swap used", "memory", _swap),
        ("disk used", "space", _used),
        ("disk available", "space", _available),
        ("processor at rest", "at rest", _rest),
        ("running processes", "processes", _processes),
        ("start-up time", "start-up", _start_up),
        ("updates waiting", "updates", _updates),
    ):
        values = read(text_of(answers, question))
        if values is None:
            unread.append(Unread(name=what, why=why_not(answers, question) or "the answer makes no sense"))
        else:
            found.append({"what": what, **conditions, **values})
    return Measured(found, unread, remarks)


def _conditions(text: str, now: float) -> tuple[dict[str, Any], list[str]]:
    up = re.search(r"^up (\d+(?:\.\d+)?)$", text, re.MULTILINE)
    lines = set(text.splitlines())
    root = re.search(r"^root (\S+)$", text, re.MULTILINE)
    live = "live" in lines or (root is not None and root.group(1) in ("overlay", "overlayfs", "aufs", "squashfs"))
    busy = re.findall(r"^updating (\S+)$", text, re.MULTILINE)
    conditions: dict[str, Any] = {
        "minutes_up": round(float(up.group(1)) / 60, 1) if up else None,
        "network": "online" if "online" in lines else "offline" if "offline" in lines else "not known",
        "power": "battery" if "battery" in lines else "mains" if "mains" in lines else "not known",
        "medium": "not known" if root is None else "live" if live else "installed",
        "open_now": f"updating: {', '.join(busy)}" if busy else "",
    }
    remarks = []
    clock = re.search(r"^(\d{1,12})$", text, re.MULTILINE)
    if clock and abs(int(clock.group(1)) - now) > _CLOCK_SECONDS:
        shown = datetime.fromtimestamp(min(int(clock.group(1)), 253_402_300_799), UTC)
        remarks.append(f"the chair's clock says {shown:%Y-%m-%d %H:%M} UTC, which is not now")
    return conditions, remarks


def _kib(text: str, name: str) -> int | None:
    match = re.search(rf"^{name}:\s+(\d{{1,15}}) kB$", text, re.MULTILINE)
    return int(match.group(1)) if match else None


def _memory(text: str) -> dict[str, Any] | None:
    total, available = _kib(text, "MemTotal"), _kib(text, "MemAvailable")
    if total is None or available is None or available > total:
        return None
    return {
        "low": round((total - available) / 1024),
        "unit": "MiB",
        "method": "MemTotal less MemAvailable, /proc/meminfo",
    }


def _swap(text: str) -> dict[str, Any] | None:
    total, free = _kib(text, "SwapTotal"), _kib(text, "SwapFree")
    if total is None or free is None or free > total:
        return None
    return {"low": round((total - free) / 1024), "unit": "MiB", "method": "SwapTotal less SwapFree, /proc/meminfo"}


def _space(text: str) -> tuple[int, int] | None:
    match = re.search(r"^\S+\s+\d{1,15}\s+(\d{1,15})\s+(\d{1,15})\s+\d+%\s+/$", text, re.MULTILINE)
    return (int(match.group(1)), int(match.group(2))) if match else None


def _used(text: str) -> dict[str, Any] | None:
    space = _space(text)
    return space and {"low": round(space[0] / 2**20, 2), "unit": "GiB", "method": "df of /"}


def _available(text: str) -> dict[str, Any] | None:
    space = _space(text)
    return space and {"low": round(space[1] / 2**20, 2), "unit": "GiB", "method": "df of /"}


def _rest(text: str) -> dict[str, Any] | None:
    counts = [
        [int(number) for number in line.split()[1:]] for line in text.splitlines() if re.fullmatch(r"cpu [\d ]+", line)
    ]
    if len(counts) != 2 or min(map(len, counts)) < 5:
        return None
    passed = [after - before for before, after in zip(*counts, strict=False)]
    total = sum(passed[:8])
    if total <= 0:
        return None
    busy = 100 * (1 - (passed[3] + passed[4]) / total)
    return {"low": round(max(busy, 0), 1), "unit": "%", "method": f"share not idle over {REST_SECONDS} s, /proc/stat"}


def _processes(text: str) -> dict[str, Any] | None:
    return {"low": int(text), "unit": "", "method": "ps -e"} if text.strip().isdigit() and len(text) < 10 else None


def _start_up(text: str) -> dict[str, Any] | None:
    match = re.search(r"Startup finished in (.+?)(?:\n|$)", text)
    if match is None:
        return None
    parts, _, whole = match.group(1).partition(" = ")
    seconds = _seconds(whole) or _seconds(parts)
    return (
        None
        if seconds is None
        else {"low": round(seconds, 1), "unit": "s", "method": f"systemd-analyze: {parts}"[:200]}
    )


def _seconds(text: str) -> float | None:
    parts = re.findall(r"(\d+(?:\.\d+)?)(min|ms|s|h)\b", text)
    scale = {"h": 3600.0, "min": 60.0, "s": 1.0, "ms": 0.001}
    return sum(float(number) * scale[unit] for number, unit in parts) if parts else None


def _updates(text: str) -> dict[str, Any] | None:
    found = re.findall(r"^(\w+) (\d{1,6})$", text, re.MULTILINE)
    if not found:
        return None
    managers = ", ".join(name for name, _ in found)
    return {"low": sum(int(number) for _, number in found), "unit": "", "method": f"asked {managers}"}


def consents(answers: Answers) -> dict[str, tuple[str, str]]:
    """States of defaults, `on` or `off` with the source, by item; unreadable ones are left out."""
    found: dict[str, tuple[str, str]] = {}

    def put(item: str, on: bool | None, source: str) -> None:
        if on is not None:
            found[item] = ("on" if on else "off", source)

    for item in ("location", "data sharing"):
        text = text_of(answers, item).strip()
        put(item, {"true": True, "false": False}.get(text), "gsettings")
    answer = answers.get("automatic login")
    if answer is not None and answer.read:
        named = re.findall(r"^\s*(\w[\w-]*)\s*=\s*(\S.*)$", answer.text, re.MULTILINE)
        off = any(k.casefold() == "automaticloginenable" and v.casefold() == "false" for k, v in named)
        put("automatic login", bool(named) and not off, "the login screen's configuration")
    disks = text_of(answers, "encryption").split("\n")
    if any(line.startswith("disk") for line in disks):
        put("encryption", any(line.startswith("crypt") for line in disks), "lsblk")
    firewall = text_of(answers, "firewall").strip().casefold()
    if firewall:
        put("firewall", firewall in ("enabled=yes", "firewalld active"), "its configuration")
    policy = text_of(answers, "update policy")
    if policy:
        put(
            "update policy",
            bool(re.search(r'Unattended-Upgrade\s+"[1-9]|apply_updates\s*=\s*yes', policy)),
            "its configuration",
        )
    return found
