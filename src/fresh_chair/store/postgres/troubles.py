"""The server's failures, in words a reviewer can act on."""

from __future__ import annotations

from contextlib import AbstractContextManager
from types import UnionType

import psycopg
from psycopg import errors

from fresh_chair.core.text import clipped, legible
from fresh_chair.store.failures import reading_from, writing_to

# What the server's own functions refuse, in a sentence.
REFUSED = "FC001"
# A sitting that another station moderates now.
ANOTHERS = "FC002"
_AWAY = "The server of {name} cannot be reached."
_SENTENCES: tuple[tuple[type[psycopg.Error] | UnionType, str, str], ...] = (
    (errors.DiskFull, "The disk of the server of {name} is full.", "Its administrator can free some."),
    (errors.InsufficientPrivilege, "Your role on the server may not do this in {name}.", "Its owner can grant it."),
    (errors.ReadOnlySqlTransaction, "The server of {name} only reads just now.", "It may be taking over; try again."),
    (
        errors.UndefinedTable | errors.InvalidSchemaName,
        "{name} is on a server that was not prepared.",
        "Its administrator runs: server prepare",
    ),
    (errors.QueryCanceled, "The server of {name} took too long.", "Try again."),
)
_PASSWORD = "libpq takes it from ~/.pgpass, a service file or PGPASSWORD."
_IN_WORDS = (
    ("hunches are sealed", "{name} refused to change a hunch that is sealed.", "Another one can be added, as late."),
    ("only ever appended", "{name} refused to change an entry that was written.", "Corrections are entries."),
    ("password authentication failed", "The server of {name} refused the password.", _PASSWORD),
    ("no password supplied", "The server of {name} wants a password.", _PASSWORD),
    ("study_pkey", "That study is on the server already, under another name.", "It is listed by: fresh-chair studies"),
    (
        "does not support ssl",
        "The server of {name} offers no encrypted line.",
        "It needs a certificate (docs/stations.md). &sslmode=disable in the address takes an open line.",
    ),
    (
        "channel binding",
        "The server of {name} did not prove that it is the one that knows the password.",
        "Nothing was told to it. It needs SCRAM and a certificate; or say &sslmode=verify-full and &sslrootcert=FILE.",
    ),
    (
        "authentication method requirement",
        "The server of {name} asked for a password in the clear, or for nothing; it was told none.",
        "Its administrator lets it ask by scram-sha-256 (pg_hba.conf).",
    ),
    (
        "certificate verify failed",
        "The certificate of the server of {name} is none that is trusted here.",
        "Say which is: &sslrootcert=FILE",
    ),
    (
        "no pg_hba.conf entry",
        "The server of {name} lets nobody in from this machine.",
        "Its pg_hba.conf needs: hostssl DATABASE all THIS-NETWORK/24 scram-sha-256 (docs/stations.md).",
    ),
    (
        "connection refused",
        "The server of {name} cannot be reached: nothing listens there.",
        "Is it started? On it: ALTER SYSTEM SET listen_addresses = '*', then restart it (docs/stations.md).",
    ),
    (
        "timeout expired",
        "The server of {name} cannot be reached: nothing answers there.",
        "Is that its address, and does a firewall let port 5432 through?",
    ),
    ("does not exist", "The server has no such database, or no such user.", "Check the address."),
    ("no space left", "The disk of the server of {name} is full.", "Its administrator can free some."),
)


def is_away(problem: BaseException | None) -> bool:
    """True where the server could not be reached, or the connection broke: nothing is known of its answer."""
    if isinstance(problem, errors.AdminShutdown | errors.CrashShutdown | errors.CannotConnectNow):
        return True
    return isinstance(problem, psycopg.OperationalError | psycopg.InterfaceError) and problem.sqlstate is None


def reading(name: str) -> AbstractContextManager[None]:
    """Turn the server's errors of reading into a FileProblem."""
    return reading_from(name, (psycopg.Error, OSError), _sentence)


def writing(name: str) -> AbstractContextManager[None]:
    """Turn the server's errors of writing into a NotSaved."""
    return writing_to(name, (psycopg.Error, OSError), _sentence)


def _sentence(problem: Exception, name: str) -> tuple[str, str]:
    """A problem and its remedy, in words."""
    said = str(problem)
    if isinstance(problem, psycopg.Error) and problem.sqlstate == REFUSED:
        # A sentence of our own functions; a server that is none of ours may say anything.
        told = (problem.diag.message_primary or "", problem.diag.message_hint or "Nothing was changed there.")
        return clipped(legible(told[0]), 200), clipped(legible(told[1]), 200)
    for kind, title, hint in _SENTENCES:
        if isinstance(problem, kind):
            return title.format(name=name), hint
    for sign, title, hint in _IN_WORDS:
        if sign in said.lower():
            return title.format(name=name), hint
    if is_away(problem):
        reason = clipped(legible(said.splitlines()[0] if said else ""), 120).strip()
        return _AWAY.format(name=name), reason and f"{reason[0].upper()}{reason[1:].removesuffix('.')}."
    return f"{name} could not be used: {clipped(legible(' '.join(said.split())), 200)}.", "It was left as it is."
