"""Which studies were open lately: a small list beside the user's other state, never part of a study."""

import json
import os
from contextlib import suppress
from pathlib import Path

from platformdirs import user_state_path

from fresh_chair.core.errors import InputError
from fresh_chair.store.address import Address, read_address

_KEPT = 12
_MOST_BYTES = 200_000


class RecentStudies:
    """Addresses of studies, the last opened first.

    Args:
        folder: Where the list lives; the user's state folder by default.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or user_state_path("fresh-chair")

    @property
    def _file(self) -> Path:
        return self._folder / "recent.json"

    def addresses(self) -> list[Address]:
        """Those that are still there, or on a server; a list that cannot be read is an empty one."""
        listed = self._listed()
        return [path for path, _ in self._entries(listed) if _may_be_there(path)]

    def _listed(self) -> list[object]:
        try:
            if not self._file.is_file():
                return []
            with self._file.open("rb") as file:
                listed = json.loads(file.read(_MOST_BYTES))
        except (OSError, ValueError, RecursionError):
            return []
        return listed if isinstance(listed, list) else []

    def titles(self) -> dict[Address, str]:
        """The remembered titles of studies, by address."""
        return {path: title for path, title in self._entries(self._listed()) if title}

    def _entries(self, listed: list[object]) -> list[tuple[Address, str]]:
        """Address and title of each; an earlier version remembered the path alone."""
        found: list[tuple[Address, str]] = []
        for item in listed:
            raw = {"path": item} if isinstance(item, str) else item
            if isinstance(raw, dict) and isinstance(raw.get("path"), str) and "\0" not in raw["path"]:
                title = raw.get("title")
                with suppress(InputError):
                    found.append((read_address(raw["path"]), title[:200] if isinstance(title, str) else ""))
        return found

    def remember(self, path: Address, title: str = "") -> None:
        """Put an address first. Where the list cannot be written, nothing is lost but the convenience."""
        path = path.absolute() if isinstance(path, Path) else path
        listed = self._entries(self._listed())
        others = [(other, name) for other, name in listed if other != path and _may_be_there(other)]
        kept = [{"path": str(each), "title": name} for each, name in [(path, title), *others][:_KEPT]]
        try:
            self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
            if self._folder.stat().st_mode & 0o077 and self._folder.stat().st_uid == os.getuid():
                # What earlier versions made: rescued copies and marks lie in it too.
                self._folder.chmod(0o700)
            draft = self._file.with_suffix(f".{os.getpid()}.new")
            with os.fdopen(os.open(draft, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_NOFOLLOW, 0o600), "wb") as file:
                file.write(json.dumps(kept).encode())
            draft.replace(self._file)
        except OSError:
            return


def _may_be_there(address: Address) -> bool:
    """Whether a study can be there: a file is looked for, a server is not asked."""
    return not isinstance(address, Path) or address.is_file()
