"""The authors of entries: the moderator, and second observers by their names."""

import unicodedata

MODERATOR = "moderator"


def is_observer_name(name: object) -> bool:
    """Whether a second observer may log under a name: short, printable, and not the moderator's."""
    return (
        isinstance(name, str)
        and 0 < len(name.strip()) <= 40
        and name == name.strip()
        and name.isprintable()
        and unicodedata.normalize("NFKC", name).casefold() != MODERATOR
    )
