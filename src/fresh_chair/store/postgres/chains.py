"""The chains of digests over a server's ledgers, worked out again here from the rows as they stand."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from hashlib import sha256
from typing import Any

from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Ledger, Signature, Signatures
from fresh_chair.core.text import count_of, in_short, legible

# A server's rows as they are read: a query and its values to its rows.
Read = Callable[[str, tuple[object, ...]], Any]
_COMMON = (
    "one.kind, one.version::text, one.ticks_ns::text, one.boot, one.wall_ns::text, one.author, one.body, "
    "COALESCE(one.login, ''), COALESCE((extract(epoch FROM one.kept_at) * 1000000)::bigint::text, '')"
)
_OF_STUDY = (
    "SELECT '', one.number, one.digest, one.salt, one.number::text, {name}, {common} FROM {table} AS one "
    "WHERE one.study = ? ORDER BY one.number"
)
_QUERIES: Mapping[str, str] = {
    "entry": (
        f"SELECT one.sitting, one.number, one.digest, one.salt, one.number::text, one.id, {_COMMON}, "
        "COALESCE(one.station, '') FROM entry AS one WHERE one.study = ? ORDER BY one.sitting, one.number"
    ),
    "sort_entry": _OF_STUDY.format(name="''", common=_COMMON, table="sort_entry"),
    "evidence_entry": _OF_STUDY.format(name="''", common=_COMMON, table="evidence_entry"),
    "chair_entry": _OF_STUDY.format(name="one.chair", common=_COMMON, table="chair_entry"),
}
_REWRITTEN = "SELECT ledger, sitting, number, seat FROM rewritten WHERE study = ?"
_SITTINGS = "SELECT id, number FROM seat WHERE study = ?"
# Where the login stands among the signed values.
_LOGIN = 9
_LEDGERS: Mapping[str, Ledger] = {
    "entry": "sitting",
    "sort_entry": "sorting",
    "evidence_entry": "evidence",
    "chair_entry": "chairs",
}
_SIGNED = (
    "SELECT {sitting}, one.number, COALESCE(one.login, ''), {station}, "
    "(extract(epoch FROM one.kept_at) * 1000000)::bigint, one.digest FROM {table} AS one WHERE one.study = ? "
    "ORDER BY 1, 2"
)


def read_signatures(read: Read, study: str) -> Signatures:
    """The signatures under the entries of a study. Raises FileProblem where the server cannot be read."""
    sittings = {str(row[0]): int(row[1]) for row in read(_SITTINGS, (study,))}
    kept = list[Signature]()
    for table, ledger in _LEDGERS.items():
        own = {"sitting": "one.sitting", "station": "COALESCE(one.station, '')"}
        of_study = {"sitting": "''", "station": "''"}
        query = _SIGNED.format(table=table, **(own if table == "entry" else of_study))
        for of, number, login, station, micros, digest in read(query, (study,)):
            at = None if micros is None else micros * 1000
            found = sittings.get(of, 0)
            kept.append(Signature(ledger, found, number, login, station, at, bytes(digest or b"").hex()))
    erased = (
        (_LEDGERS[table], seat or 0, number)
        for table, _, number, seat in read(_REWRITTEN, (study,))
        if table in _LEDGERS
    )
    return Signatures(kept=tuple(kept), erased=frozenset(erased))


@frozen
class ChainsRead:
    """The result of looking through a study's ledgers on a server.

    Attributes:
        entries: How many entries they hold.
        without_login: How many of those no login signed: from before the server noted it, or by a superuser's hand.
        rewritten: How many were changed by an erasure on record, so that their digest tells nothing.
        problems: A sentence for each entry that differs from the one that was kept.
    """

    entries: int
    without_login: int
    rewritten: int
    problems: tuple[str, ...]

    @property
    def words(self) -> str:
        """The counts in words."""
        said = f"{count_of(self.entries, 'entry', 'entries')} in chains of digests"
        if self.rewritten:
            said += f", {self.rewritten} of them changed by erasures"
        if self.without_login:
            said += f", {self.without_login} of them by no login that was noted"
        return said


def read_chains(read: Read, study: str) -> ChainsRead:
    """Work out the digest of every entry again. Raises FileProblem where the server cannot be read."""
    on_record = {tuple(row)[:3] for row in read(_REWRITTEN, (study,))}
    sittings = {str(row[0]): row[1] for row in read(_SITTINGS, (study,))}
    entries, without, rewritten, problems = 0, 0, 0, list[str]()
    for table, query in _QUERIES.items():
        before, ledger = b"", None
        for row in read(query, (study,)):
            of, number, digest, salt, *signed = row
            entries += 1
            without += not signed[_LOGIN]
            if of != ledger:
                before, ledger = b"", of
            own = table == "entry"
            name = f"Sitting {sittings.get(of, legible(str(of)))}" if own else _LEDGERS[table].capitalize()
            if salt is None:
                rewritten += 1
                if (table, of, number) not in on_record:
                    problems.append(f"{name}, entry {number}: it was changed, and no erasure on record says so")
            elif digest != _digest(before, bytes(salt), signed):
                problems.append(f"{name}, entry {number}: it is not what was kept, or the one before it is gone")
            before = bytes(digest or b"")
    return ChainsRead(entries, without, rewritten, in_short(problems))


def _digest(before: bytes, salt: bytes, signed: list[object]) -> bytes:
    """The digest of an entry behind another one, as the server's function `chained` makes it."""
    told = json.dumps([str(value) for value in signed], ensure_ascii=False, separators=(",", ":"))
    return sha256(before + salt + told.encode()).digest()
