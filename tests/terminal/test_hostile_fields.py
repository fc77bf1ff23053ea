"""Law 7 in a real terminal: whatever stands in a field, editing it does nothing to the terminal."""

import json
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest

from tests.damage import behind_triggers
from tests.terminal.tmux import Terminal

pytestmark = pytest.mark.long

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
    with behind_triggers(path) as rows:
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
        for table, key, name, body in found:
            spoiled = json.dumps(spoilt(json.loads(body)))
            rows.execute(f"UPDATE {table} SET body = ? WHERE {key} = ?", (spoiled, name))
        (sheet,) = rows.execute("SELECT sheet FROM study").fetchone()
        values = (json.dumps(spoilt(json.loads(sheet))), f"S{HOSTILE}")
        rows.execute("UPDATE study SET sheet = ?, title = ?", values)


@dataclass(slots=True)
class Watched:
    """A terminal with a title and a clipboard of its own, which nothing may touch."""

    terminal: Terminal
    title: str

    def untouched(self) -> None:
        assert self.terminal.title() == self.title
        assert self.terminal.clipboard() == "mine"
        assert self.terminal.alternate() == "1"
        assert "1 plan" in self.terminal.screen().lower()


@pytest.fixture
def watched(terminal: Terminal, demo_path: Path) -> Watched:
    """The demo with hostile texts in every field, on the screen."""
    hostile(demo_path)
    terminal.run(*PROGRAM, "open", demo_path)
    terminal.wait_for("Enter seats")
    terminal.set_up_clipboard("mine")
    return Watched(terminal, terminal.title())


@pytest.mark.parametrize(("sheet", "fields"), [("c", 8)])
def test_no_field_that_is_edited_acts_on_the_terminal(watched: Watched, sheet: str, fields: int) -> None:
    terminal, edited, visited = watched.terminal, 0, set[str]()
    terminal.keys(sheet)
    terminal.wait_for("Esc", "back", "change")
    terminal.settle()
    # After the last field the first one comes again.
    while (seen := terminal.screen()) not in visited and len(visited) < 40:
        visited.add(seen)
        terminal.keys("Enter")
        terminal.settle()
        edited += "␛]0;STOLEN" in terminal.screen()
        terminal.keys("Escape")
        terminal.settle()
        terminal.keys("Down")
        terminal.settle()
    watched.untouched()
    assert edited >= fields


@pytest.mark.parametrize("keys", [("4", "e"), ("4", "Tab", "r"), ("4", "Tab", "v", "3"), ("2", "p", "Enter")])
def test_no_line_that_is_edited_acts_on_the_terminal(watched: Watched, keys: tuple[str, ...]) -> None:
    for key in keys:
        watched.terminal.keys(key)
        watched.terminal.settle()
    watched.untouched()
