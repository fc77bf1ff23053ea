"""A real terminal for each test that asks for one."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.terminal.tmux import Terminal


@pytest.fixture
def terminal(tmp_path: Path) -> Iterator[Terminal]:
    """A terminal that is closed afterwards."""
    opened = Terminal(tmp_path)
    yield opened
    opened.close()
