"""A real terminal window under Xvfb, driven by keys and photographed."""

import hashlib
import os
import subprocess
import time
from pathlib import Path
from types import TracebackType

FONT = "JetBrains Mono"


class Window:
    """A terminal of some columns and rows that runs one command.

    Args:
        command: What runs in it.
        columns: Width in cells.
        rows: Height in cells.
        pixels: Size of the font.
        display: Number of the X display to make.
        environment: More variables for the command.
    """

    def __init__(
        self,
        command: list[str],
        *,
        columns: int = 142,
        rows: int = 38,
        pixels: int = 15,
        display: int = 97,
        environment: dict[str, str] | None = None,
    ) -> None:
        self._display = f":{display}"
        self._environment = {
            **os.environ,
            "DISPLAY": self._display,
            "LANG": "C.UTF-8",
            "COLORTERM": "truecolor",
            **(environment or {}),
        }
        self._server = subprocess.Popen(
            ["Xvfb", self._display, "-screen", "0", "1440x900x24", "-nolisten", "tcp"],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        self._wait_for(lambda: Path(f"/tmp/.X11-unix/X{display}").exists())
        geometry = f"{columns}x{rows}+0+0"
        self._terminal = subprocess.Popen(
            ["stterm", "-g", geometry, "-f", f"{FONT}:pixelsize={pixels}", "-e", *command],
            env=self._environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        found = ""

        def visible() -> bool:
            nonlocal found
            search = self._run("xdotool", "search", "--onlyvisible", "--class", "st-256color")
            found = search.stdout.decode().split("\n")[0]
            return bool(found)

        self._wait_for(visible)
        self._window = found
        self._run("xdotool", "windowfocus", "--sync", found)

    def keys(self, *names: str) -> None:
        """Press keys, named as X names them."""
        for name in names:
            self._run("xdotool", "key", name)
            time.sleep(0.08)

    def write(self, text: str) -> None:
        """Type a text."""
        self._run("xdotool", "type", "--delay", "12", text)

    def settle(self, seconds: float = 0.6, most: float = 20.0) -> None:
        """Wait until the picture has been the same for a while; a running clock counts as settled at the limit."""
        last, since, begun = "", time.monotonic(), time.monotonic()
        while time.monotonic() - begun < most:
            now = hashlib.sha256(self._picture()).hexdigest()
            if now != last:
                last, since = now, time.monotonic()
            elif time.monotonic() - since >= seconds:
                return
            time.sleep(0.1)

    def photograph(self, path: Path) -> None:
        """Save the window as a PNG."""
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(self._picture())

    def _picture(self) -> bytes:
        taken = self._run("import", "-window", self._window, "-strip", "png:-")
        return taken.stdout

    def _run(self, *command: str) -> "subprocess.CompletedProcess[bytes]":
        return subprocess.run(command, env=self._environment, capture_output=True, check=False)

    @staticmethod
    def _wait_for(condition: object, most: float = 15.0) -> None:
        begun = time.monotonic()
        while time.monotonic() - begun < most:
            if callable(condition) and condition():
                return
            time.sleep(0.05)
        raise TimeoutError("the window did not come up")

    def __enter__(self) -> "Window":
        return self

    def __exit__(
        self, kind: type[BaseException] | None, problem: BaseException | None, trace: TracebackType | None
    ) -> None:
        for process in (self._terminal, self._server):
            process.terminate()
            process.wait(10)
