"""The terminal: its bytes are made clean text before the library reads them."""

import os
from select import select
from threading import Thread

from textual.drivers.linux_driver import LinuxDriver

from fresh_chair.tui.base.application.terminal_input import TerminalInput

_AT_ONCE = 4096
# How long a sequence that has begun is waited for, and how soon an end is seen, in seconds.
_SEQUENCE_SECONDS, _LOOK_SECONDS = 0.04, 0.1


class TerminalDriver(LinuxDriver):
    """Reads a terminal that may send bytes which are no UTF-8: each becomes a visible sign.

    The library's own reader ends at such a byte. It reads from a pipe here, into which a thread puts the terminal's
    bytes, mended.
    """

    def run_input_thread(self) -> None:
        """Read from the pipe instead of the terminal, until the application ends or is suspended."""
        reading, writing = os.pipe()
        terminal, self.fileno = self.fileno, reading
        mender = Thread(target=self._mend, args=(terminal, writing), name="terminal-input", daemon=True)
        mender.start()
        try:
            super().run_input_thread()
        finally:
            self.fileno = terminal
            # Before the other end is waited for: it may stand before a full pipe.
            os.close(reading)
            mender.join()

    def _mend(self, terminal: int, writing: int) -> None:
        """Copy the terminal's bytes into the pipe as clean UTF-8, until the end of input."""
        mended = TerminalInput()
        try:
            while not self.exit_event.is_set():
                ready, _, _ = select([terminal], [], [], _SEQUENCE_SECONDS if mended.waiting else _LOOK_SECONDS)
                read = os.read(terminal, _AT_ONCE) if ready else b""
                if ready and not read:
                    return
                text = mended.feed(read, end=not ready)
                if text:
                    os.write(writing, text.encode("utf-8"))
        except OSError:
            # The terminal is gone; the end of the pipe says so to the reader.
            return
        finally:
            os.close(writing)
