"""A program in a pseudo-terminal whose keys come in bursts, and which may be stopped in between."""

import contextlib
import fcntl
import os
import pty
import re
import signal
import struct
import sys
import termios
import time
from pathlib import Path
from threading import Thread

# So often in half a second it is looked at whether a program works.
_LOOKS = 20
PROGRAM = (sys.executable, "-m", "fresh_chair")


class PseudoTerminal:
    """Runs the program; a thread reads away what it paints, and remembers when it last painted anything.

    Args:
        command: The program and its arguments.
        state: The user's state folder.
    """

    def __init__(self, command: list[str], state: Path, *, columns: int = 120, rows: int = 34) -> None:
        self.pid, self._terminal = pty.fork()
        if self.pid == 0:
            environment = {**os.environ, "TERM": "xterm-256color", "LANG": "C.UTF-8", "XDG_STATE_HOME": str(state)}
            for name in ("COLUMNS", "LINES"):
                environment.pop(name, None)
            # Whatever is typed as a path goes there, and nowhere else.
            os.chdir(state.parent)
            os.execvpe(command[0], command, environment)
        fcntl.ioctl(self._terminal, termios.TIOCSWINSZ, struct.pack("HHHH", rows, columns, 0, 0))
        self.painted = b""
        self.last = time.monotonic()
        self._reader = Thread(target=self._read, daemon=True)
        self._reader.start()

    def _read(self) -> None:
        while True:
            try:
                data = os.read(self._terminal, 1 << 16)
            except OSError:
                return
            if not data:
                return
            self.painted = (self.painted + data)[-400_000:]
            self.last = time.monotonic()

    def text(self) -> str:
        """What was painted, without the sequences between."""
        return re.sub(r"\x1b\[[0-9;?]*[A-Za-z]", "", self.painted.decode("utf-8", "replace"))

    def wait_for(self, text: str, most: float = 30.0) -> None:
        """Wait until something was painted since the last look."""
        end = time.monotonic() + most
        while time.monotonic() < end:
            if text in self.text():
                self.painted = b""
                return
            time.sleep(0.01)
        raise AssertionError(f"{text!r} was never painted; last: {self.text()[-600:]!r}")

    def send(self, keys: bytes) -> None:
        """Type some bytes in one write."""
        os.write(self._terminal, keys)

    def quiet(self, seconds: float = 0.25, most: float = 10.0) -> None:
        """Wait until nothing has been painted for a moment."""
        end = time.monotonic() + most
        while time.monotonic() < end and time.monotonic() - self.last < seconds:
            time.sleep(0.02)

    def idle(self, most: float = 120.0) -> None:
        """Wait until the program hardly works, nor waits to, any more: every key that was sent is done."""
        end = time.monotonic() + most
        while time.monotonic() < end:
            before, wanting = self._worked(), 0
            for _ in range(_LOOKS):
                time.sleep(0.5 / _LOOKS)
                wanting += self._wants_to_work()
            if self._worked() - before < 0.12 and wanting < _LOOKS / 4:
                return

    def _wants_to_work(self) -> bool:
        """Whether any of its threads works now, or stands in line for a processor on a machine that is busy."""
        states = []
        for thread in Path(f"/proc/{self.pid}/task").iterdir():
            with contextlib.suppress(OSError):
                states.append((thread / "stat").read_text(encoding="ascii").rsplit(")", 1)[1].split()[0])
        return "R" in states

    def _worked(self) -> float:
        """Seconds of processor so far."""
        fields = Path(f"/proc/{self.pid}/stat").read_text(encoding="ascii").rsplit(")", 1)[1].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")

    def stop(self, seconds: float) -> None:
        """Hold the program for a while, as a machine that is busy does."""
        os.kill(self.pid, signal.SIGSTOP)
        time.sleep(seconds)
        os.kill(self.pid, signal.SIGCONT)

    def ended(self, most: float = 10.0) -> int | None:
        """The exit status; None where it still runs."""
        end = time.monotonic() + most
        while time.monotonic() < end:
            pid, status = os.waitpid(self.pid, os.WNOHANG)
            if pid:
                return os.waitstatus_to_exitcode(status)
            time.sleep(0.02)
        return None

    def close(self) -> None:
        """End it, if it has not ended."""
        with contextlib.suppress(ProcessLookupError, ChildProcessError):
            os.kill(self.pid, signal.SIGKILL)
            os.waitpid(self.pid, 0)
        with contextlib.suppress(OSError):
            os.close(self._terminal)
