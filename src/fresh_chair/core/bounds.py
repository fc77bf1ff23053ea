"""Notes on fields: how large a number may be, how long a text. The codec and Pydantic both read them.

They are what `annotated_types` calls grouped metadata, so that this library, whose classes take as long to make as a
fifth of ours, is loaded only where Pydantic asks.
"""

from collections.abc import Iterator
from typing import Any, Literal


class _Note:
    """A note with the attribute of the class of its name in `annotated_types`."""

    __is_annotated_types_grouped_metadata__: Literal[True] = True

    def __iter__(self) -> Iterator[Any]:
        import annotated_types

        yield getattr(annotated_types, type(self).__name__)(*vars(self).values())


class Ge(_Note):
    """At least."""

    def __init__(self, ge: float) -> None:
        self.ge = ge


class Gt(_Note):
    """More than."""

    def __init__(self, gt: float) -> None:
        self.gt = gt


class Le(_Note):
    """At most."""

    def __init__(self, le: float) -> None:
        self.le = le


class MinLen(_Note):
    """At least so many characters or items."""

    def __init__(self, min_length: int) -> None:
        self.min_length = min_length


class MaxLen(_Note):
    """At most so many characters or items."""

    def __init__(self, max_length: int) -> None:
        self.max_length = max_length
