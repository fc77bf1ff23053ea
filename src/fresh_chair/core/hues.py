"""The hues of chairs: one for each letter, the same in the terminal and in every chart.

Chosen apart in lightness as well as in hue, so that readers who confuse red and green can tell them apart; the first of
each pair is for a dark ground, the second for a light one.
"""

CHAIR_HUES = (
    ("#6fb1ee", "#1f66a8"),
    ("#e8924a", "#a04f08"),
    ("#3fbf9f", "#0d7059"),
    ("#df8fbd", "#9c3a72"),
    ("#d9c860", "#6e6000"),
    ("#a594ec", "#5a43ac"),
    ("#c9cfd3", "#4c555b"),
    ("#e7766b", "#a8322a"),
)


def hue_place(letter: str, hue: int = 0) -> int:
    """Which of the hues a chair has, from 0: its own, from 1, or that of its letter; later letters use them again."""
    return hue - 1 if hue else (ord(letter) - ord("A")) % len(CHAIR_HUES)
