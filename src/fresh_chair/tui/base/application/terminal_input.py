"""The bytes of a terminal as text that the library's parser takes whole; pure."""

import re
from codecs import getincrementaldecoder

_ESC = "\x1b"
# Escape as a sequence of its own, which no letter after it can be taken to belong to.
ESCAPE_KEY = "\x1b[27u"
_PASTE_BEGINS, _PASTE_ENDS = "\x1b[200~", "\x1b[201~"
# What may follow Escape in one key or one report of the terminal: CSI, SS3, and the answers to questions (OSC, DCS).
_SEQUENCE = re.compile(
    r"\x1b(?:\[M[\s\S]{3}|\[[0-9;:<=>?]*[ -/]*[@-~]|O[A-Za-z]|\][0-9]+;[^\x07\x1b]*(?:\x07|\x1b\\)"
    r"|P[0-9;>=?!$+|][^\x1b]*\x1b\\)"
)
# The beginning of one, at the end of the bytes that are there.
_BEGUN = re.compile(
    r"\x1b(?:|\[|\[M[\s\S]{0,2}|\[[0-9;:<=>?]*[ -/]*|O|\](?:[0-9]+(?:;[^\x07\x1b]*\x1b?)?)?"
    r"|P(?:[0-9;>=?!$+|][^\x1b]*\x1b?)?)\Z"
)
# So much of an answer that never ends is kept back, and no more.
_MOST_BEGUN = 4096
# Acts on a terminal, or on the parser, and is no text in a paste: controls but Tab and line ends, marks of direction.
_NO_TEXT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069]")


class TerminalInput:
    """Mends the bytes of a terminal: those that are no UTF-8, Escape before a letter, controls in a paste."""

    def __init__(self) -> None:
        self._decode = getincrementaldecoder("utf-8")("replace").decode
        self._kept = ""
        self._pasting = False

    @property
    def waiting(self) -> bool:
        """True while the last bytes may be the beginning of a sequence."""
        return bool(self._kept)

    def feed(self, sent: bytes, *, end: bool = False) -> str:
        """The text of some bytes, together with the bytes before them that were kept back.

        Args:
            sent: What came.
            end: Nothing follows for now: what was begun is given out as it is.
        """
        text = self._kept + self._decode(sent)
        self._kept = ""
        parts: list[str] = []
        while text:
            taken, text = self._pasted(text, end) if self._pasting else self._typed(text, end)
            if not taken and self._kept:
                break
            parts.append(taken)
        return "".join(parts)

    def _typed(self, text: str, end: bool) -> tuple[str, str]:
        """Text up to the next Escape, or the sequence that begins with it; and the rest."""
        at = text.find(_ESC)
        if at:
            return (text, "") if at < 0 else (text[:at], text[at:])
        found = _SEQUENCE.match(text)
        if found:
            self._pasting = found.group() == _PASTE_BEGINS
            return found.group(), text[found.end() :]
        if not end and len(text) < _MOST_BEGUN and _BEGUN.match(text):
            self._kept = text
            return "", ""
        return ESCAPE_KEY, text[1:]

    def _pasted(self, text: str, end: bool) -> tuple[str, str]:
        """A paste up to its end, without controls of the terminal."""
        before, marker, rest = text.partition(_PASTE_ENDS)
        if marker:
            self._pasting = False
            return _NO_TEXT.sub("", before) + marker, rest
        # The end's own first letters may be the last that came.
        for length in range(len(_PASTE_ENDS) - 1, 0, -1):
            if not end and text.endswith(_PASTE_ENDS[:length]):
                self._kept = text[-length:]
                return _NO_TEXT.sub("", text[:-length]), ""
        return _NO_TEXT.sub("", text), ""
