"""The bytes of a terminal: none of them ends the reader, and none acts on it from within a paste."""

import random

from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.tui.base.application.terminal_input import ESCAPE_KEY, TerminalInput


def whole(*parts: bytes) -> str:
    mended = TerminalInput()
    return "".join(mended.feed(part) for part in parts) + mended.feed(b"", end=True)


def test_bytes_that_are_no_utf8_become_a_visible_sign() -> None:
    assert whole(b"caf\xe9 \x9b \xff") == "caf\ufffd \ufffd \ufffd"
    assert whole("é".encode()[:1], "é".encode()[1:]) == "é"


def test_escape_before_a_letter_is_a_key_of_its_own_and_a_sequence_stays_whole() -> None:
    assert whole(b"\x1bs") == f"{ESCAPE_KEY}s"
    assert whole(b"\x1b\r") == f"{ESCAPE_KEY}\r"
    assert whole(b"\x1b", b"s") == f"{ESCAPE_KEY}s"
    for sequence in (b"\x1b[A", b"\x1bOP", b"\x1b[1;5D", b"\x1b[<0;12;7M", b"\x1b[M !!", b"\x1b[?2026;1$y"):
        assert whole(sequence) == sequence.decode()
        assert whole(sequence[:2], sequence[2:]) == sequence.decode()


def test_a_paste_keeps_its_lines_and_loses_what_acts_on_a_terminal() -> None:
    pasted = b"\x1b[200~one\x1b[31m\ntwo\xc2\x9b\x1b \xe2\x80\xae3\x1b[201~x"
    assert whole(pasted) == "\x1b[200~one[31m\ntwo 3\x1b[201~x"
    for at in range(1, len(pasted)):
        assert whole(pasted[:at], pasted[at:]) == whole(pasted)


@given(st.lists(st.binary(max_size=40), max_size=6))
def test_however_bytes_are_parted_the_text_is_the_same_but_for_sequences_left_open(parts: list[bytes]) -> None:
    mended = TerminalInput()
    text = "".join(mended.feed(part) for part in parts) + mended.feed(b"", end=True)
    assert text.encode("utf-8").decode("utf-8") == text
    assert not mended.waiting


def test_printable_text_passes_unchanged() -> None:
    dice = random.Random(1)
    text = "".join(chr(dice.choice([*range(32, 127), 228, 8364, 26085])) for _ in range(2000))
    assert whole(text.encode()) == text
