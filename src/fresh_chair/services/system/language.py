"""Catalogues of sentences in other languages: the user's own, or the program's."""

import gettext
import re
import struct
from collections.abc import Callable
from datetime import date
from importlib.resources import files
from importlib.resources.abc import Traversable
from io import BytesIO
from pathlib import Path
from string import Formatter

from platformdirs import user_data_path

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.catalogue import ENGLISH, Words

_DOMAIN = "fresh_chair"
_OWN = files("fresh_chair") / "locale"
# A catalogue of every sentence is a tenth of that; a larger file is none, and would be read for minutes.
_MOST_BYTES = 2_000_000
# Everything that a malformed catalogue makes its readers raise.
_MALFORMED = (OSError, ValueError, LookupError, ArithmeticError, TypeError, AttributeError, SyntaxError, struct.error)
_CODE = re.compile(r"[A-Za-z]{2,3}([_-][A-Za-z0-9]{2,8})?")


def words_in(language: str, folder: Path | None = None) -> Words:
    """The sentences in a language; those that a catalogue lacks, or has with other values in them, in English.

    Args:
        language: Its code, such as en, de or pt_BR.
        folder: Where catalogues lie, as LANGUAGE/LC_MESSAGES/fresh_chair.po or .mo; by default the folder `locale` in
            the user's data folder, then the program's own.

    Raises:
        InputError: Where there is none for it, or it cannot be read.
    """
    if language in ("", "en"):
        return ENGLISH
    shown = legible(clipped(language, 20))
    folders: list[Traversable] = [user_data_path("fresh-chair") / "locale", _OWN] if folder is None else [folder]
    code = language.replace("-", "_")
    for place in folders if _CODE.fullmatch(language) else ():
        try:
            found = _catalogue(place / code / "LC_MESSAGES")
        except (*_MALFORMED, RecursionError) as problem:
            raise InputError(f"The sentences in {shown} cannot be read.", "Nothing was written.") from problem
        if found is not None:
            return _checked(found, code)
    there = ", ".join(languages_there())
    raise InputError(f"There are no sentences in {shown}.", f"Nothing was written. These are there: {there}.")


def languages_there() -> list[str]:
    """The codes of all languages that there are sentences in: English, the program's own, the user's."""
    found = {"en"}
    places: list[Traversable] = [user_data_path("fresh-chair") / "locale", _OWN]
    for place in places:
        if place.is_dir():
            found |= {each.name for each in place.iterdir() if _files(each / "LC_MESSAGES")}
    return sorted(found, key=lambda code: (code != "en", code))


def _files(place: Traversable) -> list[Traversable]:
    """The catalogue of a folder as text, compiled, or both; empty where there is none."""
    return [file for file in (place / f"{_DOMAIN}.po", place / f"{_DOMAIN}.mo") if file.is_file()]


def _read(file: Traversable) -> bytes:
    with file.open("rb") as opened:
        data = opened.read(_MOST_BYTES + 1)
    if len(data) > _MOST_BYTES:
        raise ValueError("too large for a catalogue")
    return data


def _catalogue(place: Traversable) -> gettext.NullTranslations | None:
    """The catalogue in a folder, as text or compiled; None where there is none."""
    there = _files(place)
    if not there:
        return None
    data = _read(there[0])
    if there[0].name.endswith(".po"):
        from babel.messages.mofile import write_mo
        from babel.messages.pofile import read_po

        compiled = BytesIO()
        write_mo(compiled, read_po(BytesIO(data), abort_invalid=True))
        data = compiled.getvalue()
    return gettext.GNUTranslations(BytesIO(data))


def _checked(found: gettext.NullTranslations, code: str) -> Words:
    """A catalogue's sentences, with the English one wherever a translation could not take the values."""

    def one(message: str) -> str:
        try:
            said = found.gettext(message)
        except (*_MALFORMED, RecursionError):
            return message
        return said if _values(said) == _values(message) else message

    def one_of(single: str, many: str, count: int) -> str:
        english = single if count == 1 else many
        try:
            said = found.ngettext(single, many, count)
        except (*_MALFORMED, RecursionError):
            # The rule for the plural is the catalogue's own, and may be none for this number.
            return english
        # One of a thing may be told without its number.
        return said if _values(said) in (_values(english), _values(many)) else english

    decimal, day = _signs(code)
    return Words(one, one_of, code.replace("_", "-"), decimal, day)


def _signs(code: str) -> tuple[str, Callable[[str], str]]:
    """The sign before parts of one, and how a day is written, where the language is one that is known."""
    from babel import Locale, UnknownLocaleError
    from babel.dates import format_date
    from babel.numbers import get_decimal_symbol

    try:
        locale = Locale.parse(code)
    except (UnknownLocaleError, ValueError):
        return ".", lambda iso: iso
    return get_decimal_symbol(locale), lambda iso: format_date(date.fromisoformat(iso), "long", locale=locale)


def _values(message: str) -> tuple[set[str], set[str], bool] | None:
    """The names of values in a message, in braces and after percent signs; None where it cannot be filled in."""
    try:
        braces = {name for _, name, _, _ in Formatter().parse(message) if name is not None}
    except ValueError:
        return None
    percents = set(re.findall(r"%\((\w+)\)s", message))
    return braces, percents, "%" in re.sub(r"%\(\w+\)s|%%", "", message)
