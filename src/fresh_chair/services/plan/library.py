"""The library of task cards: those that ship, and those in a reviewer's own folder."""

import os
from collections.abc import Collection, Sequence
from functools import cache
from importlib.resources import files
from pathlib import Path

from platformdirs import user_data_path

from fresh_chair.core.errors import FreshChairError, InputError
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import AREAS, TaskCard
from fresh_chair.core.text import legible
from fresh_chair.services.plan.scripts import read_script
from fresh_chair.services.system.files import typed_path

MOST_FILES = 500
FOLDER_VARIABLE = "FRESH_CHAIR_CARDS"


@frozen
class Shelf:
    """Every card there is to take.

    Attributes:
        cards: By area, in the order of the areas; a card of one's own hides a shipped one of the same id.
        own: Ids of the cards from the reviewer's own folder.
        problems: What of the own folder could not be used, a sentence each.
    """

    cards: tuple[TaskCard, ...]
    own: frozenset[str]
    problems: tuple[str, ...]


# Cards of the library that had another id once: a command or a note of then still finds them.
_FORMER = {
    "say-cheese": "seen-in-the-talk",
    "letter-on-the-screen": "one-letter-every-morning",
    "bring-it-back": "back-on-the-bar",
    "hidden-edges": "fine-print",
}


def present_id(name: str) -> str:
    """The id that a card of the library has now, by any id it ever had."""
    return _FORMER.get(name, name)


def own_folder() -> Path:
    """The folder of a reviewer's own cards: from the environment variable, or beside their other data."""
    named = os.environ.get(FOLDER_VARIABLE)
    if not named:
        return user_data_path("fresh-chair") / "cards"
    try:
        return typed_path(named)
    except InputError:
        return Path(named)


def open_shelf(folder: Path | None = None) -> Shelf:
    """The shipped cards with the reviewer's own ones.

    Args:
        folder: Their folder; `own_folder()` by default. A file in it that is no script is left out and said.
    """
    from fresh_chair.core.plan.text.script import cards_of

    folder = folder or own_folder()
    own: dict[str, TaskCard] = {}
    problems = []
    try:
        paths = sorted(folder.glob("*.toml"))[:MOST_FILES] if folder.is_dir() else []
    except OSError as problem:
        paths, problems = [], [f"{legible(str(folder))} cannot be read: {problem.strerror}."]
    for path in paths:
        name = legible(path.name)
        try:
            own |= {card.id: card for card in cards_of(read_script(path), name=name, kept="Its cards are left out.")}
        except FreshChairError as problem:
            problems.append(f"{problem.title} {problem.hint}")
    cards = [*(card for card in shipped_cards() if card.id not in own), *own.values()]
    places = {area: index for index, area in enumerate(AREAS)}
    cards.sort(key=lambda card: places.get(card.area, len(AREAS)))
    return Shelf(tuple(cards), frozenset(own), tuple(problems))


@cache
def shipped_cards() -> tuple[TaskCard, ...]:
    """The cards that come with the program."""
    from fresh_chair.core.plan.text.script import cards_of

    found: list[TaskCard] = []
    for file in sorted(files("fresh_chair.library").iterdir(), key=lambda file: file.name):
        if file.name.endswith(".toml"):
            found += cards_of(file.read_text(encoding="utf-8"), name=file.name)
    return tuple(found)


def found_cards(
    cards: Sequence[TaskCard], words: str = "", *, area: str = "", bench: Collection[str] | None = None
) -> list[TaskCard]:
    """The cards with all these words somewhere, of one area, and with no fixtures but those at hand.

    Args:
        words: Parted by spaces; each may stand in title, goal, area, success, question or fixtures.
        area: Empty for all areas.
        bench: Fixtures at hand, by words that stand in their names; None for all cards.
    """
    wanted = words.casefold().split()
    at_hand = None if bench is None else [name.casefold() for name in bench]
    return [
        card
        for card in cards
        if (not area or card.area == area)
        and all(word in _text(card) for word in wanted)
        and (at_hand is None or all(_covered(fixture, at_hand) for fixture in card.fixtures))
    ]


def _covered(fixture: str, at_hand: Sequence[str]) -> bool:
    """Whether a fixture is at hand: one name stands in the other."""
    name = fixture.casefold()
    return any(each in name or name in each for each in at_hand)


def _text(card: TaskCard) -> str:
    parts = (card.id, card.title, card.goal, card.area, card.success, card.question, *card.fixtures)
    return " ".join(parts).casefold()
