"""Whole states of chairs, compressed."""

import zlib

from fresh_chair.core.chair.state import State, state_from, state_text
from fresh_chair.core.errors import InputError, JournalError
from fresh_chair.store.scrubbing import without_own_names

# The largest state that is ever kept, as JSON; a chair with 20,000 names makes one of two million.
_LARGEST_STATE = 32_000_000


def packed(state: State) -> bytes:
    """A state as it is kept. Raises InputError where it is larger than any that is read back."""
    try:
        text = state_text(state).encode()
    except UnicodeEncodeError:
        raise InputError(
            "What the chair answered cannot be kept: it is not UTF-8.", "Nothing was put on record."
        ) from None
    if len(text) > _LARGEST_STATE:
        raise InputError(
            f"What the chair answered is too large to be kept: {len(text) // 1_000_000} MB.",
            "Nothing was put on record.",
        )
    return zlib.compress(text, level=6)


def unpacked(data: object, where: str) -> State:
    """The state that was kept. Raises JournalError where it is damaged, or too large."""
    opened = zlib.decompressobj()
    try:
        if not isinstance(data, bytes):
            raise JournalError(f"{where} cannot be read: it is damaged.")
        text = opened.decompress(data, _LARGEST_STATE)
        if not opened.eof:
            raise JournalError(f"{where} is not whole, or too large.")
        return state_from(text.decode(), where=where)
    except (zlib.error, UnicodeDecodeError) as problem:
        raise JournalError(f"{where} cannot be read: it is damaged.") from problem


def packed_without_own_names(data: bytes) -> tuple[bytes, int]:
    """A kept state without the names that people choose themselves, and how many names are left.

    It is an empty one where it cannot be read.
    """
    try:
        state = unpacked(data, "A state")
    except JournalError:
        return packed(State({})), 0
    left = without_own_names(state)
    return packed(left), left.count
