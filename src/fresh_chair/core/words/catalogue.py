"""Sentences by their English; another language is data, a gettext catalogue that services load and hand down."""

from collections.abc import Callable


class Words:
    """Says sentences in one language.

    A message is its English, with names in braces where values stand; a catalogue holds the same in another language,
    with the same names in any order.

    Args:
        gettext: The message in that language.
        ngettext: Likewise, of two messages the one that a number takes.
        language: Its code, such as en or pt-BR.
    """

    def __init__(
        self,
        gettext: Callable[[str], str] = lambda message: message,
        ngettext: Callable[[str, str, int], str] = lambda one, many, count: one if count == 1 else many,
        language: str = "en",
    ) -> None:
        self.language = language
        self.gettext = gettext
        self.ngettext = ngettext

    def say(self, message: str, **values: object) -> str:
        """A sentence with its values.

        >>> Words().say("Completion: better at {chair}.", chair="Saltmarsh 9")
        'Completion: better at Saltmarsh 9.'
        """
        return self.gettext(message).format(**values)

    def count(self, one: str, many: str, count: int, **values: object) -> str:
        """A sentence that a number decides, with the number as `count`.

        >>> Words().count("{count} person", "{count} people", 3)
        '3 people'
        """
        return self.ngettext(one, many, count).format(count=count, **values)

    def listed(self, names: list[str]) -> str:
        """Several names as they are spoken.

        >>> Words().listed(["A", "B", "C"])
        'A, B and C'
        """
        if len(names) == 1:
            return names[0]
        return self.say("{first} and {last}", first=", ".join(names[:-1]), last=names[-1])


ENGLISH = Words()
