"""Unforeseen failures, in any thread: told in a sentence, with the words of the open line kept."""

import os
import sys
import threading
from pathlib import Path
from typing import Generic, TypeVar

from platformdirs import user_state_path
from rich.console import RenderableType
from textual.app import App
from textual.widgets import Input

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import legible, legible_lines
from fresh_chair.services.system.crash_report import report_bug
from fresh_chair.services.system.files import write_file

Result = TypeVar("Result")
BUG = 70
# After a thread of the library has died the screen may take no more; so long the program may try to leave in order.
_LEAVE_SECONDS = 2.0


class LoudApp(App[Result], Generic[Result]):
    """An application that ends with a sentence and a report, never a traceback, where something unforeseen fails."""

    bug_report: Path | None = None
    unfinished: str = ""
    kept_words: Path | None = None

    def fail(self, error: BaseException) -> None:
        """End with 70: write the report once, keep the words of the line that is open."""
        if self.bug_report is None:
            self.bug_report = report_bug(error)
            self.unfinished = self._typed_words()
            self.kept_words = _kept(self.unfinished)
        self.exit(return_code=BUG)

    def _typed_words(self) -> str:
        screens = self.screen_stack if self.is_running else []
        fields = [field for screen in screens for field in screen.query(Input) if field.display and field.has_focus]
        return fields[-1].value if fields else ""

    def watch_threads(self) -> None:
        """Hear of any thread that dies, the library's own too."""
        threading.excepthook = self._thread_died

    def _thread_died(self, arguments: threading.ExceptHookArgs) -> None:
        error = arguments.exc_value or RuntimeError("a thread died")
        if arguments.thread is not None and not self.is_headless:
            late = threading.Timer(_LEAVE_SECONDS, self._leave_at_once)
            late.daemon = True
            late.start()
        try:
            self.call_from_thread(self.fail, error)
        except RuntimeError:
            # There is no loop any more, or this is the thread it runs in.
            self.fail(error)

    def _leave_at_once(self) -> None:
        """Say the same on a terminal that is put back, and end: nothing of a file is held back in memory."""
        sys.stderr.write("\x1b[?1049l\x1b[?25h\x1b[?1000l\x1b[?1003l\x1b[?1006l\x1b[?2004l\x1b[<u\r\n")
        sys.stderr.write("\r\n".join(self.failure_lines()) + "\r\n")
        sys.stderr.flush()
        os.system("stty sane 2>/dev/null")
        os._exit(BUG)

    def panic(self, *renderables: RenderableType) -> None:
        """Take a failure that the library would print with its traceback: its reader of the terminal has ended."""
        if self.is_headless:
            super().panic(*renderables)
            return
        self.fail(RuntimeError("the library gave up"))

    def _handle_exception(self, error: Exception) -> None:
        # The one private name used here: Textual offers no other way to keep a traceback, which shows the values of
        # variables and so what participants said, off the user's terminal. Tests still get the failure itself.
        if self.is_headless:
            super()._handle_exception(error)
            return
        self.fail(error)

    def failure_lines(self) -> list[str]:
        """The sentences for the user's terminal once the screen is gone."""
        lines = ["Fresh Chair met something it did not foresee and stopped. Everything that was shown is saved."]
        if self.unfinished:
            lines.append(f"In the open line stood: {legible_lines(self.unfinished)}")
        if self.kept_words is not None:
            lines.append(f"These words are kept in {legible(str(self.kept_words))}.")
        if self.bug_report is not None:
            lines.append(f"A report without participants' data is at {legible(str(self.bug_report))}.")
        return lines


def _kept(words: str) -> Path | None:
    """The file in which unfinished words are kept, readable by their writer alone; None where there are none."""
    if not words.strip():
        return None
    text = (words + "\n").encode("utf-8", "replace")
    try:
        return write_file(user_state_path("fresh-chair") / "unfinished-words.txt", text, "the words").path
    except FreshChairError:
        return None
