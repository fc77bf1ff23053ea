"""The documents of a reader, gathered beside the screen."""

from textual.message import Message

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.frozen import frozen
from fresh_chair.services.report.reports import Prepared, Telling
from fresh_chair.services.report.telling.open_points import OpenPoint


@frozen
class Gathered:
    """Everything the place draws of one telling.

    Attributes:
        ready: Its documents, in their order.
        points: What is open before each goes out, by the document's place in the order.
    """

    telling: Telling
    weighing: Weighing
    ready: tuple[Prepared, ...]
    points: tuple[tuple[OpenPoint, ...], ...]


class Ready(Message):
    """A telling was gathered, or could not be: then it is the problem."""

    def __init__(self, gathered: Gathered | FreshChairError) -> None:
        super().__init__()
        self.gathered = gathered
