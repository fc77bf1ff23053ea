"""A stand-in for a chair: a real SSH server in front of made-up answers. It runs nothing of the scripts it is sent."""

import asyncio
import os
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from pathlib import Path

import asyncssh

from fresh_chair.core.errors import OutsideError
from fresh_chair.core.text import legible
from fresh_chair.probe.questions.framing import Asked, asked_in

MOST_SCRIPT = 2_000_000
Answering = Callable[[str], tuple[str, int]]


class _Open(asyncssh.SSHServer):
    """Lets anybody in: it listens on this computer only, and there is nothing behind it."""

    def begin_auth(self, username: str) -> bool:
        """No key is asked for."""
        return False


@asynccontextmanager
async def stand_in(
    answer: Answering, *, host_key: Path, port: int = 0, pause_seconds: float = 0.0
) -> AsyncIterator[tuple[int, str]]:
    """Serve made-up answers over SSH on the loopback interface; gives the port and the host key's fingerprint.

    Args:
        answer: What the machine prints when asked by a question's name, and how the command ends.
        host_key: Its file; made where there is none, so that it stays the same from one time to the next.
        port: Where to listen; any free one by default.
        pause_seconds: How long each answer takes.

    Raises:
        OutsideError: Where the port is taken, or the key cannot be kept.
    """
    try:
        key = _host_key(host_key)
        server = await asyncssh.listen(
            "127.0.0.1",
            port,
            server_factory=_Open,
            server_host_keys=[key],
            process_factory=lambda process: _serve(process, answer, pause_seconds),
            encoding=None,
        )
    except (OSError, asyncssh.Error) as problem:
        words = legible(getattr(problem, "strerror", None) or str(problem))
        raise OutsideError(
            f"The stand-in chair cannot listen at port {port}: {words}.", "Choose another --port."
        ) from problem
    try:
        yield server.get_port(), key.get_fingerprint()
    finally:
        server.close()
        await server.wait_closed()


def _host_key(path: Path) -> asyncssh.SSHKey:
    if path.exists():
        return asyncssh.read_private_key(str(path))
    key = asyncssh.generate_private_key("ssh-ed25519", comment="fresh-chair stand-in")
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "wb") as file:
        file.write(key.export_private_key("openssh"))
    return key


async def _serve(process: asyncssh.SSHServerProcess[bytes], answer: Answering, pause_seconds: float) -> None:
    script = b""
    while chunk := await process.stdin.read(65_536):
        script += chunk
        if len(script) > MOST_SCRIPT:
            process.exit(1)
            return
    try:
        number, questions = asked_in(script.decode("utf-8", "replace"))
    except ValueError:
        # Not one of our scripts: it is no machine that runs commands.
        process.stdout.write(b"This is a stand-in; it answers Fresh Chair only.\n")
        process.exit(127)
        return
    process.stdout.write(f"\n@{number} begin 1\n".encode())
    for asked in questions:
        await asyncio.sleep(pause_seconds)
        process.stdout.write(_framed(number, asked, *answer(asked.name)))
        await process.stdout.drain()
    process.stdout.write(f"\n@{number} done\n".encode())
    process.exit(0)


def _framed(number: str, asked: Asked, text: str, code: int) -> bytes:
    body = "".join(f">{line}\n" for line in text.splitlines())
    return f"\n@{number} ask {asked.name}\n{body}\n! {code}\n\n@{number} end\n".encode()
