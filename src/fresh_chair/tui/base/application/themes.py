"""Dusk and its light twin, for projectors and daylight."""

from textual.theme import Theme

from fresh_chair.core.hues import CHAIR_HUES

DUSK = {
    "ink": "#12161b",
    "board": "#1a2027",
    "seam": "#2b343d",
    "chalk": "#e9e3d6",
    "thread": "#93a0a8",
    "lamp": "#e2a84b",
    "moss": "#8fb06e",
    "clay": "#e0795e",
    "tide": "#6ea4b6",
    "plum": "#b794c1",
}
DAYLIGHT = {
    "ink": "#f7f3ea",
    "board": "#ede7da",
    "seam": "#cfc6b5",
    "chalk": "#23282d",
    "thread": "#525b62",
    "lamp": "#855000",
    "moss": "#3f6325",
    "clay": "#a23a1e",
    "tide": "#215c77",
    "plum": "#70407b",
}


def _theme(name: str, colours: dict[str, str], *, dark: bool) -> Theme:
    hues = {f"chair-{index}": pair[0 if dark else 1] for index, pair in enumerate(CHAIR_HUES)}
    return Theme(
        name=name,
        primary=colours["lamp"],
        secondary=colours["tide"],
        warning=colours["lamp"],
        error=colours["clay"],
        success=colours["moss"],
        accent=colours["lamp"],
        foreground=colours["chalk"],
        background=colours["ink"],
        surface=colours["board"],
        panel=colours["seam"],
        dark=dark,
        variables={
            **colours,
            **hues,
            "block-cursor-background": colours["lamp"],
            "block-cursor-foreground": colours["ink"],
            "input-cursor-background": colours["lamp"],
            "input-cursor-foreground": colours["ink"],
            "input-selection-background": colours["seam"],
            "scrollbar": colours["seam"],
            "scrollbar-hover": colours["thread"],
            "scrollbar-active": colours["lamp"],
            "scrollbar-background": colours["ink"],
            "scrollbar-background-hover": colours["ink"],
            "scrollbar-background-active": colours["ink"],
        },
    )


DUSK_THEME = _theme("dusk", DUSK, dark=True)
DAYLIGHT_THEME = _theme("daylight", DAYLIGHT, dark=False)
