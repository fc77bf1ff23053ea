"""Small disks for tests, and filled ones."""

import subprocess
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.servers import require_server


def fill(filler: Path) -> None:
    with filler.open("wb", buffering=0) as file:
        try:
            while True:
                file.write(b"x" * 4096)
        except OSError:
            return


def server_disk(megabytes: int) -> Iterator[Path]:
    """A file system of its own size for a server, in a folder that its user gets to."""
    require_server()
    # Not among pytest's folders: each of its sessions closes them to other users.
    with tempfile.TemporaryDirectory(prefix="fresh-chair-disk-") as folder:
        Path(folder).chmod(0o711)
        yield from mounted(Path(folder) / "disk", megabytes)


def mounted(place: Path, megabytes: int) -> Iterator[Path]:
    """A file system of its own size."""
    place.mkdir()
    command = ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "tmpfs", str(place)]
    if subprocess.run(command, capture_output=True, check=False).returncode:
        pytest.skip("no right to mount a small disk here")
    yield place
    subprocess.run(["umount", "-l", place], check=True)
