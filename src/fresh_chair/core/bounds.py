"""Notes on fields: how large a number may be, how long a text. The codec and Pydantic both read them.

They are what `annotated_types` calls grouped metadata, so that this library, whose classes take as long to make as a
fifth of ours, is loaded only where Pydantic asks.
"""

from collections.abc import Iterator
from typing import Any, Literal


class Ge:
    """At least."""

    __is_annotated_types_grouped_metadata__: Literal[True] = True

    def __init__(self, ge: float) -> None:
        self.ge = ge

    def __iter__(self) -> Iterator[Any]:
        yield from _loaded(self)


class Gt:
    """More than."""

    __is_annotated_types_grouped_metadata__: Literal[True] = True

    def __init__(self, gt: float) -> None:
        self.gt = gt

    def __iter__(self) -> Iterator[Any]:
        yield from _loaded(self)


class Le:
    """At most."""

    __is_annotated_types_grouped_metadata__: Literal[True] = True

    def __init__(self, le: float) -> None:
        self.le = le

    def __iter__(self) -> Iterator[Any]:
        yield from _loaded(self)


class MinLen:
    """At least so many characters or items."""

    __is_annotated_types_grouped_metadata__: Literal[True] = True

    def __init__(self, min_length: int) -> None:
        self.min_length = min_length

    def __iter__(self) -> Iterator[Any]:
        yield from _loaded(self)


class MaxLen:
    """At most so many characters or items."""

    __is_annotated_types_grouped_metadata__: Literal[True] = True

    def __init__(self, max_length: int) -> None:
        self.max_length = max_length

    def __iter__(self) -> Iterator[Any]:
        yield from _loaded(self)


def _loaded(note: Ge | Gt | Le | MinLen | MaxLen) -> Iterator[Any]:
    import annotated_types

    yield getattr(annotated_types, type(note).__name__)(*vars(note).values())
