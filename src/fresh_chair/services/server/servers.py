"""A server made ready for studies and brought up to date, and the list of its studies."""

from __future__ import annotations

from typing import TYPE_CHECKING

from fresh_chair.store.address import ServerAddress
from fresh_chair.store.addresses.stores import require_driver

if TYPE_CHECKING:
    from fresh_chair.store.postgres.checking import OpenDoor
    from fresh_chair.store.postgres.preparing import PreparedServer
    from fresh_chair.store.postgres.studies import ListedStudy


def prepare_server(address: ServerAddress, crew: str) -> PreparedServer:
    """Make tables and the roles of a crew. Raises FileProblem, InputError, NotSaved."""
    require_driver()
    from fresh_chair.store.postgres.preparing import prepare

    return prepare(address, crew)


def upgrade_server(address: ServerAddress) -> tuple[str, str]:
    """Bring a server's tables up to date; returns the versions before and after. Raises FileProblem, NotSaved."""
    require_driver()
    from fresh_chair.store.postgres.preparing import upgrade

    return upgrade(address)


def closed_by(before: str, after: str) -> list[str]:
    """The doors, in words, that bringing a server from one version to another has closed."""
    require_driver()
    from fresh_chair.store.postgres.preparing import CLOSES, REVISIONS

    between = REVISIONS[REVISIONS.index(before) + 1 : REVISIONS.index(after) + 1]
    return [words for revision in between for words in CLOSES.get(revision, ())]


def check_server(address: ServerAddress) -> list[OpenDoor]:
    """The doors that stand open on a server, and the settings that others lack to come in. Raises FileProblem."""
    require_driver()
    from fresh_chair.store.postgres.checking import missing, open_doors

    return [*open_doors(address), *missing(address)]


def studies_on(address: ServerAddress) -> list[ListedStudy]:
    """The studies of a server that this login may see, with the stations at each. Raises FileProblem."""
    require_driver()
    from fresh_chair.store.postgres.studies import listed_studies

    return listed_studies(address)
