"""A chair's state from its answers."""

from collections.abc import Callable

from fresh_chair.core.chair.answers import Answer, Answers, text_of
from fresh_chair.core.chair.state import MOST_KEYS, State
from fresh_chair.probe.parsing import settings, software, system

# Section, the question that answers it, and how.
_SECTIONS: tuple[tuple[str, str, Callable[[str], dict[str, str]]], ...] = (
    ("defaults", "defaults", software.defaults),
    ("autostart", "autostart", system.checksums),
    ("panels", "panels", system.checksums),
    ("programs", "programs", software.programs),
    ("packages", "packages", software.packages),
    ("sources", "sources", software.sources),
    ("networks", "networks", system.networks),
    ("printers", "printers", system.printers),
    ("users", "users", system.users),
    ("home", "home", system.home),
)
_STORES = ("gsettings", "dconf", "xfconf", "ini")


def state_of(answers: Answers) -> State:
    """The state that the answers to the questions about it describe.

    What was cut off is not held against anything: half a list would show the other half as gone.
    """
    sections: dict[str, dict[str, str]] = {}
    unread: dict[str, str] = {}
    for section, question, read in _SECTIONS:
        answer = answers.get(question, Answer(question, why="was not asked"))
        if why := _unfit(answer):
            unread[section] = why
            continue
        found = read(answer.text)
        if len(found) > MOST_KEYS:
            unread[section] = f"has more than {MOST_KEYS} names"
        else:
            sections[section] = found
    kept, why = _settings(answers)
    if kept is None:
        unread["settings"] = why
    else:
        sections["settings"] = kept
    return State(sections, unread)


def _settings(answers: Answers) -> tuple[dict[str, str] | None, str]:
    """All settings of the stores that are there; none where one of them could not be read whole."""
    reasons = {}
    for store in _STORES:
        why = _unfit(answers.get(store, Answer(store, why="was not asked")))
        if why:
            reasons[store] = why
    broken = {store: why for store, why in reasons.items() if not why.endswith("is not there")}
    if broken:
        return None, "; ".join(f"{store} {why}" for store, why in broken.items())
    found = settings.gsettings(text_of(answers, "gsettings"))
    found |= settings.dconf(text_of(answers, "dconf"), found)
    found |= settings.xfconf(text_of(answers, "xfconf"))
    found |= settings.ini(text_of(answers, "ini"))
    if not found and reasons.keys() >= {"gsettings", "dconf", "xfconf"}:
        return None, "no settings store that can be asked is there"
    return found, ""


def _unfit(answer: Answer) -> str:
    if answer.why:
        return answer.why
    return "is too long to be read whole" if answer.cut else ""
