"""Text from chairs, files and people, made safe to show: law 7."""

import re
import unicodedata
from collections.abc import Sequence

_VISIBLE_CONTROLS = {code: chr(0x2400 + code) for code in range(0x20)} | {0x7F: "␡"}
_HARMLESS = {"\n", "\t"}
_JOINERS = {"\u200c", "\u200d", "\u00ad"}
# Invisible letters that reorder or hide what stands beside them, and so can make a line say what it does not.
_HIDING = {*range(0x200B, 0x2010), *range(0x202A, 0x202F), *range(0x2060, 0x2070), 0xFEFF, 0x061C, 0x2028, 0x2029}


def legible(text: str) -> str:
    """One line of text in which nothing can act: controls become visible signs, line ends become spaces.

    >>> legible("plain\\x1b[31m red")
    'plain␛[31m red'
    """
    return "".join(_shown(letter) for letter in text.replace("\r\n", "\n").replace("\n", " ").replace("\t", " "))


def legible_lines(text: str) -> str:
    """As `legible`, but line ends and tabs stay."""
    return "".join(letter if letter in _HARMLESS else _shown(letter) for letter in text.replace("\r\n", "\n"))


def harmless(text: str) -> str:
    """Text as it may be stored: words, line ends and tabs stay as they are, and nothing in it can act on a terminal.

    Letters that join or part others stay, because some scripts are written with them; what reorders a line does not.

    >>> harmless("two\\nlines"), harmless("\\x1b]0;title\\x07")
    ('two\\nlines', '␛]0;title␇')
    """
    if text.isprintable():
        return text
    return "".join(letter if letter in _HARMLESS or letter in _JOINERS else _shown(letter) for letter in text)


def count_of(number: int, one: str, many: str = "") -> str:
    """A number with its noun, in the singular where it is one.

    >>> count_of(1, "sitting"), count_of(2, "person", "people")
    ('1 sitting', '2 people')
    """
    return f"{number} {one if number == 1 else many or f'{one}s'}"


# Words between quotation marks; a mark that is never closed holds to the end.
_SPOKEN = re.compile('“[^”]*(?:”|$)|„[^“”]*(?:[“”]|$)|«[^»]*(?:»|$)|"[^"]*(?:"|$)')

LEFT_OUT = "[…]"


def has_spoken(words: str) -> bool:
    """Whether words hold some between quotation marks: speech."""
    return _SPOKEN.search(words) is not None


def without_spoken(words: str) -> str:
    """Words with those left out that stand between quotation marks.

    >>> without_spoken('“where is it”, then looks at the bar')
    '[…], then looks at the bar'
    """
    return _SPOKEN.sub(LEFT_OUT, words)


# Spoken with a vowel first.
_AN = re.compile(r"\W*(?:[aio]|e(?!u)|u(?!s|ni|til)|hour|honest)", re.IGNORECASE)


def with_article(noun: str) -> str:
    """A noun with the article that is said before it.

    >>> with_article("install"), with_article("card"), with_article("user")
    ('an install', 'a card', 'a user')
    """
    return f"{'an' if _AN.match(noun) else 'a'} {noun}"


def condition_of(words: str) -> str:
    """A condition as it stands after “when”, however it was typed.

    >>> condition_of("when the final release is out"), condition_of("the final release is out")
    ('the final release is out', 'the final release is out')
    """
    return re.sub(r"^(?:when|if|once)\s+", "", words.strip(), flags=re.IGNORECASE)


def listed(problems: Sequence[str], most: int = 40) -> str:
    """Problems a line each, indented; how many more there are where they are too many to read."""
    more = [f"and {len(problems) - most} more"] if len(problems) > most else []
    return "\n".join(f"  {legible(each)}" for each in [*problems[:most], *more])


def in_short(sentences: Sequence[str], most: int = 20) -> tuple[str, ...]:
    """The first of some sentences about entries, and how many more there are."""
    more = len(sentences) - most
    return (
        *sentences[:most],
        *([f"and {count_of(more, 'more entry', 'more entries')} like these"] if more > 0 else []),
    )


def clipped(text: str, width: int) -> str:
    """The text in at most `width` letters, with an ellipsis where something was left out."""
    return text if len(text) <= width else text[: max(width - 1, 0)] + "…"


def _shown(letter: str) -> str:
    code = ord(letter)
    if code in _VISIBLE_CONTROLS:
        return _VISIBLE_CONTROLS[code]
    if code in _HIDING or unicodedata.category(letter) in {"Cc", "Cs", "Cf"}:
        return "�"
    return letter


def looks_like_formula(text: str) -> bool:
    """True where a spreadsheet may take the text for something to work out."""
    # It may fold a wide sign to the plain one before it looks.
    first = unicodedata.normalize("NFKC", text.strip("\ufffd \u200c\u200d\u00ad'"))[:1]
    return first in ("=", "+", "-", "@", "|", "%")


def slug(text: str) -> str:
    """A text as a part of an id, or of a file's name: lower letters, digits and hyphens.

    >>> slug("Who fared better?"), slug("§")
    ('who-fared-better', 'x')
    """
    plain = "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in text.lower())
    return "-".join(filter(None, plain.split("-"))) or "x"
