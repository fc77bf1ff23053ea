"""Catalogues of sentences in other languages: the user's own, or the program's."""

import gettext
import re
from importlib.resources import files
from pathlib import Path
from string import Formatter

from platformdirs import user_data_path

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.catalogue import ENGLISH, Words

_DOMAIN = "fresh_chair"
_OWN = files("fresh_chair") / "locale"
_CODE = re.compile(r"[A-Za-z]{2,3}([_-][A-Za-z0-9]{2,8})?")


def words_in(language: str, folder: Path | None = None) -> Words:
    """The sentences in a language; those that a catalogue lacks, or has with other values in them, in English.

    Args:
        language: Its code, such as en, de or pt_BR.
        folder: Where catalogues lie, as LANGUAGE/LC_MESSAGES/fresh_chair.mo; by default the folder `locale` in the
            user's data folder, then the program's own.

    Raises:
        InputError: Where there is none for it, or it cannot be read.
    """
    if language in ("", "en"):
        return ENGLISH
    shown = legible(clipped(language, 20))
    folders = (
        [user_data_path("fresh-chair") / "locale", files("fresh_chair") / "locale"] if folder is None else [folder]
    )
    code = language.replace("-", "_")
    for place in folders if _CODE.fullmatch(language) else ():
        try:
            found = gettext.translation(_DOMAIN, str(place), [code])
        except FileNotFoundError:
            continue
        except (OSError, ValueError, UnicodeDecodeError) as problem:
            raise InputError(f"The sentences in {shown} cannot be read.", "Nothing was written.") from problem
        return _checked(found, code.replace("_", "-"))
    raise InputError(f"There are no sentences in {shown}.", "Nothing was written. English is there: en.")


def _checked(found: gettext.NullTranslations, language: str) -> Words:
    """A catalogue's sentences, with the English one wherever a translation could not take the values."""

    def one(message: str) -> str:
        said = found.gettext(message)
        return said if _values(said) == _values(message) else message

    def one_of(single: str, many: str, count: int) -> str:
        said, english = found.ngettext(single, many, count), single if count == 1 else many
        return said if _values(said) == _values(many) else english

    return Words(one, one_of, language)


def _values(message: str) -> tuple[set[str], set[str], bool] | None:
    """The names of values in a message, in braces and after percent signs; None where it cannot be filled in."""
    try:
        braces = {name for _, name, _, _ in Formatter().parse(message) if name is not None}
    except ValueError:
        return None
    percents = set(re.findall(r"%\((\w+)\)s", message))
    return braces, percents, "%" in re.sub(r"%\(\w+\)s|%%", "", message)
