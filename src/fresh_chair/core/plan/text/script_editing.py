"""Changing a script's text without losing its author's comments and layout around the cards.

tomlkit keeps comments, blank lines and the order of fields, which the standard library's reader throws away.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import MISSING, fields
from typing import Any

import tomlkit
from tomlkit.exceptions import TOMLKitError
from tomlkit.items import AoT, InlineTable, Table

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.text.script import SCRIPT_VERSION, cards_of

# Where a card's own lines begin.
_BLOCK = re.compile(r"(?m)^(?=[ \t]*\[\[[ \t]*cards[ \t]*\]\])")
_ID = re.compile(r'(?m)^[ \t]*id[ \t]*=[ \t]*"([a-z0-9-]+)"[ \t]*(?:#.*)?$')
_HEAD = f"script = {SCRIPT_VERSION}\n"


def new_text(cards: Sequence[TaskCard] = (), *, comment: str = "") -> str:
    """A script with these cards, written the way the documentation shows it."""
    lines = [f"# {line}".rstrip() for line in comment.splitlines()]
    text = "\n".join([*lines, _HEAD])
    for card in cards:
        text = with_card(text, card)
    return text


def with_card(text: str, card: TaskCard) -> str:
    """The text with one more card at its end."""
    text = in_blocks(text)
    document = tomlkit.document()
    table = tomlkit.aot()
    table.append(_table(card))
    document.append("cards", table)
    return f"{text.rstrip()}\n\n{tomlkit.dumps(document).strip()}\n"


def in_blocks(text: str) -> str:
    """The text with its cards as blocks, where they were written as one list in brackets; else as it is."""
    document = tomlkit.parse(text)
    if "cards" not in document or isinstance(document["cards"], AoT):
        return text
    cards = cards_of(text, name="the script")
    document.remove("cards")
    text = tomlkit.dumps(document)
    for card in cards:
        text = with_card(text, card)
    return text


def _put(table: Table, field: str, value: object) -> None:
    if value == _default(field):
        table.pop(field, None)
    elif isinstance(value, Mapping) and isinstance(table.get(field), (Table, InlineTable)):
        _change_table(table[field], value)
    else:
        table[field] = _item(value)


def brought_to(text: str, cards: Sequence[TaskCard], present: Sequence[TaskCard]) -> str:
    """The text with its cards brought to `cards`; its author's text around the cards that stay is kept.

    Args:
        text: The script.
        cards: What it is to hold.
        present: What it holds now.
    """
    held, wanted = {card.id: card for card in present}, {card.id: card for card in cards}
    for name in held.keys() - wanted.keys():
        text = without_card(text, name)
    changed = {name: _differing(old, card) for name, card in wanted.items() if (old := held.get(name)) is not None}
    text = _with_changes(text, {name: values for name, values in changed.items() if values})
    for name, card in wanted.items():
        if name not in held:
            text = with_card(text, card)
    return text


def _with_changes(text: str, changes: Mapping[str, Mapping[str, object]]) -> str:
    """The text with fields of cards changed, each card's own lines read and written by themselves.

    So it takes as long as there is text to change, however many cards there are.
    """
    if not changes:
        return text
    if not _BLOCK.search(text):
        text = in_blocks(text)
    parts = _BLOCK.split(text)
    found: set[str] = set()
    for index, part in enumerate(parts[1:], start=1):
        named = _ID.search(part)
        if named is not None and '"""' not in part and "'''" not in part:
            wanted = changes.get(named[1], {})
            changed = part
            for field, value in wanted.items():
                changed = _section(changed, field, value) if changed else ""
            if changed and named[1] not in found:
                found |= {named[1]} & set(changes)
                parts[index] = changed
                continue
        document = _alone(part)
        listed = document.get("cards") if document is not None else None
        table = listed[0] if isinstance(listed, AoT) and len(listed) == 1 else None
        if document is None or table is None:
            # Something in it looks like the beginning of a card: the slow way reads the whole.
            return _with_changes_whole(text, changes)
        name = str(table.get("id"))
        if name in changes:
            found.add(name)
            for field, value in changes[name].items():
                _put(table, field, value)
            parts[index] = tomlkit.dumps(document)
    if found != set(changes):
        return _with_changes_whole(text, changes)
    return "".join(parts)


def _section(part: str, field: str, value: object) -> str:
    """A card's lines with one of its tables changed, of which alone the lines are read; empty where that cannot be."""
    if not isinstance(value, Mapping) or not value:
        return ""
    match = re.search(rf"(?ms)^[ \t]*\[[ \t]*cards\.{field}[ \t]*\][^\n]*\n.*?(?=^[ \t]*\[|\Z)", part)
    inline = match is None
    if inline:
        match = re.search(rf"(?m)^[ \t]*{field}[ \t]*=[ \t]*\{{[^\n]*$\n?", part)
    document: Any = _alone(match[0]) if match is not None else None
    if match is None or document is None:
        return ""
    _change_table(document[field] if inline else document["cards"][field], value)
    return part[: match.start()] + tomlkit.dumps(document) + part[match.end() :]


def _alone(part: str) -> tomlkit.TOMLDocument | None:
    """One card's lines as a document; None where they are none by themselves."""
    try:
        return tomlkit.parse(part)
    except TOMLKitError:
        return None


def _with_changes_whole(text: str, changes: Mapping[str, Mapping[str, object]]) -> str:
    document = tomlkit.parse(text)
    for name, values in changes.items():
        table = _card(document, name)
        for field, value in values.items():
            _put(table, field, value)
    return tomlkit.dumps(document)


def without_card(text: str, card_id: str) -> str:
    """The text without one card.

    Raises:
        InputError: Where no such card stands in the text.
    """
    document = tomlkit.parse(in_blocks(text))
    _card(document, card_id)
    cards = document["cards"]
    cards.pop(next(at for at, table in enumerate(cards) if table.get("id") == card_id))
    if not cards:
        document.remove("cards")
    return tomlkit.dumps(document)


def _card(document: tomlkit.TOMLDocument, card_id: str) -> Table:
    cards = document.get("cards")
    if isinstance(cards, AoT):
        for table in cards:
            if table.get("id") == card_id:
                found: Table = table
                return found
    raise InputError(f"The script has no card {card_id}.", "It may have been renamed in an editor meanwhile.")


def _default(field: str) -> object:
    for part in fields(TaskCard):
        if part.name == field:
            return part.default_factory() if part.default_factory is not MISSING else part.default
    raise InputError(f"A card has no field {field}.")


def _change_table(table: Table | InlineTable, value: Mapping[str, object]) -> None:
    for key in [key for key in table if key not in value]:
        del table[key]
    for key, item in value.items():
        if _plain(table.get(key)) != item:
            table[key] = _item(item)


def _table(card: TaskCard) -> Table:
    """A card as a table: plain fields first, then those that are tables themselves."""
    table = tomlkit.table()
    later = []
    for part in fields(card):
        value = getattr(card, part.name)
        default = part.default_factory() if part.default_factory is not MISSING else part.default
        if value == default:
            continue
        if isinstance(value, dict) and part.name != "benchmark_seconds":
            later.append((part.name, value))
        else:
            table.add(part.name, _item(value, inline=True))
    for name, value in later:
        table.add(name, _item(value))
    return table


def _item(value: object, *, inline: bool = False) -> Any:
    if isinstance(value, (tuple, list)):
        array = tomlkit.array()
        array.extend(value)
        return array.multiline(len(str(value)) > 90)
    if isinstance(value, Mapping):
        table: Any = tomlkit.inline_table() if inline else tomlkit.table()
        for key, item in value.items():
            table.add(key, _item(item))
        return table
    if isinstance(value, float) and value.is_integer():
        value = int(value)
    return tomlkit.item(value)


def _plain(item: Any) -> object:
    raw = item.unwrap() if hasattr(item, "unwrap") else item
    return tuple(raw) if isinstance(raw, list) else raw


def _differing(old: TaskCard, new: TaskCard) -> dict[str, object]:
    """The fields in which two cards differ, as the newer one has them."""
    pairs = ((part.name, getattr(old, part.name), getattr(new, part.name)) for part in fields(new))
    return {name: value for name, before, value in pairs if before != value}
