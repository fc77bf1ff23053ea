"""The lanes of a sitting's clock."""

from enum import StrEnum


class Lane(StrEnum):
    """Whose time it is: the person's, the machine's, or neither's."""

    HANDS = "hands"
    WAIT = "wait"
    ASIDE = "aside"
