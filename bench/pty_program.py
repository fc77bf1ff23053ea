"""A program in a pseudo-terminal: type, and wait for what it paints."""

import fcntl
import os
import pty
import select
import struct
import termios
import time
from pathlib import Path


class PtyProgram:
    """Runs one command at a size, and reads what it writes.

    Args:
        command: The program and its arguments.
        columns: Width in cells.
        rows: Height in cells.
    """

    def __init__(self, command: list[str], *, columns: int = 142, rows: int = 38) -> None:
        self.begun = time.perf_counter()
        self._pid, self._terminal = pty.fork()
        if self._pid == 0:
            environment = {**os.environ, "TERM": "xterm-256color", "COLORTERM": "truecolor", "LANG": "C.UTF-8"}
            os.execvpe(command[0], command, environment)
        fcntl.ioctl(self._terminal, termios.TIOCSWINSZ, struct.pack("HHHH", rows, columns, 0, 0))

    def wait_for(self, *texts: bytes, most: float = 30.0) -> float:
        """Read until all of these were painted; returns the moment of the last one."""
        seen = b""
        end = time.perf_counter() + most
        while time.perf_counter() < end:
            ready, _, _ = select.select([self._terminal], [], [], 0.5)
            if ready:
                seen += os.read(self._terminal, 1 << 16)
                if all(text in seen for text in texts):
                    return time.perf_counter()
        raise TimeoutError(f"{texts!r} was never painted")

    @property
    def terminal(self) -> int:
        """The descriptor that it paints into."""
        return self._terminal

    def worked(self) -> float:
        """Seconds of processor that it has used."""
        fields = Path(f"/proc/{self._pid}/stat").read_text(encoding="ascii").rsplit(")", 1)[1].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")

    def quiet(self, seconds: float = 0.3) -> None:
        """Read until nothing has come for a while."""
        end = time.perf_counter() + 5
        while time.perf_counter() < end and select.select([self._terminal], [], [], seconds)[0]:
            os.read(self._terminal, 1 << 16)

    def key(self, text: bytes) -> float:
        """Press a key; returns the moment."""
        now = time.perf_counter()
        os.write(self._terminal, text)
        return now

    def close(self) -> None:
        """End the program."""
        os.kill(self._pid, 9)
        os.waitpid(self._pid, 0)
        os.close(self._terminal)
