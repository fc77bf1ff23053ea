"""A made-up machine that answers as a chair would, and drifts as the people who sit there make it drift.

It is a stand-in, and stands for what cannot be had without a second computer: nothing it says was measured anywhere.
"""

import tomllib
from collections.abc import Callable
from copy import deepcopy
from functools import cache, partial
from importlib.resources import files
from typing import Any

from fresh_chair.core.checks.meaning import Ask
from fresh_chair.core.checks.parser import read_check

NOT_THERE = ("", 127)
_FOLDERS = ("Documents", "Documents/house", "Documents/house/boiler", "Music", "Pictures", "Desktop")
_MADE = ("gsettings", "ini", "xfconf", "packages", "programs", "defaults")
_LETTER = "Documents/house/boiler/letter.odt"
_TICKS = 200


@cache
def _machines() -> dict[str, dict[str, Any]]:
    return tomllib.loads(files(__package__).joinpath("machines.toml").read_text(encoding="utf-8"))


class MadeUpMachine:
    """One of the demo's chairs, as it would answer.

    Args:
        letter: Which chair.
        boot_minutes: Minutes since it was started.
    """

    def __init__(self, letter: str, *, boot_minutes: float = 6.0) -> None:
        self.letter = letter
        self._made = _machines()[letter]
        self._minutes = boot_minutes
        self._reads = 0
        self._sat = 0
        self._state: dict[str, Any] = {}
        self.put_back()

    def put_back(self) -> None:
        """As it was at first boot."""
        made = self._made
        self._sat = 0
        self._state = deepcopy(
            {
                **{name: made.get(name, {}) for name in _MADE},
                "networks": {"cable": "802-3-ethernet:eth0"},
                "printers": [],
                "users": {"guest": "/bin/bash"},
                "home": {**dict.fromkeys(_FOLDERS, ""), _LETTER: "11007"},
                "running": ["systemd", "clock"],
            }
        )

    def sit_down(self) -> str:
        """Let the next of its people use the machine; returns their acts."""
        people = self._made["people"]
        did = people[self._sat % len(people)]
        self._sat += 1
        for name, changes in did.items():
            if isinstance(changes, dict):
                self._state[name] = {**self._state[name], **changes}
            elif isinstance(changes, list):
                self._state[name] = [*self._state[name], *changes]
        return str(did["words"])

    def older(self, minutes: float) -> None:
        """Let time pass: memory grows a little, as it does."""
        self._minutes += minutes

    def answer(self, question: str) -> tuple[str, int]:
        """The output of a command, and its exit code: 127 where the program is not there."""
        self._reads += 1
        known = self._answers().get(question)
        if known is not None:
            return known()
        try:
            ask = read_check(f"{question} is there").any_of[0].ask
        except ValueError:
            return NOT_THERE
        return self._asked(ask)

    def _answers(self) -> dict[str, Callable[[], tuple[str, int]]]:
        made, state = self._made, self._state
        plain: dict[str, list[str]] = {
            "os-release": made["os_release"],
            "kernel": ["Linux", made["kernel"], "x86_64", f"Linux version {made['kernel']} (made up)"],
            "session": [f"  9 XDG_CURRENT_DESKTOP={made['desktop']}", f"  9 XDG_SESSION_TYPE={made['session']}"],
            "desktop version": [],
            "screens": made["screens"],
            "graphics": [f"driver {made['driver']}"],
            "disk": self._disk(),
            "package formats": [made["format"], *([made["sandboxed"]] if "sandboxed" in made else [])],
            "language": ["LANG=en_GB.UTF-8", "#", "XKBLAYOUT=gb"],
            "updates": made["updates"],
            "ini": self._ini(),
            "defaults": [
                "=== /etc/xdg/mimeapps.list",
                "[Default Applications]",
                *(f"{kind}={entry}" for kind, entry in state["defaults"].items()),
            ],
            "autostart": ["1967337704 212 /etc/xdg/autostart/clock.desktop"],
            "panels": ["3181460126 193 ./bar/panel.conf"],
            "programs": self._menus(),
            "sources": made["sources"],
            "networks": [f"{name}:{kind}" for name, kind in state["networks"].items()],
            "printers": state["printers"],
            "users": [f"{name}:x:1000:1000::/home/{name}:{shell}" for name, shell in state["users"].items()],
            "home": [f"{'f' if size else 'd'}\t{size or 4096}\t{path}" for path, size in state["home"].items()],
            "conditions": [f"up {self._minutes * 60:.0f}", "online", "mains", "root ext4"],
            "space": self._disk(),
            "start-up": [made["start_up"]],
            "processes": [str(180 + 2 * self._sat)],
            "default route": ["wlan0"] if len(state["networks"]) > 1 else [],
            "process names": state["running"],
        }
        found: dict[str, Callable[[], tuple[str, int]]] = {
            name: partial(_lines, lines) for name, lines in plain.items()
        }
        found |= {name: partial(_lines, text.splitlines()) for name, text in made["consents"].items()}
        return found | {
            "machine": self._hardware,
            "gsettings": self._gsettings,
            "dconf": lambda: NOT_THERE,
            "xfconf": self._xfconf,
            "packages": self._packages,
            "memory": self._memory,
            "at rest": self._rest,
        }

    def _menus(self) -> list[str]:
        return [
            line
            for entry, name in self._state["programs"].items()
            for line in (f"/p/{entry}.desktop:[Desktop Entry]", f"/p/{entry}.desktop:Name={name}")
        ]

    def _hardware(self) -> tuple[str, int]:
        made = self._made
        return _lines(
            [
                f"model name\t: {made['processor']}",
                f"cores {made['cores']}",
                f"MemTotal: {made['memory_kib']} kB",
                f"detected {made['virtual']}",
            ]
        )

    def _disk(self) -> list[str]:
        total, used, free = self._made["disk"]
        return [f"/dev/d1 {total} {used + 900 * self._sat} {free} {100 * used // total}% /"]

    def _memory(self) -> tuple[str, int]:
        # It creeps, the more the longer it runs.
        used = self._made["memory_used_kib"] + round(1900 * max(self._minutes - 6, 0))
        total = self._made["memory_kib"]
        return _lines(
            [
                f"MemTotal: {total} kB",
                f"MemAvailable: {max(total - used, 1000)} kB",
                "SwapTotal: 2097148 kB",
                f"SwapFree: {2097148 - self._made['swap_used_kib']} kB",
            ]
        )

    def _rest(self) -> tuple[str, int]:
        busy = round(_TICKS * 10 * self._made["busy"] / 100)
        return _lines([f"cpu {1000} 0 0 {9000} 0 0 0 0", f"cpu {1000 + busy} 0 0 {9000 + _TICKS * 10 - busy} 0 0 0 0"])

    def _gsettings(self) -> tuple[str, int]:
        if not self._state["gsettings"]:
            return NOT_THERE
        # One key moves by itself at every look, as there is one on every machine.
        moving = f"org.lanternwood.clock last-seen {self._reads}"
        return _lines([f"{name} {value}" for name, value in self._state["gsettings"].items()], [moving])

    def _xfconf(self) -> tuple[str, int]:
        if not self._state["xfconf"]:
            return NOT_THERE
        lines = ["=== fathom"]
        lines += [f"{name.split(' ', 1)[1]}  {value}" for name, value in self._state["xfconf"].items()]
        return _lines(lines)

    def _ini(self) -> list[str]:
        lines: list[str] = []
        for name, value in self._state["ini"].items():
            file, group, key = name.split(" ")
            lines += [f"=== {file}", group, f"{key}={value}"]
        return lines

    def _packages(self) -> tuple[str, int]:
        kind = self._made["format"]
        lead = "ii  " if kind == "dpkg" else ""
        return _lines([f"=== {kind}"], [f"{lead}{name} {version}" for name, version in self._state["packages"].items()])

    def _asked(self, ask: Ask) -> tuple[str, int]:
        """The answer to one question of a check."""
        state, args = self._state, ask.args
        match ask.subject:
            case "setting" if args[0] == "gsettings":
                if not state["gsettings"]:
                    return NOT_THERE
                value = state["gsettings"].get(f"{args[1]} {args[2]}")
                return (f"{value}\n", 0) if value is not None else ("", 1)
            case "setting" if args[0] == "xfconf":
                if not state["xfconf"]:
                    return NOT_THERE
                value = state["xfconf"].get(f"{args[1]} {args[2]}")
                return (f"=== value\n{value}\n", 0) if value is not None else ("=== files\n", 0)
            case "setting" if args[0] == "ini":
                file = args[1].removeprefix("~/.config/")
                value = state["ini"].get(f"{file} [{args[2]}] {args[3]}")
                return (f"=== file\n[{args[2]}]\n{args[3]}={value}\n", 0) if value is not None else ("", 0)
            case "package":
                kind, version = self._made["format"], state["packages"].get(args[0])
                lead = "ii  " if kind == "dpkg" else ""
                return _lines([f"=== {kind}"], [f"{lead}{args[0]} {version}"] if version else [])
            case "program":
                return _lines([f"/usr/bin/{args[0]}"] if args[0] in state["programs"] else [])
            case "file":
                size = state["home"].get(args[0].removeprefix("~/"))
                return _lines(["gone" if size is None else f"file 4110 {size}"])
            case _:
                return NOT_THERE


def _lines(*parts: list[str]) -> tuple[str, int]:
    return "".join(f"{line}\n" for part in parts for line in part), 0
