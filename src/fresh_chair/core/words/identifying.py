"""Words that may identify a person: addresses, telephone numbers, names after a form of address, home folders."""

import re

_PATTERNS = (
    re.compile(r"[\w.+-]+@[\w-]+\.[\w.]+"),
    re.compile(r"(?<![\d.])(?:\+|00)?\d[\d /()-]{6,}\d(?![\d.])"),
    re.compile(r"\b(?:Mr|Mrs|Ms|Miss|Dr|Prof|Herr|Frau|Señora?|Mme|Mlle)\.? [A-ZÀ-Þ]\w+"),
    re.compile(r"(?:/home/|/Users/|C:\\Users\\)[\w.-]+"),
    re.compile(r"\b[A-ZÀ-Þ]\w+(?:straße|strasse| Street| Road| Lane| Avenue) \d+"),
)


def identifying_words(text: str) -> str:
    """The first words of a text that may identify a person; empty for none. It finds forms, and no meaning.

    >>> identifying_words("asks for Mrs Ashdown"), identifying_words("at 12:30 on 2026-11-20, laptop 11")
    ('Mrs Ashdown', '')
    """
    for pattern in _PATTERNS:
        for match in pattern.finditer(text):
            found = match[0].strip()
            # A day is written in digits and hyphens too.
            if not re.fullmatch(r"\d{4}-\d{2}-\d{2}([ T/].*)?", found):
                return found
    return ""
