"""How a script travels to a chair and its output back: one contract, whichever way."""

import asyncio
import contextlib
import os
import re
import signal
from collections.abc import AsyncIterator
from typing import Protocol

from fresh_chair.core.errors import InputError, Unreachable
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

CHUNK = 65_536
HERE = "here"
COURIER = "courier"


class Transport(Protocol):
    """A way to a chair.

    `stream` runs a POSIX shell script there and yields what it prints; closing the stream ends the script. It raises
    Unreachable where there is no way, or where it breaks.
    """

    @property
    def way(self) -> str:
        """The name of the way."""
        ...

    def stream(self, script: str) -> AsyncIterator[bytes]:
        """Run a script; yields its output as it comes."""
        ...

    async def close(self) -> None:
        """Let go of the chair."""
        ...


@frozen
class Address:
    """Where an SSH server listens."""

    host: str
    port: int | None = None
    user: str = ""

    @property
    def text(self) -> str:
        """As it is written."""
        host = f"[{self.host}]" if ":" in self.host else self.host
        return f"{f'{self.user}@' if self.user else ''}{host}{f':{self.port}' if self.port else ''}"


def address_of(way: str) -> Address | None:
    """The address in a way such as `ssh mara@saltmarsh:22`; None for the ways that have none.

    Raises:
        InputError: Where it is no way at all.
    """
    way = way.strip()
    if way in (HERE, COURIER):
        return None
    match = re.fullmatch(
        r"ssh\s+(?:(?P<user>[A-Za-z_][\w.-]*)@)?(?P<host>[A-Za-z0-9][\w.-]*|\[[0-9A-Fa-f:.]+\])(?::(?P<port>\d{1,5}))?",
        way,
    )
    if match is None or int(match["port"] or 22) > 65_535 or int(match["port"] or 22) < 1:
        raise InputError(
            f"“{legible(clipped(way, 60))}” is no way to a chair.",
            "It is one of: here, courier, ssh user@host or ssh user@host:port.",
        )
    return Address(match["host"].strip("[]"), int(match["port"]) if match["port"] else None, match["user"] or "")


class Local:
    """This machine itself."""

    way = HERE

    def __init__(self, environment: dict[str, str] | None = None) -> None:
        self._environment = environment

    async def stream(self, script: str) -> AsyncIterator[bytes]:
        """Run a script in a shell of its own."""
        try:
            process = await asyncio.create_subprocess_exec(
                "sh",
                stdin=asyncio.subprocess.PIPE,
                stdout=asyncio.subprocess.PIPE,
                stderr=asyncio.subprocess.DEVNULL,
                env=self._environment,
                start_new_session=True,
            )
        except OSError as problem:
            raise Unreachable(f"No shell can be started here: {problem.strerror}.") from problem
        assert process.stdin is not None
        assert process.stdout is not None
        # Beside the reading: a long script does not fit into the pipe before its first answers are taken out.
        feeding = asyncio.create_task(_feed(process.stdin, script.encode()))
        try:
            while chunk := await process.stdout.read(CHUNK):
                yield chunk
        finally:
            feeding.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await feeding
            with contextlib.suppress(ProcessLookupError, PermissionError):
                os.killpg(process.pid, signal.SIGKILL)
            await process.wait()

    async def close(self) -> None:
        """Nothing is held open."""


async def _feed(pipe: asyncio.StreamWriter, data: bytes) -> None:
    with contextlib.suppress(ConnectionError):
        pipe.write(data)
        await pipe.drain()
    pipe.close()
