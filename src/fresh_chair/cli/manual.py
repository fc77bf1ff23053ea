"""The manual page in roff, made from the help texts of the commands."""

from collections.abc import Iterator
from typing import Any

import typer

from fresh_chair import __version__

EXIT_CODES = (
    (0, "It was done."),
    (1, "It was not done, and one sentence says why; or a check found something."),
    (2, "The command itself is not so: an option or an argument is unknown, missing, or of another kind."),
    (70, "Something that was not foreseen; a report without participants' data says where."),
    (74, "Standard output took no more: a full disk behind it."),
    (130, "Stopped by Ctrl+C."),
    (141, "Whoever read the output closed it."),
    (143, "Told to end by the system; everything that was shown is saved."),
)


def manual(app: typer.Typer) -> str:
    """The manual page of all commands, as roff source."""
    root = typer.main.get_command(app)
    parts = [
        f'.TH FRESH-CHAIR 1 "" "Fresh Chair {__version__}" "User Commands"',
        ".SH NAME",
        f"fresh-chair \\- {_line(root.help or '')}",
        ".SH SYNOPSIS",
        ".B fresh-chair",
        "[\\fICOMMAND\\fR] [\\fIARGUMENTS\\fR]",
        ".SH COMMANDS",
    ]
    for name, command in _commands(root, "fresh-chair"):
        parts += _command(name, command)
    parts.append(".SH EXIT STATUS")
    for code, words in EXIT_CODES:
        parts += [".TP", f".B {code}", _line(words)]
    return "\n".join(parts) + "\n"


def _commands(group: Any, name: str) -> Iterator[tuple[str, Any]]:
    """Every command that is no group, with its whole name."""
    if not hasattr(group, "commands"):
        yield name, group
        return
    for each, command in group.commands.items():
        if not command.hidden:
            yield from _commands(command, f"{name} {each}")


def _command(name: str, command: Any) -> list[str]:
    arguments = [p for p in command.params if p.param_type_name == "argument"]
    options = [p for p in command.params if p.param_type_name == "option" and not p.hidden and p.name != "help"]
    parts = [".TP", f".B {_line(name)}"]
    if arguments:
        parts += [" ".join(f"\\fI{_line(_metavar(p))}\\fR" for p in arguments), ".br"]
    parts.append(_line(command.help or ""))
    for option in options:
        signs = ", ".join(option.opts)
        metavar = "" if option.is_flag else f" \\fI{_line(_metavar(option))}\\fR"
        parts += [".br", f"\\fB{_line(signs)}\\fR{metavar}: {_line(option.help or '')}"]
    return parts


def _metavar(parameter: Any) -> str:
    return str(parameter.metavar or parameter.name.upper().replace("_", "-"))


def _line(text: str) -> str:
    """A text on one line, in which nothing is taken for roff."""
    plain = " ".join(text.split()).replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{plain}" if plain[:1] in (".", "'") else plain
