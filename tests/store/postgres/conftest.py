"""What the attacks on a server have in common."""

import pytest

from tests.servers import TestServer
from tests.store.postgres.attackers import studies


@pytest.fixture
def locked(server: TestServer, database: str) -> str:
    """A database as it is prepared now, with two crews' studies."""
    studies(server, database)
    return database
