"""The entries of a ledger, listed."""

from collections.abc import Sequence
from dataclasses import fields
from datetime import UTC, datetime
from typing import Any

from fresh_chair.cli.base.study import say, say_json
from fresh_chair.core.clock import SECOND
from fresh_chair.core.ledger import EntryStruck, LedgerEntry
from fresh_chair.core.text import clipped


def listed(entries: Sequence[LedgerEntry], left_out: dict[str, str], *, as_json: bool) -> None:
    """Print the entries of a ledger, struck ones and those left out too."""
    struck = {entry.content.entry for entry in entries if isinstance(entry.content, EntryStruck)}
    rows = [_row(entry, struck=entry.id in struck, left_out=left_out.get(entry.id, "")) for entry in entries]
    if as_json:
        say_json(rows)
        return
    for row in rows:
        note = "  struck" if row["struck"] else f"  left out: {row['left_out']}" if row["left_out"] else ""
        kind = row["kind"].replace("_", " ")
        say(f"{row['number']:>5}  {row['at'][:16]}  {row['author']}  {kind}  {row['text']}{note}")


def _row(entry: LedgerEntry, *, struck: bool, left_out: str) -> dict[str, Any]:
    values = ((part.name, getattr(entry.content, part.name)) for part in fields(entry.content))
    text = ", ".join(f"{name} {value}" for name, value in values if name != "kind" and isinstance(value, str | int))
    return {
        "number": entry.number,
        "at": datetime.fromtimestamp(entry.moment.wall_ns / SECOND, tz=UTC).isoformat(),
        "author": entry.author,
        "kind": entry.content.kind,
        "text": clipped(text, 200),
        "struck": struck,
        "left_out": left_out,
    }
