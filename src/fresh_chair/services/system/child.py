"""Heavy work in a process of its own, so that the keys of a running sitting never wait for it.

Drawing a chart, or loading SciPy, holds the interpreter for up to a sixth of a second at a stretch; no thread beside it
gets a turn meanwhile. The child gets the name of a function with its arguments, and says what that returns or yields.
It is this program's own: what it says is trusted as what a thread would.
"""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from importlib import import_module
from inspect import isgenerator
from multiprocessing.connection import Connection, Pipe
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
    here, there = Pipe()
    with (
        here,
        subprocess.Popen(
            [sys.executable, "-m", "fresh_chair.services.system.child", str(there.fileno())],
            stdin=subprocess.DEVNULL,
            # Whatever a library prints goes nowhere.
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            pass_fds=[there.fileno()],
            start_new_session=True,
            env={**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)},
        ) as child,
    ):
        # Or its end would not be noticed here.
        there.close()
        try:
            here.send((function, arguments))
            while True:
                while not here.poll(_LOOK_SECONDS):
                    if stopped():
                        raise Stopped
                kind, value = here.recv()
                if kind == "value":
                    yield value
                elif kind == "refused":
                    raise value
                elif kind == "bug":
                    raise ChildFailed(value)
                else:
                    return
        except (EOFError, BrokenPipeError, ConnectionResetError) as problem:
            raise ChildFailed("the child ended without a word") from problem
        finally:
            child.kill()


def main() -> None:
    """Be the child: read a task, run it, send its values."""
    parent: Connection = Connection(int(sys.argv[1]))
    try:
        function, arguments = parent.recv()
        module, _, name = function.partition(":")
        found = getattr(import_module(module), name)(*arguments)
        for value in found if isgenerator(found) else [found]:
            parent.send(("value", value))
    except FreshChairError as problem:
        parent.send(("refused", problem))
    except Exception:  # noqa: BLE001 - told to the parent, which raises it
        from traceback import format_exc

        parent.send(("bug", format_exc()))
    else:
        parent.send(("end", None))


if __name__ == "__main__":
    main()
