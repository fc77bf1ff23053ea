"""The terminal: its bytes are made clean text before the library reads them."""

import os
import signal
import termios
from contextlib import suppress
from select import select
from threading import Thread
from typing import Any

from textual.drivers.linux_driver import LinuxDriver

from fresh_chair.tui.base.application.terminal_input import TerminalInput

_AT_ONCE = 4096
# How long a sequence that has begun is waited for, and how soon an end is seen, in seconds.
_SEQUENCE_SECONDS, _LOOK_SECONDS = 0.04, 0.1
# The alternate screen, no cursor, reports of the focus: a shell that had the terminal meanwhile may have changed them.
_SCREEN_AGAIN = "\x1b[?1049h\x1b[?25l\x1b[?1004h"


class TerminalDriver(LinuxDriver):
    """Reads a terminal that may send bytes which are no UTF-8: each becomes a visible sign.

    The library's own reader ends at such a byte. It reads from a pipe here, into which a thread puts the terminal's
    bytes, mended.
    """

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        self._terminal = self.fileno
        # Its modes while the application has it; None before, and while it was given back.
        self._modes: list[Any] | None = None
        signal.signal(signal.SIGTSTP, self._stop_soon)

    def start_application_mode(self) -> None:
        """Take the terminal."""
        super().start_application_mode()  # type: ignore[no-untyped-call]
        # It does not begin where a shell keeps it in the background.
        if self._writer_thread is not None and self._writer_thread.is_alive():
            with suppress(termios.error):
                self._modes = termios.tcgetattr(self._terminal)

    def stop_application_mode(self) -> None:
        """Give the terminal back."""
        self._modes = None
        super().stop_application_mode()

    def resume_application_mode(self) -> None:
        """Go on after a stop.

        The library would begin anew wherever the system lets a program go on, with a second reader beside the first,
        and letters would be parted between them. Where the terminal was not given back, it is set as it was, and
        painted: from the loop, as this is called by a signal, which may come while the same thread writes.
        """
        if self._modes is None:
            super().resume_application_mode()
            return
        with suppress(RuntimeError):
            self._loop.call_soon_threadsafe(self._take_again)

    def _stop_soon(self, *_: object) -> None:
        """Give the terminal back and stop, from the loop: the library would write within the signal."""
        with suppress(RuntimeError):
            self._loop.call_soon_threadsafe(self._sigtstp_application)

    def _take_again(self) -> None:
        """Set the terminal as it was, and paint."""
        if self._modes is None:
            return
        with suppress(termios.error):
            termios.tcsetattr(self._terminal, termios.TCSANOW, self._modes)
        self.write(_SCREEN_AGAIN)
        self._enable_mouse_support()
        self._enable_bracketed_paste()
        self._disable_line_wrap()
        self.flush()
        self._app.refresh()

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
