"""Copies of attached files between this machine and the server of a study, so that every station can show them."""

from __future__ import annotations

import hashlib
import os
from typing import TYPE_CHECKING

from fresh_chair.core.errors import FileProblem, NotSaved
from fresh_chair.services.evidence.attachments import all_attachments, folder_beside
from fresh_chair.services.system.files import make_folder
from fresh_chair.services.system.files import write_file as write

if TYPE_CHECKING:
    from pathlib import Path

    from fresh_chair.services.study.open_study import OpenStudy

# Larger ones stay on the disk of the station that attached them; its check says so at the others.
LARGEST_BYTES = 100_000_000


def carry_files(opened: OpenStudy) -> int:
    """Bring the copies that the study speaks of to the server, and those that are not here from there; in a thread.

    Only files that a mark or a record still speaks of are carried: what was erased does not come back from a station
    that has it still.

    Returns:
        How many went one way or the other.

    Raises:
        FileProblem, NotSaved: Where the server does not answer, or takes none.
    """
    link = opened.store.link
    if link is None:
        return 0
    wanted = {each.copy_name for _, each in all_attachments(opened) if each.copied}
    if not wanted:
        return 0
    folder, there, count = folder_beside(opened.beside), link.shelf.names(), 0
    for name in sorted(wanted):
        path = folder / name
        here = path.is_file()
        if here and name not in there and opened.adds and path.stat().st_size <= LARGEST_BYTES:
            link.shelf.put(name, path.read_bytes())
            count += 1
        elif not here and name in there:
            _keep(path, link.shelf.get(name))
            count += 1
    return count


def _keep(path: Path, data: bytes) -> None:
    """Put a file on this disk, unless its name and its contents differ. Raises FileProblem, NotSaved."""
    if hashlib.sha256(data).hexdigest() != path.name.partition(".")[0]:
        raise FileProblem(f"The file {path.name[:12]}... on the server is not what was attached.", "It was not taken.")
    draft = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        make_folder(path.parent)
        write(draft, data, "an attached file")
        draft.replace(path)
    except OSError as problem:
        raise NotSaved(
            f"{path.parent.name} cannot be written: {problem.strerror}.", "The study is as it was."
        ) from problem


def forget_files(opened: OpenStudy) -> None:
    """Take the files off the server of which nothing speaks any more. Raises FileProblem, NotSaved."""
    link = opened.store.link
    if link is None:
        return
    wanted = {each.copy_name for _, each in all_attachments(opened) if each.copied}
    for name in sorted(link.shelf.names() - wanted):
        link.shelf.drop(name)
