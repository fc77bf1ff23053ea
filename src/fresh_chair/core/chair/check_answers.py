"""A chair's state as answers to the questions of checks, under the two names each thing goes by."""

from fresh_chair.core.chair.state import State
from fresh_chair.core.checks.meaning import Ask, Found

_FORMATS = ("dpkg", "rpm", "pacman", "apk", "flatpak", "snap")
# What a state holds under another form than a check is answered in.
_OTHER_FORM = ("file", "opening", "program", "process", "command", "updates")


def names_of(ask: Ask) -> list[str]:
    """The names in a state for the subject of a check."""
    args = ask.args
    match ask.subject:
        case "setting" if args[0] == "ini":
            return [f"settings:ini {args[1].removeprefix('~/.config/')} [{args[2]}] {args[3]}"]
        case "setting":
            return [f"settings:{' '.join(args)}"]
        case "package":
            return [f"packages:{kind} {args[0]}" for kind in _FORMATS]
        case "program":
            return [f"programs:{args[0]}"]
        case "file" | "opening":
            return [f"home:{args[0].removeprefix('~/')}"]
        case "default for":
            return [f"defaults:{args[0]}"]
        case "network":
            return [f"networks:{args[0]}"]
        case "user":
            return [f"users:{args[0]}"]
        case _:
            return []


def held_in(ask: Ask, state: State) -> Found | None:
    """A state's answer to a question; None where it has none."""
    if ask.subject == "count of":
        section = state.sections.get(ask.args[0])
        return None if section is None else Found(str(len(section)))
    if ask.subject in _OTHER_FORM or (ask.subject == "network" and ask.args[0] == "any"):
        return None
    for name in names_of(ask):
        section_name, _, key = name.partition(":")
        section = state.sections.get(section_name)
        if section is None:
            return None
        if key in section:
            return Found(_as_answered(ask, section[key]))
    return Found(None) if names_of(ask) else None


def _as_answered(ask: Ask, value: str) -> str:
    return "there" if ask.subject == "user" else value
