"""The one gate before every append: nothing goes into a study, or beside it, that its reader would refuse."""

from dataclasses import asdict
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from fresh_chair.core.clock import SECOND, Moment
from fresh_chair.core.codec import Unfit, Unreadable, built, fitted, plain_json
from fresh_chair.core.errors import InputError
from fresh_chair.core.ledger import Codec, LedgerEntry
from fresh_chair.core.text import clipped, legible

if TYPE_CHECKING:
    # A start shows the board before it needs to know what is known of the chairs.
    from fresh_chair.core.chair.ledger import ChairEntry
    from fresh_chair.core.evidence.ledger import EvidenceEntry
    from fresh_chair.core.findings.ledger import SortEntry
    from fresh_chair.core.sitting.journal import Entry

# Within these the wall clock of an entry lies; outside, no program could show it as a date.
_FIRST_WALL_NS = 0
_LAST_WALL_NS = round(datetime(2262, 1, 1, tzinfo=UTC).timestamp()) * SECOND
_LONGEST_NAME = 200
MOST_ENTRIES = 2_000_000


def entry_row(entry: "Entry") -> dict[str, Any]:
    """An entry of a sitting's journal as its row. Raises InputError where no reader would take it."""
    from fresh_chair.core.sitting.journal import CODEC

    return {"id": _name("an entry's id", entry.id), **_row(entry, CODEC)}


def sort_row(entry: "SortEntry") -> dict[str, Any]:
    """An entry of the sorting ledger as its row. Raises as `entry_row`."""
    from fresh_chair.core.findings.ledger import CODEC

    return _row(entry, CODEC)


def chair_row(entry: "ChairEntry") -> dict[str, Any]:
    """An entry about a chair as its row. Raises as `entry_row`."""
    from fresh_chair.core.chair.ledger import CODEC

    return {"chair": _name("a chair's letter", entry.chair), **_row(entry, CODEC)}


def evidence_row(entry: "EvidenceEntry") -> dict[str, Any]:
    """An entry of the ledger of evidence as its row. Raises as `entry_row`."""
    from fresh_chair.core.evidence.ledger import CODEC

    return _row(entry, CODEC)


def _row(entry: LedgerEntry, codec: Codec) -> dict[str, Any]:
    """The columns that an entry of every ledger has."""
    return {
        "number": _number(entry.number),
        "kind": entry.content.kind,
        "version": codec.version,
        **moment_row(entry.moment),
        "author": _name("whose entry it is", entry.author),
        "body": codec.body_to_keep(entry.content),
    }


def moment_row(moment: Moment) -> dict[str, Any]:
    """A moment as columns. Raises InputError where it is none that can be read back."""
    reason = moment_problem(moment.ticks_ns, moment.boot, moment.wall_ns)
    if reason:
        raise InputError(f"This cannot be kept: {reason}.", "Nothing was added.")
    return {"ticks_ns": moment.ticks_ns, "boot": moment.boot, "wall_ns": moment.wall_ns}


def moment_problem(ticks_ns: object, boot: object, wall_ns: object) -> str:
    """Why three columns are no moment; empty where they are one."""
    if type(ticks_ns) is not int or not 0 <= ticks_ns < 2**63:
        return f"{_shown(ticks_ns)} is no time since the machine was started"
    if not isinstance(boot, str) or len(boot) > _LONGEST_NAME:
        return f"{_shown(boot)} is no start of a machine"
    if type(wall_ns) is not int or not _FIRST_WALL_NS <= wall_ns < _LAST_WALL_NS:
        return f"{_shown(wall_ns)} is no date"
    return ""


def require_plain(value: Any, what: str) -> None:
    """Do nothing where a part of a plan can be read back as it is. Raises InputError for all others."""
    try:
        back = built(type(value), plain_json(_json(asdict(value))), "")
    except (Unfit, ValueError) as problem:
        raise InputError(
            f"{what} cannot be kept: {legible(clipped(str(problem), 200))}.", "Nothing was changed."
        ) from None
    if back != value:
        raise InputError(f"{what} cannot be kept: it would be read as something else.", "Nothing was changed.")


def require_field(owner: Any, name: str) -> Any:
    """A field's value where it can be read back as it is. Raises InputError for all others."""
    try:
        return fitted(type(owner), name, getattr(owner, name))
    except Unfit as problem:
        raise InputError(
            f"The {name} cannot be so: {legible(clipped(str(problem), 200))}.", "Nothing was changed."
        ) from None


def require_text(what: str, text: str) -> None:
    """Do nothing where a text can be written in UTF-8. Raises InputError for all others."""
    try:
        text.encode()
    except UnicodeEncodeError:
        raise InputError(f"{what} cannot be kept: it is not UTF-8.", "Nothing was changed.") from None


def unreadable_row(row: Any, where: str, why: str) -> Unreadable:
    """A content in place of a row that cannot be read.

    Args:
        row: Its columns.
        where: What to call it.
        why: Why it cannot be read, as a whole sentence or as its end.
    """
    said = why if why.startswith(where) else f"{where} cannot be read: {why.rstrip('.')}."
    try:
        raw = plain_json(row["body"])
    except ValueError:
        raw = None
    raw = raw if isinstance(raw, dict) else {}
    card, attempt = raw.get("card"), raw.get("attempt")
    return Unreadable(
        legible(clipped(str(row["kind"]), 40)),
        said,
        card if isinstance(card, str) else "",
        attempt if type(attempt) is int and 0 < attempt < 100 else 0,
    )


def _json(value: Any) -> str:
    import json

    return json.dumps(value, ensure_ascii=False, allow_nan=False)


def _number(number: int) -> int:
    if not 1 <= number <= MOST_ENTRIES:
        raise InputError(f"A ledger holds at most {MOST_ENTRIES} entries.", "Nothing was added.")
    return number


def _name(what: str, name: str) -> str:
    try:
        name.encode()
        if name and len(name) <= _LONGEST_NAME:
            return name
    except UnicodeEncodeError:
        pass
    raise InputError(f"This cannot be kept: {_shown(name)} is not {what}.", "Nothing was added.")


def _shown(value: object) -> str:
    return legible(clipped(repr(value), 40))
