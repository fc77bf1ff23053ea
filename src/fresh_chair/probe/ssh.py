"""Over SSH: keys or an agent, the host key always verified, and a limit on everything."""

import asyncio
import contextlib
import os
import socket
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any

import asyncssh

from fresh_chair.core.errors import FileProblem, HostKeyChanged, HostKeyUnknown, Unreachable
from fresh_chair.core.text import clipped, legible
from fresh_chair.probe.transport import CHUNK, Address

CONNECT_SECONDS = 15
_KEEPALIVE_SECONDS = 10
# Whatever else stands in the list, comments of any kind, comes through as it was.
_TEXT: Any = {"encoding": "utf-8", "errors": "surrogateescape"}


class HostKeys:
    """The confirmed host keys, in OpenSSH's own format.

    Args:
        path: The file they are kept in.
        also: Another one that is only read, such as the user's own.
    """

    def __init__(self, path: Path, also: Path | None = None) -> None:
        self._path = path
        self._also = also

    def trusted(self, host: str, port: int) -> list[asyncssh.SSHKey]:
        """The keys confirmed for a host and port."""
        found: list[asyncssh.SSHKey] = []
        for path in (self._path, self._also):
            if path is None or not path.is_file():
                continue
            try:
                known = asyncssh.read_known_hosts(str(path))
            except (OSError, ValueError, asyncssh.Error) as problem:
                if path == self._path:
                    raise FileProblem(
                        f"The list of confirmed host keys cannot be read: {legible(clipped(str(problem), 120))}.",
                        f"Mend or remove {legible(str(path))}.",
                    ) from problem
                continue
            keys, *_ = asyncssh.match_known_hosts(known, host, "", port)
            found += [key for key in keys if key not in found]
        return found

    def trust(self, host: str, port: int, key: str) -> None:
        """Put a key on the list, in place of the one that was confirmed for the same host and port before.

        Args:
            key: As OpenSSH writes it: kind and base64.

        Raises:
            FileProblem: Where it cannot be written.
        """
        kind, blob = key.split()[:2]
        try:
            self._path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            name = f"[{host}]:{port}"
            kept = self._path.read_text(**_TEXT).splitlines() if self._path.is_file() else []
            lines = [line for line in kept if line.split(" ", 1)[0] != name] + [f"{name} {kind} {blob}"]
            draft = self._path.with_name(f".{self._path.name}.{os.getpid()}.part")
            descriptor = os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
            with os.fdopen(descriptor, "w", **_TEXT) as file:
                file.write("".join(f"{line}\n" for line in lines))
            draft.replace(self._path)
        except OSError as problem:
            raise FileProblem(
                f"The host key cannot be kept: {problem.strerror}.", "Nothing was asked of the chair."
            ) from problem


class _Client(asyncssh.SSHClient):
    """Looks at the key of a host that is not known yet, and refuses it; whether it is right is for a person to say."""

    def __init__(self, seen: list[asyncssh.SSHKey]) -> None:
        self._seen = seen

    def validate_host_public_key(self, host: str, addr: str, port: int, key: asyncssh.SSHKey) -> bool:
        """Keep the key for the question."""
        self._seen.append(key)
        return False


class Ssh:
    """A chair behind an SSH server.

    Args:
        address: Where it listens.
        keys: The host keys that are trusted.
        identity: Private keys to use besides the user's own and the agent's.
    """

    def __init__(self, address: Address, keys: HostKeys, *, identity: tuple[Path, ...] = ()) -> None:
        self._address = address
        self._keys = keys
        self._identity = identity
        self._connection: asyncssh.SSHClientConnection | None = None

    @property
    def way(self) -> str:
        """The name of the way."""
        return f"ssh {self._address.text}"

    async def stream(self, script: str) -> AsyncIterator[bytes]:
        """Run a script in a shell there, over one connection for all."""
        connection = await self._connected()
        try:
            process = await asyncio.wait_for(
                connection.create_process("sh", encoding=None, stderr=asyncssh.DEVNULL), CONNECT_SECONDS
            )
        except (asyncssh.Error, OSError, TimeoutError) as problem:
            raise Unreachable(f"{self._shown} opens no shell: {_said(problem)}.") from problem
        try:
            # A shell that has ended already takes no script; its output is read all the same.
            with contextlib.suppress(OSError):
                process.stdin.write(script.encode())
                process.stdin.write_eof()
            while True:
                chunk = await process.stdout.read(CHUNK)
                if not chunk:
                    break
                yield bytes(chunk)
            if connection.is_closed():
                raise Unreachable(f"The connection to {self._shown} broke off.", "What was answered is kept.")
        except (asyncssh.Error, OSError) as problem:
            raise Unreachable(f"The connection to {self._shown} broke off: {_said(problem)}.") from problem
        finally:
            with contextlib.suppress(asyncssh.Error, OSError):
                process.close()

    async def close(self) -> None:
        """End the connection."""
        if self._connection is not None:
            self._connection.abort()
            self._connection = None

    @property
    def _shown(self) -> str:
        return legible(self._address.text)

    async def _connected(self) -> asyncssh.SSHClientConnection:
        if self._connection is not None and not self._connection.is_closed():
            return self._connection
        host, port = self._address.host, self._address.port or 22
        trusted = self._keys.trusted(host, port)
        seen: list[asyncssh.SSHKey] = []
        options: dict[str, object] = {
            "known_hosts": (trusted, [], []),
            "client_factory": lambda: _Client(seen),
            "preferred_auth": "publickey",
            "connect_timeout": CONNECT_SECONDS,
            "login_timeout": CONNECT_SECONDS,
            "keepalive_interval": _KEEPALIVE_SECONDS,
            "agent_forwarding": False,
            "config": None,
        }
        if self._address.user:
            options["username"] = self._address.user
        if self._identity:
            options["client_keys"] = [str(path) for path in self._identity]
        try:
            self._connection = await asyncio.wait_for(
                asyncssh.connect(host, port, **options),
                2 * CONNECT_SECONDS,
            )
        except asyncssh.HostKeyNotVerifiable as problem:
            raise self._distrust(host, port, trusted, seen) from problem
        except asyncssh.PermissionDenied as problem:
            raise Unreachable(
                f"{self._shown} lets nobody in with the keys at hand.",
                "Fresh Chair uses your SSH keys and agent only, never a password: copy your key to the chair first.",
            ) from problem
        except (asyncssh.Error, OSError, TimeoutError, ValueError) as problem:
            raise Unreachable(f"{self._shown} cannot be reached: {_said(problem)}.") from problem
        return self._connection

    def _distrust(
        self, host: str, port: int, trusted: list[asyncssh.SSHKey], seen: list[asyncssh.SSHKey]
    ) -> Unreachable:
        if not seen:
            return Unreachable(f"{self._shown} showed no host key that can be verified.")
        key = seen[-1]
        line = key.export_public_key("openssh").decode("ascii").strip()
        fingerprint = key.get_fingerprint()
        if trusted:
            return HostKeyChanged(
                f"The host key of {self._shown} is not the one that was confirmed.",
                f"It is {fingerprint} now. Nothing was asked. Was the chair installed anew? Then confirm it again.",
                host=host, port=port, key=line, fingerprint=fingerprint,
            )  # fmt: skip
        return HostKeyUnknown(
            f"The host key of {self._shown} is not known yet: {fingerprint}.",
            "Nothing was asked. Compare it on the chair (ssh-keygen -lf), then confirm it.",
            host=host, port=port, key=line, fingerprint=fingerprint,
        )  # fmt: skip


def _said(problem: BaseException) -> str:
    if isinstance(problem, TimeoutError):
        return f"no answer within {CONNECT_SECONDS} s"
    if isinstance(problem, ConnectionRefusedError):
        return "nobody listens there"
    if isinstance(problem, socket.gaierror):
        return "no machine goes by that name"
    words = problem.strerror if isinstance(problem, OSError) and problem.strerror else str(problem)
    return legible(clipped(words or type(problem).__name__, 160)).rstrip(".")
