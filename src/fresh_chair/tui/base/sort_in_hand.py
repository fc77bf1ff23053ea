"""The filter, the observations taken up and the lines in hand in Sort; they stay when one goes to another place."""

from dataclasses import dataclass, field
from typing import Literal

from fresh_chair.services.findings.filters import ObservationFilter

Pile = Literal["observations", "findings"]


@dataclass(slots=True)
class SortInHand:
    """The state of the two lists.

    Attributes:
        taken: Targets of the observations that are taken up, in the order they were.
        kept: Targets that were sorted just now, and stay in their rows until the list is narrowed anew or left.
        inside: The finding whose observations are shown at the left; empty for the loose ones.
        alike: The words that those at the left look like; empty where they are not narrowed so.
        merging: The finding that is to be merged into the next one.
        lines: The line in hand of each list.
        came_from: The finding whose page a look back at a sitting was opened from; empty for none.
        rater: Who rates here, unseen by the others; empty for the moderator.
    """

    filter: ObservationFilter = field(default_factory=ObservationFilter)
    taken: dict[str, None] = field(default_factory=dict)
    kept: set[str] = field(default_factory=set)
    inside: str = ""
    alike: str = ""
    merging: str = ""
    pile: Pile = "observations"
    lines: dict[Pile, str] = field(default_factory=dict)
    came_from: str = ""
    rater: str = ""
