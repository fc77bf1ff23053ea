"""Heavy work in a process of its own, so that the keys of a running sitting never wait for it.

Drawing a chart, or loading SciPy, holds the interpreter for up to a sixth of a second at a stretch; no thread beside it
gets a turn meanwhile. The child gets the name of a function with its arguments, and says what that returns or yields.
It is this program's own: what it says is trusted as what a thread would.
"""

from __future__ import annotations

import os
import pickle
import select
import subprocess
import sys
from collections.abc import Callable, Iterator
from importlib import import_module
from inspect import isgenerator
from typing import Any

from fresh_chair.core.errors import FreshChairError

# How often somebody who waits for the child looks whether to go on.
_LOOK_SECONDS = 0.05


class Stopped(Exception):
    """The work was given up on request."""


class ChildFailed(Exception):
    """The child met a bug; its traceback is the text."""


def in_child(function: str, *arguments: Any, stopped: Callable[[], bool] = lambda: False) -> Iterator[Any]:
    """Run a function in another process, and yield its value or values.

    Args:
        function: Where it is, such as package.module:name.
        arguments: What it gets; they must be picklable.
        stopped: Is asked while waiting; once it says yes, the child is killed.

    Raises:
        Stopped: Where it was stopped.
        FreshChairError: As the function raises it.
        ChildFailed: Where it raised anything else, or died.
    """
    with subprocess.Popen(
        [sys.executable, "-m", "fresh_chair.services.system.child"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        start_new_session=True,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)},
    ) as child:
        assert child.stdin is not None
        assert child.stdout is not None
        try:
            child.stdin.write(pickle.dumps((function, arguments)))
            child.stdin.close()
            while True:
                while not select.select([child.stdout], [], [], _LOOK_SECONDS)[0]:
                    if stopped():
                        raise Stopped
                kind, value = _said(child.stdout)
                if kind == "value":
                    yield value
                elif kind == "refused":
                    raise value
                elif kind == "bug":
                    raise ChildFailed(value)
                else:
                    return
        finally:
            child.kill()


def _said(stream: Any) -> tuple[str, Any]:
    """The next word of the child."""
    try:
        found: tuple[str, Any] = pickle.load(stream)
    except (EOFError, pickle.UnpicklingError):
        return "bug", "the child ended without a word"
    return found


def main() -> None:
    """Be the child: read a task, run it, write its values."""
    stream = os.fdopen(os.dup(1), "wb")
    # Whatever a library prints goes nowhere.
    os.dup2(2, 1)

    def say(kind: str, value: Any = None) -> None:
        stream.write(pickle.dumps((kind, value)))
        stream.flush()

    try:
        function, arguments = pickle.load(sys.stdin.buffer)
        module, _, name = function.partition(":")
        found = getattr(import_module(module), name)(*arguments)
        if isgenerator(found):
            for value in found:
                say("value", value)
        else:
            say("value", found)
    except FreshChairError as problem:
        say("refused", problem)
    except Exception:  # noqa: BLE001 - told to the parent, which raises it
        from traceback import format_exc

        say("bug", format_exc())
    else:
        say("end")


if __name__ == "__main__":
    main()
