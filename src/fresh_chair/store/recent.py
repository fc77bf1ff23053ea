"""Which studies were open lately: a small list beside the user's other state, never part of a study."""

import json
import os
from pathlib import Path

from platformdirs import user_state_path

_KEPT = 12
_MOST_BYTES = 200_000


class RecentStudies:
    """Paths of studies, the last opened first.

    Args:
        folder: Where the list lives; the user's state folder by default.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or user_state_path("fresh-chair")

    @property
    def _file(self) -> Path:
        return self._folder / "recent.json"

    def paths(self) -> list[Path]:
        """Those that are still there; a list that cannot be read is an empty one."""
        try:
            if not self._file.is_file():
                return []
            with self._file.open("rb") as file:
                listed = json.loads(file.read(_MOST_BYTES))
        except (OSError, ValueError, RecursionError):
            return []
        if not isinstance(listed, list):
            return []
        paths = [Path(item) for item in listed if isinstance(item, str) and "\0" not in item]
        return [path for path in paths if path.is_file()]

    def remember(self, path: Path) -> None:
        """Put a path first. Where the list cannot be written, nothing is lost but the convenience."""
        path = path.absolute()
        listed = [str(path), *(str(other) for other in self.paths() if other != path)][:_KEPT]
        try:
            self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
            if self._folder.stat().st_mode & 0o077 and self._folder.stat().st_uid == os.getuid():
                # What earlier versions made: rescued copies and marks lie in it too.
                self._folder.chmod(0o700)
            draft = self._file.with_suffix(f".{os.getpid()}.new")
            with os.fdopen(os.open(draft, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_NOFOLLOW, 0o600), "wb") as file:
                file.write(json.dumps(listed).encode())
            draft.replace(self._file)
        except OSError:
            return
