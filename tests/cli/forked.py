"""The program as a process of its own, forked off one that has loaded it already: the start costs milliseconds.

Tests of the start itself, of signals and of what is loaded run `python -m fresh_chair` instead.
"""

import atexit
import gc
import importlib
import json
import os
import pkgutil
import resource
import signal
import socket
import subprocess
import sys
import tempfile
import traceback
from functools import cache
from pathlib import Path
from typing import Any

import fresh_chair.cli
import fresh_chair.core
import fresh_chair.services
from fresh_chair.cli.program import program

ROOT = Path(__file__).parents[2]
LONGEST = 1 << 20


def run(
    *arguments: str | Path | int, stdin: bytes = b"", memory: int = 0, seconds: int = 180
) -> "subprocess.CompletedProcess[str]":
    """Run the program.

    Args:
        arguments: Of the command line.
        stdin: What stands on standard input.
        memory: The most bytes it may take; 0 for no limit.
        seconds: What takes longer is ended by a signal.
    """
    words = [str(argument) for argument in arguments]
    with tempfile.TemporaryFile() as given, tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as err:
        given.write(stdin)
        given.seek(0)
        limits = {"memory": memory, "seconds": seconds}
        asked = {"arguments": words, "environment": dict(os.environ), "folder": os.getcwd(), **limits}  # noqa: PTH109
        server = _server()
        socket.send_fds(server, [json.dumps(asked).encode()], [given.fileno(), out.fileno(), err.fileno()])
        code = int(server.recv(64))
        texts = []
        for file in (out, err):
            file.seek(0)
            texts.append(file.read().decode(errors="replace"))
    return subprocess.CompletedProcess(words, code, *texts)


@cache
def _server() -> socket.socket:
    ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
    # One that has loaded the program answers quickly; it ends when this process closes its end.
    command = [sys.executable, "-m", "tests.cli.forked"]
    process = subprocess.Popen(command, cwd=ROOT, stdin=theirs.fileno(), stdout=subprocess.DEVNULL)
    theirs.close()

    def end() -> None:
        ours.close()
        process.wait(10)

    atexit.register(end)
    return ours


def _serve() -> None:
    """Answer requests until the other end is closed, each in a child of its own."""
    for room in (fresh_chair.core, fresh_chair.services, fresh_chair.cli):
        for found in pkgutil.walk_packages(room.__path__, f"{room.__name__}."):
            importlib.import_module(found.name)
    # Typer loads what reads values with the first command it reads.
    program("studies")(args=["studies", "--help"], standalone_mode=False)
    gc.freeze()
    there = socket.socket(fileno=os.dup(0))
    os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
    while True:
        data, descriptors, _, _ = socket.recv_fds(there, LONGEST, 3)
        if not data:
            return
        child = os.fork()
        if child == 0:
            there.close()
            os._exit(_child(json.loads(data), descriptors))
        for descriptor in descriptors:
            os.close(descriptor)
        there.send(str(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])).encode())


def _child(asked: dict[str, Any], descriptors: list[int]) -> int:
    """Become the program; returns its exit code."""
    for target, descriptor in enumerate(descriptors):
        os.dup2(descriptor, target)
        os.close(descriptor)
    if asked["memory"]:
        resource.setrlimit(resource.RLIMIT_DATA, (asked["memory"], asked["memory"]))
    signal.alarm(asked["seconds"])
    os.chdir(asked["folder"])
    os.environ.clear()
    os.environ.update(asked["environment"])
    sys.argv = ["fresh-chair", *asked["arguments"]]
    code: int | str | None = 0
    try:
        from fresh_chair.__main__ import main

        main()
    except SystemExit as ended:
        code = ended.code
    except BaseException:  # noqa: BLE001 - a child never goes on as the server it was forked off
        traceback.print_exc()
        code = 1
    for stream in (sys.stdout, sys.stderr):
        try:
            stream.flush()
        except OSError:
            code = code or 1
    return code if isinstance(code, int) else int(code is not None)


if __name__ == "__main__":
    _serve()
