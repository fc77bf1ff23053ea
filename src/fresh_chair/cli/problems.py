"""The one place where the command line turns a failure into words."""

import errno
import io
import os
import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.text import clipped, legible, legible_lines


@dataclass(slots=True)
class Result:
    """How a command ended."""

    code: int = 0


class OutputFailed(Exception):
    """Standard output took no more: a full disk behind it, a closed one."""


class OutputClosed(Exception):
    """The reader of standard output closed it. No OSError: Click would end with 1 on that."""


class Output(io.TextIOWrapper):
    """Standard output that says of itself that it failed, so that no other failure is taken for its."""

    def write(self, text: str) -> int:
        """Write text. Raises OutputClosed on a closed pipe, OutputFailed on any other error of the system."""
        try:
            return super().write(text)
        except OSError as problem:
            raise _failed(problem) from problem

    def flush(self) -> None:
        """Flush the buffer. Raises as `write`."""
        try:
            super().flush()
        except OSError as problem:
            raise _failed(problem) from problem


def _failed(problem: OSError) -> Exception:
    if isinstance(problem, BrokenPipeError):
        return OutputClosed()
    return OutputFailed(problem.strerror or "the system refused")


class Interrupted(BaseException):
    """Ctrl+C was pressed. No KeyboardInterrupt: Click would print “Aborted!” on that."""


class Terminated(BaseException):
    """The system told the program to end."""


def _interrupt(*_: object) -> None:
    raise Interrupted


def _terminate(*_: object) -> None:
    # Once: what is being put away is not to be left half way.
    signal.signal(signal.SIGTERM, signal.SIG_IGN)
    raise Terminated


def catch_interrupts() -> None:
    """Let Ctrl+C, and being told to end, end a command in one way wherever it is; nothing half made is left behind."""
    if threading.current_thread() is threading.main_thread():
        signal.signal(signal.SIGINT, _interrupt)
        signal.signal(signal.SIGTERM, _terminate)


class _Closed(io.BytesIO):
    """A standard output that was closed from the first."""

    def writable(self) -> bool:
        return True

    def write(self, data: object) -> int:
        raise OSError(errno.EBADF, "it was closed")


def guard_output() -> None:
    """Put standard output behind `Output`, where it is none of a terminal's, on which the screen draws.

    One that was closed before the program began is there, too, and says so once anything is written.
    """
    if sys.stderr is None:
        sys.stderr = open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115, PTH123 - until the program ends
    if sys.stdout is None:
        sys.stdout = Output(_Closed(), encoding="utf-8", errors="backslashreplace")
        return
    if isinstance(sys.stdout, io.TextIOWrapper) and not sys.stdout.isatty():
        encoding = sys.stdout.encoding
        sys.stdout = Output(sys.stdout.detach(), encoding=encoding, errors="backslashreplace")


@contextmanager
def said() -> Iterator[Result]:
    """Run a command; a failure becomes a sentence and an exit code."""
    result = Result()
    try:
        yield result
        sys.stdout.flush()
    except FreshChairError as problem:
        result.code = _say(f"{problem.title}\n{problem.hint}" if problem.hint else problem.title, 1)
    except SystemExit as ended:
        # Usage errors, help and the version: Typer has said its sentence already.
        result.code = ended.code if isinstance(ended.code, int) else 1 if ended.code else 0
        try:
            sys.stdout.flush()
        except OutputFailed as problem:
            result.code = _say(f"The output could not be written: {problem}.", 74)
        except OutputClosed:
            result.code = _gone()
    except (KeyboardInterrupt, Interrupted):
        result.code = _say("Stopped.", 130)
    except Terminated:
        result.code = _say("Told to end; nothing half made is left.", 143)
    except OutputClosed:
        result.code = _gone()
    except OutputFailed as problem:
        result.code = _say(f"The output could not be written: {problem}.", 74)
    except Exception as problem:  # noqa: BLE001 - the last line: a traceback must not reach the user
        if isinstance(problem, OSError) and problem.filename:
            # A path that no operation of the system takes: a name too long, a folder that may not be looked into.
            where, why = legible(str(problem.filename)), problem.strerror or "the system refused"
            result.code = _say(f"{clipped(where, 200)} cannot be used: {why}.\nGive another path.", 74)
            return
        from fresh_chair.services.system.crash_report import report_bug

        file = report_bug(problem)
        where = f"\nA report without participants' data is at {file}." if file else ""
        result.code = _say(f"Fresh Chair met something it did not foresee and stopped.{where}", 70)


def _gone() -> int:
    """Close standard output quietly: its reader has ended, and the interpreter must not complain at its exit."""
    sys.stderr.close()
    return 141


def _say(words: str, code: int) -> int:
    print(f"fresh-chair: {legible_lines(words)}", file=sys.stderr)
    return code
