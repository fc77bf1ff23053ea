"""Who a chair says it is, from its answers."""

import re

from fresh_chair.core.chair.answers import Answers, text_of, why_not
from fresh_chair.core.chair.identity import Fact, Unread, fact
from fresh_chair.core.chair.records import number_text
from fresh_chair.probe.parsing import software

_GIB = 2**30
_SHELLS = {
    "gnome-shell": "GNOME",
    "plasmashell": "Plasma",
    "xfce4-session": "Xfce",
    "cinnamon": "Cinnamon",
    "mate-session": "MATE",
    "lxqt-session": "LXQt",
    "budgie-panel": "Budgie",
}
# What each fact is read from, for those that were not.
_FROM = {
    "distribution": "os-release",
    "kernel": "kernel",
    "session": "session",
    "desktop": "session",
    "display": "screens",
    "graphics": "graphics",
    "processor": "machine",
    "memory": "machine",
    "disk": "disk",
    "machine": "machine",
    "package formats": "package formats",
    "software sources": "sources",
    "programs": "programs",
    "updates waiting": "updates",
    "language": "language",
    "keyboard": "language",
}


def identity_of(answers: Answers) -> tuple[list[Fact], list[Unread]]:
    """Facts with their sources, and unread ones with the reason."""
    found = [
        *_release(answers),
        *_kernel(answers),
        *_session(answers),
        *_hardware(answers),
        *_disk(answers),
        *_software(answers),
        *_language(answers),
    ]
    facts = [each for each in found if each is not None]
    named = {each.name for each in facts}
    unread = [
        Unread(name=name, why=why_not(answers, question) or "nothing there says so")
        for name, question in _FROM.items()
        if name not in named
    ]
    return facts, unread


def _release(answers: Answers) -> list[Fact | None]:
    said = assignments(text_of(answers, "os-release"))
    source = "os-release"
    base = said.get("ID_LIKE", "") or said.get("DEBIAN_CODENAME", "")
    return [
        fact("distribution", said.get("NAME", ""), source),
        fact("release", said.get("VERSION_ID", "") or said.get("BUILD_ID", ""), source),
        fact("edition", said.get("VARIANT", ""), source),
        fact("base", base, source),
    ]


def _kernel(answers: Answers) -> list[Fact | None]:
    lines = text_of(answers, "kernel").splitlines()
    if len(lines) < 3:
        return []
    running = re.match(r"Linux version (\S+)", lines[3]) if len(lines) > 3 else None
    return [
        fact("kernel", f"{lines[1]} ({lines[2]})", "uname"),
        fact("kernel", running.group(1), "/proc/version") if running else None,
    ]


def _session(answers: Answers) -> list[Fact | None]:
    seen: dict[str, str] = {}
    for line in text_of(answers, "session").splitlines():
        match = re.match(r"\s*\d+ (\w+)=(.*)", line)
        if match:
            # The commonest value comes first.
            seen.setdefault(match.group(1), match.group(2))
    source = "the surroundings of running programs"
    desktop = seen.get("XDG_CURRENT_DESKTOP", "").split(":")[-1] or seen.get("DESKTOP_SESSION", "")
    kind = seen.get("XDG_SESSION_TYPE", "")
    if kind not in ("wayland", "x11"):
        kind = "wayland" if "WAYLAND_DISPLAY" in seen else "x11" if "DISPLAY" in seen else ""
    found = [fact("desktop", desktop, source), fact("session", kind, source)]
    for line in text_of(answers, "desktop version").splitlines():
        command, _, version = line.partition(" ")
        name = _SHELLS.get(command)
        if name and not desktop:
            found.append(fact("desktop", name, f"{command} is there"))
        if name and (not desktop or name.casefold() in _aliases(desktop)):
            found.append(fact("desktop version", version, f"{command} --version"))
    return found


def _aliases(desktop: str) -> str:
    return {"kde": "plasma kde", "x-cinnamon": "cinnamon"}.get(desktop.casefold(), desktop.casefold())


def _hardware(answers: Answers) -> list[Fact | None]:
    text = text_of(answers, "machine")
    processor = re.search(r"^(?:model name|Hardware|Model)\s*:\s*(.+)$", text, re.MULTILINE)
    cores = re.search(r"^cores (\d+)$", text, re.MULTILINE)
    memory = re.search(r"^MemTotal:\s+(\d+) kB$", text, re.MULTILINE)
    detected = re.search(r"^detected (\S+)$", text, re.MULTILINE)
    vendor = " ".join(re.findall(r"^(?:sys_vendor|product_name) (.+)$", text, re.MULTILINE))
    machine, source = "", "systemd-detect-virt"
    if detected:
        machine = f"real {vendor}".strip() if detected.group(1) == "none" else f"virtual ({detected.group(1)})"
    elif text:
        machine = "virtual" if re.search(r"^hypervisor$", text, re.MULTILINE) else f"real {vendor}".strip()
        source = "/proc/cpuinfo"
    name = processor.group(1) if processor else ""
    screens = "; ".join(line for line in text_of(answers, "screens").splitlines() if line.strip())
    graphics = text_of(answers, "graphics")
    drivers = ", ".join(dict.fromkeys(re.findall(r"^driver (\S+)$", graphics, re.MULTILINE)))
    boards = "; ".join(re.findall(r"^\S+ [^:]*: (.+)$", graphics, re.MULTILINE))
    return [
        fact("processor", f"{name}, {cores.group(1)} cores" if name and cores else name, "/proc/cpuinfo"),
        fact("memory", f"{int(memory.group(1)) / 2**20:.1f} GiB", "/proc/meminfo") if memory else None,
        fact("machine", machine, source),
        fact("display", screens, "/sys/class/drm"),
        fact("graphics", f"{boards or 'a board'}, driver {drivers}" if drivers else boards, "/sys/class/drm, lspci"),
    ]


def _disk(answers: Answers) -> list[Fact | None]:
    text = text_of(answers, "disk")
    space = re.search(r"^\S+\s+(\d+)\s+(\d+)\s+(\d+)\s+\d+%\s+/$", text, re.MULTILINE)
    parts = [dict(re.findall(r'(\w+)="([^"]*)"', line)) for line in text.splitlines() if 'TYPE="' in line]
    layout = []
    for part in parts:
        if part.get("TYPE") in ("part", "crypt", "lvm") and part.get("SIZE", "").isdigit():
            where = part.get("MOUNTPOINT") or "not mounted"
            layout.append(f"{int(part['SIZE']) / _GIB:.1f} GiB {part.get('FSTYPE') or part['TYPE']} {where}")
    found = [fact("disk", "; ".join(layout), "lsblk")]
    if space:
        total, used, free = (int(number) / 2**20 for number in space.groups())
        if not layout:
            found.append(fact("disk", f"{total:.1f} GiB at /, {free:.1f} GiB available", "df"))
        reserved = total - used - free
        unmounted = sum(
            int(p["SIZE"]) / _GIB
            for p in parts
            if p.get("TYPE") == "part" and not p.get("MOUNTPOINT") and p.get("FSTYPE") and p.get("SIZE", "").isdigit()
        )
        words = [f"{number_text(round(reserved, 1))} GiB kept back by the file system"] if reserved >= 0.1 else []
        words += [f"{number_text(round(unmounted, 1))} GiB in parts that are not mounted"] if unmounted >= 0.1 else []
        found.append(fact("reserved on disk", ", ".join(words) or "nothing to speak of", "df, lsblk"))
    return found


def _software(answers: Answers) -> list[Fact | None]:
    formats = ", ".join(text_of(answers, "package formats").split())
    sources = software.sources(text_of(answers, "sources"))
    defaults = software.defaults(text_of(answers, "defaults"))
    programs = software.programs(text_of(answers, "programs"))
    waiting = dict(re.findall(r"^(\w+) (\d+)$", text_of(answers, "updates"), re.MULTILINE))
    return [
        fact("package formats", formats, "which commands are there"),
        fact("software sources", f"{len(sources)}: {'; '.join(sources)}" if sources else "", "their configuration"),
        *(fact(f"default {purpose}", name, "mimeapps.list") for purpose, name in defaults.items()),
        fact("programs", str(len(programs)) if programs else "", "entries of the menus"),
        *(fact("updates waiting", number, manager) for manager, number in waiting.items()),
    ]


def _language(answers: Answers) -> list[Fact | None]:
    locale, _, keyboard = text_of(answers, "language").partition("#\n")
    said, keys = assignments(locale), assignments(keyboard)
    layout = keys.get("XKBLAYOUT") or keys.get("KEYMAP") or ""
    option = re.search(r'"XkbLayout"\s+"([^"]+)"', keyboard)
    return [
        fact("language", said.get("LANG", ""), "locale.conf or default/locale"),
        fact("keyboard", layout or (option.group(1) if option else ""), "the keyboard's configuration"),
    ]


def assignments(text: str) -> dict[str, str]:
    """`NAME=value` lines, quoted or not; nothing in them is run.

    >>> assignments('NAME="Saltmarsh Linux"')
    {'NAME': 'Saltmarsh Linux'}
    """
    found = {}
    for line in text.splitlines():
        match = re.match(r"\s*([A-Z_][A-Z0-9_]*)=(.*)", line)
        if match:
            value = match.group(2).strip()
            if len(value) >= 2 and value[0] == value[-1] and value[0] in "\"'":
                value = value[1:-1]
            found[match.group(1)] = value
    return found
