"""A real terminal: tmux runs the program, types, and reads the screen."""

import os
import shlex
import subprocess
import time
from pathlib import Path


class Terminal:
    """One tmux session on a server of its own.

    Args:
        folder: Where the server's socket and the user's state live.
        columns: Width in cells.
        rows: Height in cells.
    """

    def __init__(self, folder: Path, *, columns: int = 120, rows: int = 34) -> None:
        self._socket = folder / "tmux.sock"
        self._size = ("-x", str(columns), "-y", str(rows))
        self._started = False
        self._environment = {
            # Where tests run side by side, their runner names a size that is not this window's.
            **{k: v for k, v in os.environ.items() if not k.startswith("TMUX") and k not in ("COLUMNS", "LINES")},
            "XDG_STATE_HOME": str(folder / "state"),
            "LANG": "C.UTF-8",
            "TERM": "xterm-256color",
        }

    def run(self, *command: str | Path) -> None:
        """Start a command; one that ran before is ended."""
        line = " ".join(shlex.quote(str(part)) for part in command)
        line = f"{line}; echo ended with $?; sleep 600"
        if self._started:
            self._tmux("respawn-pane", "-k", line)
        else:
            self._tmux("new-session", "-d", *self._size, line)
            self._started = True

    def keys(self, *names: str) -> None:
        """Press keys, named as tmux names them."""
        self._tmux("send-keys", *names)

    def type(self, text: str) -> None:
        """Type a text."""
        self._tmux("send-keys", "-l", text)

    def screen(self) -> str:
        """What stands on the screen."""
        return self._tmux("capture-pane", "-p")

    def wait_for(self, *texts: str, most: float = 30.0) -> str:
        """The screen as soon as all of these stand on it."""
        begun = time.monotonic()
        while time.monotonic() - begun < most:
            seen = self.screen()
            if all(text in seen for text in texts):
                return seen
            time.sleep(0.02)
        raise AssertionError(f"{texts} never came; the screen shows:\n{self.screen()}")

    def program(self) -> int:
        """The process id of the program itself."""
        shell = int(self._tmux("display-message", "-p", "#{pane_pid}"))
        found = subprocess.run(["pgrep", "-P", str(shell)], capture_output=True, text=True, check=True)
        return int(found.stdout.split()[0])

    def alternate(self) -> str:
        """1 while a full-screen program has the terminal's other screen."""
        return self._tmux("display-message", "-p", "#{alternate_on}").strip()

    def title(self) -> str:
        """The title that the program has given its terminal."""
        return self._tmux("display-message", "-p", "#{pane_title}").strip()

    def set_up_clipboard(self, text: str) -> None:
        """Let programs set the clipboard, and put something into it."""
        self._tmux("set-option", "-s", "set-clipboard", "on")
        self._tmux("set-buffer", text)

    def clipboard(self) -> str:
        """What lies in the clipboard."""
        return self._tmux("show-buffer").strip()

    def settle(self, most: float = 5.0) -> None:
        """Wait until the screen has stood still for a moment."""
        begun, before = time.monotonic(), ""
        while time.monotonic() - begun < most:
            time.sleep(0.12)
            seen = self.screen()
            if seen == before:
                return
            before = seen

    def resize(self, columns: int, rows: int) -> None:
        """Make the window another size."""
        self._tmux("resize-window", "-x", str(columns), "-y", str(rows))

    def close(self) -> None:
        """End the server, and all in it."""
        subprocess.run(["tmux", "-S", str(self._socket), "kill-server"], capture_output=True, check=False)

    def _tmux(self, *arguments: str) -> str:
        command = ["tmux", "-S", str(self._socket), "-f", "/dev/null", *arguments]
        ended = subprocess.run(command, capture_output=True, text=True, check=True, env=self._environment)
        return ended.stdout
