"""Drift as a person would say it: the theme was changed, one network is remembered, two programs were added."""

import re
from collections.abc import Iterable

from fresh_chair.core.chair.drift import StateDifference
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")

# What a setting is about, by the words in its name; the first that fits holds. With each, the area of the cards that
# may have touched it.
_SETTINGS: tuple[tuple[str, str, str], ...] = tuple(
    (words, name, area)
    for words, name, area in (
        (r"icon-?theme|icontheme", "the icons", "looks"),
        (r"cursor-?(theme|size)|cursortheme", "the pointer", "looks"),
        (
            r"color-?scheme|colorscheme|themename|theme-?name|lookandfeel|widgetstyle|\btheme\b|-theme\b|accent",
            "the theme",
            "looks",
        ),
        (r"picture-(uri|options)|wallpaper|backdrop|last-image|background", "the picture behind everything", "looks"),
        (r"font|letters|antialias|hinting|text-scaling", "the letters on the screen", "looks"),
        (r"night-?(light|color)|redshift", "the evening colours of the screen", "looks"),
        (r"favou?rite|pinned|launchers|\bkept\b", "the programs that are pinned", "windows and launching"),
        (r"panel|dock|dash|taskbar|plasmoid|applet", "the panel", "windows and launching"),
        (
            r"workspace|num-?desktops|tiling|window|kwin|wm[./]|mutter|titlebar|button-layout",
            "windows and workspaces",
            "windows and launching",
        ),
        (r"notif|do-not-disturb|banner|\bquiet\b", "notifications", "notifications and session"),
        (r"screensaver|lock-|idle|lockscreen", "when the screen locks", "notifications and session"),
        (r"power|suspend|sleep|battery|lid", "power saving", "settings"),
        (r"privacy|location|telemetry|\bshare\b|recent-files|report-technical|remember", "privacy", "settings"),
        (r"a11y|accessib|magnif|screen-?reader|onboard", "assistive aids", "settings"),
        (r"keyboard|xkb|input-sources|keybinding|shortcut", "the keyboard", "settings"),
        (r"mouse|touchpad|pointer", "the mouse or touchpad", "settings"),
        (r"clock|calendar|date|time-?zone", "the clock", "notifications and session"),
        (r"locale|region|language", "language and region", "settings"),
        (r"sound|volume|audio", "sound", "notifications and session"),
        (r"proxy|vpn|firewall", "how it goes online", "network and devices"),
        (r"display|monitor|scal(e|ing)|resolution", "the screen", "settings"),
        (
            r"nautilus|thunar|dolphin|filemanager|file-chooser|show-hidden|view-?mode",
            "how files are shown",
            "files and media",
        ),
        (r"update|software|store", "software and updates", "software"),
    )
)
_PATTERNS = tuple((re.compile(words, re.IGNORECASE), name, area) for words, name, area in _SETTINGS)

# One and many, added, gone, changed; and the area of the cards that may have done it.
_THINGS: dict[str, tuple[str, str, str, str, str, str]] = {
    "defaults": ("default program", "default programs", "was chosen", "was taken back", "is another one", "settings"),
    "autostart": (
        "program", "programs", "now starts by itself", "starts by itself no more", "starts by itself in another way",
        "settings",
    ),
    "panels": (
        "part of the panel", "parts of the panel", "was added", "was removed", "was changed", "windows and launching",
    ),
    "programs": ("program", "programs", "was added", "was removed", "is another one", "software"),
    "packages": ("package", "packages", "was added", "was removed", "has another version", "software"),
    "sources": ("source of software", "sources of software", "was added", "was removed", "was changed", "software"),
    "networks": (
        "network", "networks", "is remembered", "was forgotten", "is remembered in another way", "network and devices",
    ),
    "printers": ("printer", "printers", "was added", "was removed", "was changed", "network and devices"),
    "users": ("user", "users", "was added", "was removed", "was changed", "settings"),
    "home": (
        "file or folder", "files and folders", "was left behind", "is gone", "has another size", "files and media",
    ),
}  # fmt: skip
_TRASH = "the bin"
_NOTES = "programs' own notes"
_PLURAL = {name for _, name, _ in _SETTINGS if name.endswith("s") and not name.startswith("when")} | {
    "the letters on the screen",
    "the evening colours of the screen",
    "the programs that are pinned",
    "language and region",
    "software and updates",
}


@frozen
class Said:
    """Differences that a person would call by one name.

    Attributes:
        words: The sentence.
        area: The area of cards that may have caused it; empty where none stands out.
    """

    words: str
    area: str
    differences: tuple[StateDifference, ...]


def told(found: Iterable[StateDifference]) -> list[Said]:
    """Differences, grouped and in words, in the order of their sections."""
    groups: dict[tuple[str, str, str], list[StateDifference]] = {}
    for each in found:
        groups.setdefault(_group(each), []).append(each)
    return [Said(_sentence(key, parts), _area(key), tuple(parts)) for key, parts in groups.items()]


def _group(each: StateDifference) -> tuple[str, str, str]:
    """Section, subject and change of one difference."""
    if each.section == "settings":
        for pattern, name, area in _PATTERNS:
            if pattern.search(each.key):
                return ("settings", name, area)
        return ("settings", "", "")
    what = "added" if each.before is None else "removed" if each.now is None else "changed"
    if each.section == "home" and "/Trash/" in each.key:
        return ("home", _TRASH, what)
    if each.section == "home" and each.key.startswith("."):
        # Where programs keep what they remember: of no interest one by one.
        return ("home", _NOTES, "changed")
    return (each.section, "", what)


def _area(key: tuple[str, str, str]) -> str:
    section, _, last = key
    if section == "settings":
        return last
    return _THINGS[section][5] if section in _THINGS else ""


def _sentence(key: tuple[str, str, str], parts: list[StateDifference]) -> str:
    section, about, what = key
    if section == "settings":
        if about:
            return f"{about} {'were' if about in _PLURAL else 'was'} changed"
        other = "other setting" if len(parts) == 1 else "other settings"
        return f"{counted(len(parts))} {other} {'was' if len(parts) == 1 else 'were'} changed"
    if about == _TRASH:
        return f"the bin holds {counted(len(parts))} more" if what == "added" else "the bin was emptied"
    if about == _NOTES:
        return f"{counted(len(parts))} {'file' if len(parts) == 1 else 'files'} in which programs keep notes changed"
    one, many, added, removed, changed, _ = _THINGS.get(
        section, (section, section, "was added", "was removed", "was changed", "")
    )
    verb = {"added": added, "removed": removed, "changed": changed}[what]
    if len(parts) == 1:
        # A program is known by its name; its entry in the menus is nobody's business.
        named = (parts[0].now or parts[0].before) if section == "programs" else parts[0].key
        return f"one {one} {verb}: {clipped(legible(named or parts[0].key), 60)}"
    for single, several in (("was ", "were "), ("is ", "are "), ("has ", "have ")):
        if verb.startswith(single):
            verb = several + verb.removeprefix(single)
            break
    else:
        verb = verb.replace("starts by itself", "start by themselves")
    return f"{counted(len(parts))} {many} {verb}"


def counted(number: int) -> str:
    """A small number as a word.

    >>> counted(2), counted(40)
    ('two', '40')
    """
    return NUMBERS[number] if number < len(NUMBERS) else str(number)
