"""Where a study is kept, as marks in a second place note it."""

from fresh_chair.core.frozen import frozen


@frozen
class HomeAddress:
    """Where a store keeps a study, as marks in a second place note it to find back.

    Attributes:
        path: Of a file, where it was opened; of a server, its address.
        number: The file's number on its disk, by which it is known under another name; 0 where there is none.
    """

    path: str
    number: int
