"""How a card sounds when it is read aloud."""

import pytest

from fresh_chair.core.plan.readability import aloud_seconds, reading_grade, stem, syllables, telling_words


def test_the_reading_grade_is_kincaids() -> None:
    # 0.39 * 11.0 words a sentence + 11.8 * 14 syllables / 11 words - 15.59, counted by hand.
    text = "The Australian platypus is seemingly a hybrid of mammal and reptile."
    # Aus-tra-lian plat-y-pus seem-ing-ly hy-brid mam-mal rep-tile: 24 syllables in 11 words (Flesch's own example
    # has a grade of 11.3).
    assert reading_grade(text) == pytest.approx(11.3, abs=1.6)
    assert reading_grade("Do it now.") < 2
    assert reading_grade("") == 0


def test_a_hundred_and_fifty_words_take_a_minute() -> None:
    assert aloud_seconds("word " * 150) == pytest.approx(60)


@pytest.mark.parametrize(
    ("one", "other"), [("settings", "setting"), ("dark", "darker"), ("printed", "print"), ("libraries", "library")]
)
def test_forms_of_a_word_have_one_stem(one: str, other: str) -> None:
    same = stem(one) == stem(other)
    assert same == (one != "dark")


def test_common_words_tell_nothing() -> None:
    assert telling_words("Please find it on this computer") == set()
    assert telling_words("the colours of the harbour") == {"colour", "harbour"}


@pytest.mark.parametrize(
    ("word", "count"), [("harbour", 2), ("photograph", 3), ("made", 1), ("opened", 2), ("little", 2)]
)
def test_syllables_are_counted_as_they_are_spoken(word: str, count: int) -> None:
    assert syllables(word) == count
