"""Attachments: pictures, files, and stretches of a clip that show the subject of a mark, a step or a record."""

import re
from typing import Annotated

from fresh_chair.core.bounds import Ge, Le, MaxLen, MinLen
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import Typed

MOST_BYTES = 2**40
FileName = Annotated[Typed, MinLen(1), MaxLen(200)]
Location = Annotated[Typed, MaxLen(1000)]
Size = Annotated[int, Ge(0), Le(MOST_BYTES)]
Hash = Annotated[str, MinLen(64), MaxLen(64)]
# A day and a third: longer than any recording of one sitting.
ClipSeconds = Annotated[float, Ge(0), Le(200_000)]


@frozen
class Attachment:
    """A file that shows something.

    Args:
        name: Its name, without the folder it came from.
        sha256: The hash of its content, in hexadecimal.
        size: In bytes.
        location: Where it lies; empty for a copy in the folder beside the study.
        begin_seconds, end_seconds: The stretch of a clip that is meant; None for the whole file.
    """

    name: FileName
    sha256: Hash
    size: Size
    location: Location = ""
    begin_seconds: ClipSeconds | None = None
    end_seconds: ClipSeconds | None = None

    @property
    def copied(self) -> bool:
        """True where the study has a copy of its own."""
        return not self.location

    @property
    def copy_name(self) -> str:
        """The copy's name in the folder beside the study: its hash, and the ending viewers go by."""
        _, dot, ending = self.name.rpartition(".")
        plain = ending.isascii() and ending.isalnum() and len(ending) <= 8
        return f"{self.sha256}.{ending.lower()}" if dot and plain else self.sha256


def is_hash(text: str) -> bool:
    """Whether a text is a SHA-256 in hexadecimal."""
    return re.fullmatch("[0-9a-f]{64}", text) is not None
