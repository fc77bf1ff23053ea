"""The line to a server: to another machine encrypted and its server verified, or refused; passwords by SCRAM alone."""

from __future__ import annotations

import os
from collections.abc import Mapping

import psycopg
from psycopg.conninfo import conninfo_to_dict

from fresh_chair.core.errors import FileProblem
from fresh_chair.core.frozen import frozen
from fresh_chair.store.address import ServerAddress

# Where libpq can be told by which means it may say who it is; an older one sends a password to whoever asks.
_OLDEST_LIBPQ = 160000
# "none": the server asks for nothing, as over its own socket, or where it has seen a certificate.
_BY_SCRAM = "scram-sha-256,gss,none"
_OPEN, _VERIFIED = frozenset({"disable", "allow", "prefer"}), "verify-full"


@frozen
class ServerLine:
    """The manner in which a server is spoken to.

    Attributes:
        asked: What libpq is told of it, beyond the address.
        words: What is said of it all the time; empty where nobody on the way can read along or be the server.
    """

    asked: Mapping[str, str]
    words: str = ""


def line_to(address: ServerAddress, environment: Mapping[str, str] = os.environ) -> ServerLine:
    """The line to an address: to another machine, SCRAM bound to an encrypted line unless the address says otherwise.

    Args:
        address: The server.
        environment: The variables that libpq takes a host from where the address has none.
    """
    said = {name: str(value) for name, value in conninfo_to_dict(address.server).items() if value is not None}
    mode = said.get("sslmode", "")
    if _is_here(said, environment) or mode == _VERIFIED:
        return ServerLine({"require_auth": _BY_SCRAM})
    if mode in _OPEN:
        return ServerLine({"require_auth": _BY_SCRAM}, "the line is open")
    if said.get("channel_binding", "require") != "require":
        return ServerLine({"require_auth": _BY_SCRAM}, "the server is not verified")
    encrypted = mode or "require"
    return ServerLine({"sslmode": encrypted, "channel_binding": "require", "require_auth": "scram-sha-256"})


def require_libpq(version: int | None = None) -> None:
    """Do nothing where libpq can be held to SCRAM. Raises FileProblem."""
    found = psycopg.pq.version() if version is None else version
    if found < _OLDEST_LIBPQ:
        raise FileProblem(
            f"The libpq of this machine is of PostgreSQL {found // 10000}: it tells a password to whoever asks for it.",
            "Nothing was connected. Use that of 16 or newer; psycopg[binary] brings one.",
        )


def _is_here(said: Mapping[str, str], environment: Mapping[str, str]) -> bool:
    """Whether a server is on this machine; one that a service file names may be anywhere."""
    if said.get("service") or (not said.get("host") and environment.get("PGSERVICE")):
        return False
    hosts = said.get("host") or said.get("hostaddr") or environment.get("PGHOST") or environment.get("PGHOSTADDR", "")
    return all(
        host in ("", "localhost", "::1") or host.startswith(("/", "@", "127.")) for host in hosts.strip().split(",")
    )
