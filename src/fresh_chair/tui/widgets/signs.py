"""Signs: the glyphs of outcomes, severities and lanes, and a plain set for terminals that have none of them."""

from fresh_chair.core.frozen import frozen
from fresh_chair.core.hues import hue_place
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.sitting.state.lane import Lane
from fresh_chair.core.sitting.state.outcome import Outcome

OUTCOME_COLOUR = {
    Outcome.UNAIDED: "$moss",
    Outcome.HELPED: "$moss",
    Outcome.PARTLY: "$lamp",
    Outcome.GAVE_UP: "$clay",
    Outcome.OUT_OF_TIME: "$clay",
    Outcome.BLOCKED: "$clay",
    Outcome.VOID: "$thread",
}
LANE_COLOUR = {Lane.HANDS: "$lamp", Lane.WAIT: "$tide", Lane.ASIDE: "$thread"}
STATE_COLOUR = {"ready": "$moss", "open": "$lamp", "wrong": "$clay"}
SEVERITY_COLOUR = ("$thread", "$thread", "$lamp", "$clay", "$clay")
_OUTCOMES = {outcome: outcome.sign for outcome in Outcome}
_PLAIN_OUTCOMES = dict(zip(Outcome, "UHPGTBx", strict=True))


@frozen
class Signs:
    """One set of glyphs.

    Attributes:
        closings: Of a walk's steps that ended without an outcome, by the ending's value.
        pixel: What big digits are made of.
    """

    outcomes: dict[Outcome, str]
    closings: dict[str, str]
    severities: str
    lanes: dict[Lane, str]
    none: str
    here: str
    pixel: str
    line: str
    point: str
    hollow: str
    end_low: str
    end_high: str
    open_high: str
    open_low: str
    expert: str
    worse: str
    tied: str
    limit: str
    dot: str
    dash: str
    enter: str
    more: str
    steps: str
    states: dict[str, str]


FULL = Signs(
    outcomes=_OUTCOMES,
    closings={"looked_at": "≈", "not_tried": "–", "nothing_for_it": "×"},
    severities="·▖▞▙█",
    lanes={Lane.HANDS: "▅", Lane.WAIT: "▂", Lane.ASIDE: "┄"},
    none="·",
    here="▌",
    pixel="█",
    line="─",
    point="●",
    hollow="◇",
    end_low="╶",
    end_high="╴",
    open_high="►",
    open_low="◄",
    expert="▲",
    worse="▼",
    tied="»",
    limit="│",
    dot="·",
    dash="–",
    enter="Enter",
    more="…",
    steps="▁▂▃▄▅▆▇█",
    states={"ready": "◆", "open": "◇", "wrong": "▲"},
)
PLAIN = Signs(
    outcomes=_PLAIN_OUTCOMES,
    closings={"looked_at": "~", "not_tried": "-", "nothing_for_it": "x"},
    severities="01234",
    lanes={Lane.HANDS: "#", Lane.WAIT: "=", Lane.ASIDE: "."},
    none=".",
    here=">",
    pixel="#",
    line="-",
    point="o",
    hollow="x",
    end_low="[",
    end_high="]",
    open_high=">",
    open_low="<",
    expert="^",
    worse="v",
    tied="=",
    limit="|",
    dot="-",
    dash="-",
    enter="Enter",
    more="...",
    steps="_.-=+*#@",
    states={"ready": "+", "open": "o", "wrong": "!"},
)


def chair_colour(chair: Chair) -> str:
    """The theme variable of a chair's hue."""
    return f"$chair-{hue_place(chair.letter, chair.hue)}"
