"""Sentences of documents: a catalogue's messages with numbers in them that keep their ids."""

from collections.abc import Mapping
from string import Formatter

from fresh_chair.core.words.catalogue import Words
from fresh_chair.tell.document.model import Look, Run, Text

Value = str | int | Run | Text


class Prose:
    """Says sentences in one language, as texts whose values may be numbers with ids, or strong.

    Args:
        words: The catalogue.
    """

    def __init__(self, words: Words) -> None:
        self.words = words

    def say(self, message: str, **values: Value) -> Text:
        """A sentence with its values.

        >>> from fresh_chair.core.words.catalogue import ENGLISH
        >>> said = Prose(ENGLISH).say("met by {rate}", rate=Run("3 of 5", id="finding/F2/A"))
        >>> [(span.text, span.id) for span in said]
        [('met by ', ''), ('3 of 5', 'finding/F2/A')]
        """
        return filled(self.words.gettext(message), values)

    def count(self, one: str, many: str, count: int, **values: Value) -> Text:
        """A sentence that a number decides, with the number as `count`."""
        return filled(self.words.ngettext(one, many, count), {"count": count, **values})


def filled(message: str, values: Mapping[str, Value]) -> Text:
    """A message with values where its names stand."""
    spans: list[Run] = []
    for literal, name, _, _ in Formatter().parse(message):
        if literal:
            spans.append(Run(literal))
        if name is not None:
            spans += text_of(values[name])
    return tuple(spans)


def text_of(value: Value, look: Look = "plain") -> Text:
    """A value as a text."""
    if isinstance(value, tuple):
        return value
    return (value,) if isinstance(value, Run) else (Run(str(value), look),)


def joined(texts: list[Text], sign: str = "; ") -> Text:
    """Texts, one after the other; empty ones are left out."""
    spans: list[Run] = []
    for text in filter(None, texts):
        spans += (Run(sign), *text) if spans else text
    return tuple(spans)
