"""The examples in docstrings are true."""

import doctest
from importlib import import_module
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src"
MODULES = sorted(
    ".".join(path.relative_to(SOURCE).with_suffix("").parts)
    for path in SOURCE.rglob("*.py")
    if ">>>" in path.read_text(encoding="utf-8")
)


@pytest.mark.parametrize("name", MODULES)
def test_examples_in_docstrings_are_true(name: str) -> None:
    result = doctest.testmod(import_module(name))
    assert result.attempted > 0
    assert result.failed == 0
