"""Catalogues of sentences in other languages, loaded from the program's own folder or one that is named."""

import gettext
from importlib.resources import files
from pathlib import Path

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.catalogue import ENGLISH, Words

_DOMAIN = "fresh_chair"


def words_in(language: str, folder: Path | None = None) -> Words:
    """The sentences in a language.

    Args:
        language: Its code, such as en, de or pt_BR.
        folder: Where catalogues lie, as LANGUAGE/LC_MESSAGES/fresh_chair.mo; the program's own folder by default.

    Raises:
        InputError: Where there is none for it, or it cannot be read.
    """
    if language in ("", "en"):
        return ENGLISH
    code = language.replace("-", "_")
    shown = legible(clipped(language, 20))
    try:
        found = gettext.translation(_DOMAIN, str(folder or files("fresh_chair") / "locale"), [code])
    except FileNotFoundError:
        raise InputError(f"There are no sentences in {shown}.", "Nothing was written. English is there: en.") from None
    except (OSError, ValueError, UnicodeDecodeError) as problem:
        raise InputError(f"The sentences in {shown} cannot be read.", "Nothing was written.") from problem
    return Words(found.gettext, found.ngettext, code.replace("_", "-"))
