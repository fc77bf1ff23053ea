"""The address of a study: a path, or a server and a name; read, and written without a secret in it."""

from __future__ import annotations

import re
from pathlib import Path
from urllib.parse import parse_qsl, quote, unquote, urlencode, urlsplit

from fresh_chair.core.errors import InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

SCHEMES = ("postgresql", "postgres")
# What libpq may be told in an address; passwords and files that hold them come from its usual places.
_OPTIONS = (
    "service", "sslmode", "sslrootcert", "sslcert", "sslkey", "sslcrl", "channel_binding", "gssencmode", "krbsrvname",
    "target_session_attrs", "load_balance_hosts", "hostaddr", "host", "port", "dbname", "user", "connect_timeout",
    "passfile",
)  # fmt: skip
_NAME = re.compile(r"[^\x00-\x1f\x7f/?&#]{1,80}")
_CREW = re.compile(r"[a-z][a-z0-9_]{0,39}")


@frozen
class ServerAddress:
    """Where a study is on a server.

    Attributes:
        server: The server and its database, as libpq reads it; no password in it.
        study: The study's name there; empty for the server as a whole.
        crew: Whose study it is to be, where one is made; empty for the only crew one plans for.
    """

    server: str
    study: str = ""
    crew: str = ""

    def __str__(self) -> str:
        asked = {"study": self.study, "crew": self.crew}
        more = urlencode({name: value for name, value in asked.items() if value}, quote_via=quote)
        if not more:
            return self.server
        return f"{self.server}{'&' if '?' in self.server else '?'}{more}"

    @property
    def name(self) -> str:
        """The study's name, or the server's, as it may stand in a sentence."""
        return clipped(legible(self.study or self.server), 80)


Address = Path | ServerAddress


def read_address(text: str) -> Address:
    """A typed address: a path, or a server's. Raises InputError."""
    return read_server_address(text) if is_server_address(text) else Path(text)


def name_of_address(address: Address) -> str:
    """The name of a study by its address: of a file without its ending."""
    return address.study if isinstance(address, ServerAddress) else address.stem


def is_server_address(text: str) -> bool:
    """True where a text is to be read as the address of a server, not as a path."""
    return text.partition("://")[0] in SCHEMES and "://" in text


def read_server_address(text: str) -> ServerAddress:
    """A typed address.

    Raises:
        InputError: Where it is none, or a password stands in it.
    """
    shown = legible(text.partition("@")[2] or text)[:80]
    hint = "Say it like this: postgresql://HOST/DATABASE?study=NAME"
    try:
        parts = urlsplit(text)
        asked = parse_qsl(parts.query, keep_blank_values=True, strict_parsing=bool(parts.query), max_num_fields=30)
    except ValueError:
        raise InputError(f"{shown} is no address of a server.", hint) from None
    names = [name for name, _ in asked]
    if ":" in parts.netloc.rpartition("@")[0] or any("password" in name.lower() for name in names):
        raise InputError(
            "An address has no password in it: it would be seen in lists of processes and of recent studies.",
            "Nothing was connected. libpq takes it from a service file, ~/.pgpass or PGPASSWORD.",
        )
    if parts.fragment or len(set(names)) != len(names) or not set(names) <= {*_OPTIONS, "study", "crew"}:
        raise InputError(f"{shown} says more than an address can.", hint)
    options = dict(asked)
    study, crew = options.pop("study", ""), options.pop("crew", "")
    if "study" in names and (not _NAME.fullmatch(study) or study != study.strip()):
        raise InputError("A study's name on a server has 1 to 80 signs, and none of / ? & #.", hint)
    if "crew" in names and not _CREW.fullmatch(crew):
        raise InputError("A crew is named by small letters, digits and _.", "Crews are made by: server prepare")
    more = f"?{urlencode(options, quote_via=quote)}" if options else ""
    server = f"postgresql://{parts.netloc}/{quote(unquote(parts.path.lstrip('/')))}{more}"
    return ServerAddress(server, study, crew)


def require_crew(name: str) -> str:
    """A crew's name as it may be part of a role's. Raises InputError."""
    if not _CREW.fullmatch(name):
        raise InputError("A crew is named by small letters, digits and _, at most 40.", "For instance: --crew north")
    return name
