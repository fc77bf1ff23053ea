"""The entry that ties a file to a mark, or to a step by the entry that opened it."""

import json
from collections.abc import Mapping
from dataclasses import fields
from typing import ClassVar, Literal

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.evidence.attachments import Attachment, ClipSeconds, FileName, Hash, Location, Size, is_hash
from fresh_chair.core.frozen import frozen
from fresh_chair.core.ledger import LedgerEntry
from fresh_chair.core.sitting.entries.base import BEGUN, Happening, Told
from fresh_chair.core.sitting.entries.syntax import Reader, about, shown
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.sitting.state.sitting import AttachedFile, Sitting


@frozen
class Attached(Happening):
    """A picture, a file or a stretch of a clip shows an earlier mark, or a step; its fields are `Attachment`'s."""

    entry: str
    name: FileName
    sha256: Hash
    size: Size
    location: Location = ""
    begin_seconds: ClipSeconds | None = None
    end_seconds: ClipSeconds | None = None
    kind: Literal["attached"] = "attached"
    phases: ClassVar[frozenset[Phase]] = BEGUN
    afterwards: ClassVar[bool] = True
    falls: ClassVar[bool] = True

    def objection(self, sitting: Sitting) -> str:
        step = sitting.walk.opened_by(self.entry) if sitting.walk is not None else None
        if self.entry not in sitting.remarks and step is None:
            return "There is no mark or step that this belongs to."
        if self.end_seconds is not None and (self.begin_seconds is None or self.end_seconds < self.begin_seconds):
            return "A stretch of a clip ends after it begins."
        return "" if is_hash(self.sha256) else "That is no hash of a file."

    @property
    def attachment(self) -> Attachment:
        """The file itself."""
        return Attachment(**{part.name: getattr(self, part.name) for part in fields(Attachment)})

    def apply(self, sitting: Sitting, entry: LedgerEntry, at_ns: int) -> None:
        sitting.attachments.append(AttachedFile(self.entry, entry.id, self.attachment))

    def sentence(self, told: Told) -> str:
        begin = self.begin_seconds
        at = "" if begin is None else f" from {clock_text(round(begin * SECOND))}"
        return f"attached: {self.name}{at}"

    def line(self, numbers: Mapping[str, int]) -> str:
        values = {part.name: getattr(self, part.name) for part in fields(Attachment)}
        said = [f"{name}={json.dumps(value)}" for name, value in values.items() if value not in (None, "")]
        return f"attached #{numbers[self.entry]} {' '.join(said)}"


def _file(text: str) -> dict[str, object]:
    """The parts of an attachment, each a name and a value of JSON: name="menu.png" size=5120 ..."""
    found: dict[str, object] = {}
    decoder, rest = json.JSONDecoder(), text.strip()
    while rest:
        name, sign, value = rest.partition("=")
        if not sign:
            raise ValueError(f'{shown(rest)} is no part of an attachment, such as name="menu.png"')
        try:
            found[name.strip()], end = decoder.raw_decode(value)
        except ValueError:
            raise ValueError(f"{shown(value)} is no value of {shown(name)}") from None
        rest = value[end:].strip()
    return found


VERBS: dict[str, Reader] = {"attached": lambda at, rest: about(at, rest, Attached, _file)}
