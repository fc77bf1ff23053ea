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
        decimal: The sign between whole numbers and parts of one.
        day: A day such as 2026-11-20 as it is written.
    """

    def __init__(
        self,
        gettext: Callable[[str], str] = lambda message: message,
        ngettext: Callable[[str, str, int], str] = lambda one, many, count: one if count == 1 else many,
        language: str = "en",
        decimal: str = ".",
        day: Callable[[str], str] = lambda iso: iso,
    ) -> None:
        self.language = language
        self.gettext = gettext
        self.ngettext = ngettext
        self.decimal = decimal
        self.day = day

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

    def number(self, value: float, shape: str = "g") -> str:
        """A number as it is written.

        >>> Words(decimal=",").number(1.25, ".1f")
        '1,2'
        """
        return f"{value:{shape}}".replace(".", self.decimal)

    def interval(
        self, low: float | None, high: float | None, shape: str = ".0f", *, of: float = 1.0, most: float = float("inf")
    ) -> str:
        """An interval as it is said, by the rules of `interval_words`.

        >>> Words().interval(0.0945, 0.9055, of=100), Words().interval(30.0, None)
        ('9 to 91', '30 to open')
        """
        if high is None:
            upper = self.say("open")
        else:
            upper = self.say("hours") if high >= most else self.number(of * high, shape)
        return self.say("{low} to {high}", low=self.number(of * (low or 0.0), shape), high=upper)

    def listed(self, names: list[str]) -> str:
        """Several names as they are spoken.

        >>> Words().listed(["A", "B", "C"])
        'A, B and C'
        """
        if len(names) == 1:
            return names[0]
        return self.say("{first} and {last}", first=", ".join(names[:-1]), last=names[-1])


ENGLISH = Words()
