"""Checks as questions to a chair, and the meaning of the answers.

Words of a check reach the chair as quoted words only; no shell is built of them but where the check is a command.
"""

import re
import shlex
from collections.abc import Callable, Iterable, Mapping

from fresh_chair.core.chair.answers import Answer, Answers
from fresh_chair.core.checks.meaning import Ask, CheckLine, Found
from fresh_chair.core.text import legible
from fresh_chair.probe.parsing import settings, software, system
from fresh_chair.probe.questions.framing import Question
from fresh_chair.probe.questions.state import (
    DEFAULTS,
    IDENTITY,
    NETWORKS,
    PACKAGES,
    PRINTERS,
    PROGRAMS,
    QUIETLY,
    SOURCES,
    USERS,
    XFCONF,
    runs,
)

_LONGEST = 400
_UPDATES = next(question for question in IDENTITY if question.name == "updates")
_ONLINE = Question("default route", "awk 'NR > 1 && $2 == \"00000000\" {print $1}' /proc/net/route", most_bytes=2_000)
_PROCESSES = Question("process names", "ps -e -o comm=", most_bytes=200_000, needs="ps")
_COUNTED: dict[str, tuple[Question, Callable[[str], dict[str, str]]]] = {
    "packages": (PACKAGES, software.packages),
    "programs": (PROGRAMS, software.programs),
    "networks": (NETWORKS, system.networks),
    "printers": (PRINTERS, system.printers),
    "sources": (SOURCES, software.sources),
    "users": (USERS, system.users),
}


def questions_for(asks: Iterable[Ask]) -> list[Question]:
    """The questions that answer these, each once."""
    found: dict[str, Question] = {}
    for ask in asks:
        for question in _questions(ask):
            found.setdefault(question.name, question)
    return list(found.values())


def asks_of(lines: Iterable[CheckLine]) -> list[Ask]:
    """The questions of these lines, each once."""
    return list({check.ask.text: check.ask for line in lines for check in line.any_of}.values())


def found_of(asks: Iterable[Ask], answers: Answers) -> dict[str, Found]:
    """The chair's answers, by the text of the question."""
    return {ask.text: _found(ask, answers) for ask in asks}


def _questions(ask: Ask) -> list[Question]:
    match ask.subject:
        case "setting":
            return [Question(ask.text, _setting(ask.args), most_bytes=200_000, needs=_STORE[ask.args[0]])]
        case "package":
            return [Question(ask.text, _package(ask.args[0]), most_bytes=4_000, needs="a package manager")]
        case "program":
            name = shlex.quote(ask.args[0])
            here = Question(ask.text, f"command -v -- {name}; true", most_bytes=1_000)
            return [here, PROGRAMS]
        case "file":
            return [Question(ask.text, _file(ask.args[0]), most_bytes=2_000)]
        case "opening":
            return [Question(ask.text, _opening(ask.args[0]), most_bytes=2_000, needs="xdg-mime")]
        case "default for":
            return (
                [DEFAULTS] if "/" not in ask.args[0] else [Question(ask.text, _default(ask.args[0]), needs="xdg-mime")]
            )
        case "network":
            return [NETWORKS, _ONLINE] if ask.args[0] == "any" else [NETWORKS]
        case "updates":
            return [_UPDATES]
        case "user":
            return [USERS]
        case "process":
            return [_PROCESSES]
        case "count of":
            return [_COUNTED[ask.args[0]][0]]
        case _:
            return [Question(ask.text, ask.args[0], most_bytes=20_000)]


_STORE = {"gsettings": "gsettings", "dconf": "dconf", "xfconf": "xfconf-query", "ini": "the file"}


def _setting(args: tuple[str, ...]) -> str:
    rest = [shlex.quote(arg) for arg in args[1:]]
    match args[0]:
        case "gsettings":
            # A schema that is not installed is no setting that stands otherwise, but one that cannot be read.
            return f"command -v gsettings >/dev/null 2>&1 || exit 127\n{QUIETLY} gsettings get {rest[0]} {rest[1]}"
        case "dconf":
            return f"command -v dconf >/dev/null 2>&1 || exit 127\n{QUIETLY} dconf read {rest[0]}"
        case "xfconf":
            return (
                "command -v xfconf-query >/dev/null 2>&1 || exit 127\n"
                f"if {runs(XFCONF)} && "
                f"v=$(xfconf-query -c {rest[0]} -p {rest[1]} 2>/dev/null); "
                "then printf '=== value\\n%s\\n' \"$v\"\n"
                "else echo '=== files'; cat \"$HOME\"/.config/xfce4/xfconf/xfce-perchannel-xml/"
                f"{rest[0]}.xml 2>/dev/null; fi; true"
            )
        case _:
            return f'f={_path(args[1])}\n[ -f "$f" ] || exit 0\necho \'=== file\'; cat "$f"'


def _path(path: str) -> str:
    """A path as a shell word; the home folder is the chair's."""
    return f'"$HOME"/{shlex.quote(path[2:])}' if path.startswith("~/") else shlex.quote(path)


def _package(name: str) -> str:
    word = shlex.quote(name)
    return (
        "known=\n"
        "if command -v dpkg-query >/dev/null 2>&1; then known=1; echo '=== dpkg'\n"
        f"  dpkg-query -W -f '${{db:Status-Abbrev}} ${{Package}} ${{Version}}\\n' -- {word} 2>/dev/null; fi\n"
        "if command -v rpm >/dev/null 2>&1 && [ -d /var/lib/rpm -o -d /usr/lib/sysimage/rpm ]; then known=1\n"
        f"  echo '=== rpm'; rpm -q --qf '%{{NAME}} %{{VERSION}}-%{{RELEASE}}\n' -- {word} 2>/dev/null"
        " | grep -v ' is not '; fi\n"
        f"if command -v pacman >/dev/null 2>&1; then known=1; echo '=== pacman'; pacman -Q -- {word} 2>/dev/null; fi\n"
        "if command -v apk >/dev/null 2>&1; then known=1; echo '=== apk'\n"
        f"  apk info -v 2>/dev/null | grep -F -- {word}; fi\n"
        "if command -v flatpak >/dev/null 2>&1; then known=1; echo '=== flatpak'\n"
        f"  flatpak list --columns=application,version 2>/dev/null | grep -F -- {word}; fi\n"
        f"if command -v snap >/dev/null 2>&1; then known=1; echo '=== snap'; snap list -- {word} 2>/dev/null; fi\n"
        '[ -n "$known" ] || exit 127; true'
    )


def _file(path: str) -> str:
    return (
        f"f={_path(path)}\n"
        '[ -e "$f" ] || { echo gone; exit 0; }\n'
        'if [ -d "$f" ]; then printf "folder "; ls -A "$f" | cksum; else printf "file "; cksum <"$f"; fi'
    )


def _opening(path: str) -> str:
    return (
        f"f={_path(path)}\n"
        '[ -s "$f" ] || { echo gone; exit 0; }\n'
        "command -v xdg-mime >/dev/null 2>&1 || exit 127\n"
        'kind=$(xdg-mime query filetype "$f"); program=$(xdg-mime query default "$kind")\n'
        '[ -n "$program" ] && echo "opens with $program ($kind)" || echo "nothing opens $kind"'
    )


def _default(kind: str) -> str:
    return f"command -v xdg-mime >/dev/null 2>&1 || exit 127\nxdg-mime query default {shlex.quote(kind)}"


def _found(ask: Ask, answers: Answers) -> Found:
    """The answer to one question."""
    if ask.subject == "program":
        return _program(ask, answers)
    if ask.subject == "network":
        return _network(ask.args[0], answers)
    question = _questions(ask)[0]
    answer = answers.get(question.name, Answer(question.name, why="was not asked"))
    if answer.why:
        return Found(why=f"{answer.why}")
    if answer.cut and ask.subject not in ("command",):
        return Found(why="the answer is too long to be read whole")
    read = _READ[ask.subject]
    return Found(read(ask.args, answer.text))


def _one_line(args: tuple[str, ...], text: str) -> str | None:
    return legible(text.strip())[:_LONGEST] or None


def _of_setting(args: tuple[str, ...], text: str) -> str | None:
    if args[0] == "ini":
        lines = [line for _, block in settings.blocks(text) for line in block]
        values = [v for group, key, v in settings.ini_lines(lines) if (group, key) == (args[2], args[3])]
        return legible(values[-1])[:_LONGEST] if values else None
    if args[0] == "xfconf":
        for name, lines in settings.blocks(text):
            if name == "value":
                # Several values stand below each other after a line that says how many.
                return legible("; ".join(line for line in lines if line.strip()))[:_LONGEST]
        value = settings.xfconf(text).get(f"xfconf {args[1]} {args[2]}")
        return None if value is None else legible(value)
    return _one_line(args, text)


def _of_package(args: tuple[str, ...], text: str) -> str | None:
    for name, version in software.packages(text).items():
        if name.split(" ", 1)[1] == args[0]:
            return legible(version)
    return None


def _of_file(args: tuple[str, ...], text: str) -> str | None:
    line = legible(text.strip())[:_LONGEST]
    return None if line in ("gone", "") else line


def _of_updates(args: tuple[str, ...], text: str) -> str | None:
    found = re.findall(r"^\w+ (\d{1,6})$", text, re.MULTILINE)
    return str(sum(map(int, found))) if found else None


_READ: Mapping[str, Callable[[tuple[str, ...], str], str | None]] = {
    "setting": _of_setting,
    "package": _of_package,
    "file": _of_file,
    "opening": _of_file,
    "default for": lambda args, text: _one_line(args, text) if "/" in args[0] else software.defaults(text).get(args[0]),
    "updates": _of_updates,
    "user": lambda args, text: "there" if args[0] in {line.split(":")[0] for line in text.splitlines()} else None,
    "process": lambda args, text: "runs" if args[0][:15] in {line.strip() for line in text.splitlines()} else None,
    "count of": lambda args, text: str(len(_COUNTED[args[0]][1](text))),
    "command": _one_line,
}


def _program(ask: Ask, answers: Answers) -> Found:
    """A command of that name, or an entry of the menus that is called so."""
    here = answers.get(ask.text, Answer(ask.text, why="was not asked"))
    if here.read and here.text.strip():
        return Found(legible(here.text.strip())[:_LONGEST])
    menus = answers.get(PROGRAMS.name, Answer(PROGRAMS.name, why="was not asked"))
    if here.why or menus.why:
        return Found(why=here.why or menus.why)
    wanted = ask.args[0].casefold()
    for entry, name in software.programs(menus.text).items():
        if wanted in (entry.casefold(), entry.removesuffix(".desktop").casefold(), name.casefold()):
            return Found(legible(f"{name} ({entry})"))
    return Found(None)


def _network(name: str, answers: Answers) -> Found:
    answer = answers.get(NETWORKS.name, Answer(NETWORKS.name, why="was not asked"))
    if name != "any":
        return Found(why=answer.why) if answer.why else Found(system.networks(answer.text).get(name))
    states = list(system.networks(answer.text).values()) if answer.read else []
    route = answers.get(_ONLINE.name)
    if "up" in states or (route is not None and route.read and route.text.strip()):
        return Found("up")
    if answer.why and (route is None or route.why):
        return Found(why=answer.why)
    return Found("remembered" if states else None)
