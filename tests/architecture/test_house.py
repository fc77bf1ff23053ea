"""The house: how large things may be, how they are named, and which way they know each other."""

import ast
import re
from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import Path

import pytest

import fresh_chair

SOURCE = Path(fresh_chair.__file__).parent
MODULES = sorted(path for path in SOURCE.rglob("*.py") if "migrations" not in path.parts)
TREES = {path: ast.parse(path.read_text(encoding="utf-8")) for path in MODULES}
MOST_LINES, MOST_IN_FOLDER, MOST_IN_FUNCTION, MOST_IN_CLASS, MOST_METHODS = 500, 15, 50, 300, 20
# Names that say which part of a room they are, and may stand in each.
PARTS = {"screen", "view", "ledger", "base", "model"}
# Larger than a class may be, each with the reason it is.
EXCUSED: dict[str, str] = {
    "JournalWriter": "every entry goes through it: permit, commit, advance, and others' entries in between",
    "OpenStudy": "what is open, read anew and changed; it becomes a snapshot and commands",
    "Place": "the frame, the asking and the keys of every screen; asking becomes a part of its own",
    "SittingKeeping": "a sitting seated, taken up and put to sleep, each step after the last",
}

Function = ast.FunctionDef | ast.AsyncFunctionDef


def name_of(path: Path) -> str:
    """A module's dotted name below the package."""
    return ".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")


def nodes(*kinds: type[ast.AST]) -> Iterator[tuple[Path, ast.AST]]:
    return ((path, node) for path, tree in TREES.items() for node in ast.walk(tree) if isinstance(node, kinds))


def imports() -> dict[str, set[str]]:
    """Which module imports which, imports within functions and for types only included."""
    # A room itself holds nothing that could be imported.
    known = {f"fresh_chair.{name_of(path)}": name_of(path) for path in MODULES if path.stem != "__init__"}
    found: dict[str, set[str]] = defaultdict(set)
    for path, node in nodes(ast.Import, ast.ImportFrom):
        if isinstance(node, ast.ImportFrom):
            named = {node.module or "", *(f"{node.module}.{alias.name}" for alias in node.names)}
        else:
            assert isinstance(node, ast.Import)
            named = {alias.name for alias in node.names}
        found[name_of(path)] |= {known[name] for name in named & known.keys()} - {name_of(path)}
    return found


def cycles(arrows: dict[str, set[str]]) -> list[set[str]]:
    """Groups of names that reach each other."""
    reached = {name: _reached(arrows, name) for name in arrows}
    groups = {frozenset(other for other in seen if name in reached.get(other, ())) for name, seen in reached.items()}
    return [set(group) for group in groups if len(group) > 1]


def _reached(arrows: dict[str, set[str]], start: str) -> set[str]:
    seen, stack = set[str](), [start]
    while stack:
        for name in arrows.get(stack.pop(), ()):
            if name not in seen:
                seen.add(name)
                stack.append(name)
    return seen


@pytest.mark.parametrize("path", MODULES, ids=name_of)
def test_a_file_can_be_held_in_mind(path: Path) -> None:
    assert path.read_text(encoding="utf-8").count("\n") <= MOST_LINES
    assert path.stem not in {"utils", "helpers", "common", "misc"}


def test_functions_stay_short() -> None:
    long = [
        f"{name_of(path)}:{node.name}"
        for path, node in nodes(ast.FunctionDef, ast.AsyncFunctionDef)
        if isinstance(node, Function) and (node.end_lineno or 0) - node.lineno >= MOST_IN_FUNCTION
    ]
    assert long == []


def test_classes_stay_small_but_for_those_with_a_reason() -> None:
    large = {
        node.name
        for _, node in nodes(ast.ClassDef)
        if isinstance(node, ast.ClassDef)
        and (
            (node.end_lineno or 0) - node.lineno >= MOST_IN_CLASS
            or sum(isinstance(part, Function) for part in node.body) > MOST_METHODS
        )
    }
    assert large == set(EXCUSED)


def test_no_folder_has_more_modules_than_one_finds_ones_way_in() -> None:
    sizes = Counter(path.parent for path in MODULES if path.stem != "__init__")
    assert {name_of(folder): size for folder, size in sizes.items() if size > MOST_IN_FOLDER} == {}


def test_no_bare_name_stands_three_times_on_a_floor() -> None:
    floors: dict[str, Counter[str]] = defaultdict(Counter)
    for path in MODULES:
        floor = path.relative_to(SOURCE).parts[0]
        if path.stem not in {"__init__", *PARTS}:
            floors[floor][path.stem] += 1
    assert {floor: [n for n, often in names.items() if often > 2] for floor, names in floors.items() if names} == {
        floor: [] for floor in floors
    }


def test_no_two_public_classes_share_a_name() -> None:
    names = Counter(node.name for _, node in nodes(ast.ClassDef) if isinstance(node, ast.ClassDef))
    assert [name for name, often in names.items() if often > 1 and not name.startswith("_")] == []


def test_modules_have_no_cycles_whenever_they_are_imported() -> None:
    assert cycles(imports()) == []


def test_rooms_of_one_floor_have_no_cycles() -> None:
    arrows: dict[str, set[str]] = defaultdict(set)
    for name, others in imports().items():
        room = name.rpartition(".")[0]
        arrows[room] |= {other.rpartition(".")[0] for other in others} - {room}
    floors = {room.split(".")[0] for room in arrows}
    for floor in sorted(floors):
        within = {
            room: {other for other in others if other.split(".")[0] == floor}
            for room, others in arrows.items()
            if room.split(".")[0] == floor
        }
        assert cycles(within) == [], floor


def test_every_room_says_in_a_sentence_what_it_is_for() -> None:
    for path in MODULES:
        if path.stem == "__init__":
            said = ast.get_docstring(TREES[path])
            assert said, path
            assert len(said.splitlines()) == 1, path
            assert len(TREES[path].body) == 1 or path.parent == SOURCE, path


def test_docstrings_name_the_thing_and_tell_no_riddles() -> None:
    riddles = [
        f"{name_of(path)}: {first}"
        for path, node in nodes(ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)
        if isinstance(node, ast.Module | ast.ClassDef | Function)
        for first in (ast.get_docstring(node) or "").splitlines()[:1]
        if re.search(r"\b(what|nobody|somebody|whoever|whatever)\b", first, re.IGNORECASE)
    ]
    assert riddles == []


@pytest.mark.parametrize("page", ["docs/architecture.md", "CONTRIBUTING.md"])
def test_every_file_and_name_that_the_pages_for_contributors_speak_of_is_there(page: str) -> None:
    text = (SOURCE.parents[1] / page).read_text(encoding="utf-8")
    floors = "core|services|store|probe|draw|tell|tui|cli|demo"
    for path in re.findall(rf"`((?:{floors})/[\w/]*)(?:\.py)?`", text):
        assert (SOURCE / path.rstrip("/")).is_dir() or (SOURCE / f"{path}.py").is_file(), path
    everything = "\n".join(path.read_text(encoding="utf-8") for path in MODULES)
    for name in re.findall(r"`(?:\w+\.)?([a-z_]+|[A-Z]\w+)`", text):
        assert re.search(rf"\b{name}\b", everything) or (SOURCE.parents[1] / name).exists(), name
