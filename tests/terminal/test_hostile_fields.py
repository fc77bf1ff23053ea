"""Law 7 in a real terminal: whatever stands in a field, editing it does nothing to the terminal."""

import json
import sqlite3
import sys
from contextlib import closing
from pathlib import Path
from typing import Any

from tests.damage import damaged
from tests.terminal.tmux import Terminal

PROGRAM = (sys.executable, "-m", "fresh_chair")
# Title, clipboard, clearing, colours, a C1 introducer, and what turns a line round.
HOSTILE = "q\x1b]0;STOLEN\x07\x1b]52;c;U1RPTEVO\x07\x1b[2J\x1b[31m\x9b2J\u202ex\u2066"


def spoilt(value: Any, key: str = "") -> Any:
    """The same with hostile words behind every text that one may write freely."""
    free = {"kernel", "medium", "edition", "base", "installed", "in_use_for", "profile", "uses", "uses_for", "language"}
    free |= {"aids", "goal", "start", "success", "question", "processor", "memory", "disk", "display", "paid_by"}
    free |= {"greeting", "why", "words", "title", "reason", "note", "promised", "item", "program", "what"}
    if isinstance(value, dict):
        return {name: spoilt(part, name) for name, part in value.items()}
    if isinstance(value, list):
        return [spoilt(part, key) for part in value]
    return f"{value[:40]}{HOSTILE}" if isinstance(value, str) and key in free else value


def hostile(path: Path) -> None:
    """Fill a study with hostile texts, as a program that is not ours could have."""
    with closing(sqlite3.connect(path)) as rows:
        found = [
            (table, key, name, body)
            for table, key in (("chair", "letter"), ("card", "id"), ("person", "code"), ("machine", "id"))
            for name, body in rows.execute(f"SELECT {key}, body FROM {table}")
        ]
        found += [("entry", "id", name, body) for name, body in rows.execute("SELECT id, body FROM entry")]
        found += [
            ("chair_entry", "number", name, body)
            for name, body in rows.execute("SELECT number, body FROM chair_entry WHERE kind = 'record_put'")
        ]
        found += [
            ("sort_entry", "number", name, body) for name, body in rows.execute("SELECT number, body FROM sort_entry")
        ]
        (sheet,) = rows.execute("SELECT sheet FROM study").fetchone()
    for table, key, name, body in found:
        values = (json.dumps(spoilt(json.loads(body))), name)
        damaged(path, f"UPDATE {table} SET body = ? WHERE {key} = ?", values=values)
    damaged(
        path, "UPDATE study SET sheet = ?, title = ?", values=(json.dumps(spoilt(json.loads(sheet))), f"S{HOSTILE}")
    )


def test_no_field_that_is_edited_acts_on_the_terminal(terminal: Terminal, demo_path: Path) -> None:
    hostile(demo_path)
    terminal.run(*PROGRAM, "open", demo_path)
    terminal.wait_for("Enter seats")
    terminal.set_up_clipboard("mine")
    title = terminal.title()
    edited = 0

    def untouched() -> None:
        assert terminal.title() == title
        assert terminal.clipboard() == "mine"
        assert terminal.alternate() == "1"
        assert "1 plan" in terminal.screen().lower()

    for sheet in ("s", "c", "p"):
        terminal.keys(sheet)
        terminal.wait_for("Esc", "back", "change")
        for _ in range(34):
            terminal.keys("Enter")
            terminal.settle()
            edited += "␛]0;STOLEN" in terminal.screen()
            terminal.keys("Escape")
            terminal.settle()
            terminal.keys("Down")
        untouched()
        terminal.keys("Escape")
        terminal.wait_for("seats this person")
    assert edited > 12
    for keys in (("4", "e"), ("4", "Tab", "r"), ("4", "Tab", "v", "3"), ("2", "p", "Enter")):
        terminal.keys(*keys[:1])
        terminal.settle()
        for key in keys[1:]:
            terminal.keys(key)
            terminal.settle()
        untouched()
        terminal.keys("Escape")
        terminal.settle()
        terminal.keys("Escape")
        terminal.settle()
