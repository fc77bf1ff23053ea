"""The line in hand of a list: a model that the list follows, so that it stays in hand when the list is drawn anew."""

from collections.abc import Sequence


class Selection:
    """Which line of a list is in hand, by its id.

    Attributes:
        at: Its index; None where nothing is in hand.
    """

    def __init__(self) -> None:
        self._ids: tuple[str | None, ...] = ()
        self.at: int | None = None

    @property
    def id(self) -> str | None:
        """The id of the line in hand."""
        return None if self.at is None else self._ids[self.at]

    def fill(self, ids: Sequence[str | None]) -> int | None:
        """Take other lines: the one in hand stays so wherever it lies; where it is gone, the one in its place.

        Args:
            ids: The lines' ids; None for a line that cannot be in hand.

        Returns:
            The index that is in hand now; None where there is no line that can be.
        """
        kept, at = self.id, self.at or 0
        self._ids = tuple(ids)
        if kept is not None and kept in self._ids:
            self.at = self._ids.index(kept)
            return self.at
        start = min(at, len(self._ids) - 1)
        order = [*range(start, len(self._ids)), *range(start - 1, -1, -1)] if self._ids else []
        self.at = next((index for index in order if self._ids[index] is not None), None)
        return self.at

    def move(self, at: int | None) -> None:
        """Take the line at an index in hand; a list that is just being emptied moves nothing."""
        if at is not None and at < len(self._ids) and self._ids[at] is not None:
            self.at = at
