"""The language of checks: what it reads, what it refuses with a reason, and what a chair's answer means."""

import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.checks.meaning import Found, Witnessed, judged, matches, overall, plain_value, quoted
from fresh_chair.core.checks.parser import at_letters, read_check
from fresh_chair.core.codec import Unfit, built
from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.text.script import cards_of

C, X, T, B = Witnessed.CONFIRMED, Witnessed.CONTRADICTED, Witnessed.CANNOT_TELL, Witnessed.SO_BEFORE


def says(line: str, after: Found, before: Found | None = None) -> Witnessed:
    check = read_check(line)
    key = check.any_of[0].ask.text
    return judged(check, {key: after}, None if before is None else {key: before}).witnessed


@pytest.mark.parametrize(
    "line",
    [
        "setting gsettings org.example.look theme changed to 'a dark one'",
        "setting gsettings org.example.panel:/org/example/panel/1/ size above 30",
        "setting dconf /org/example/look/theme differs from before",
        "setting xfconf xsettings /Net/ThemeName contains dark",
        "setting ini ~/.config/examplerc Look Theme is night",
        "package paint-box is there",
        "program 'A long name' is gone",
        "file ~/Documents/a.odt changed",
        "file '/tmp/with a space' opens",
        "default for web is not x.desktop",
        "default for image/png changed",
        "network any is up",
        'network "Captain\'s" is remembered',
        "updates pending below 1",
        "user mara is there",
        "process quill runs",
        "count of printers above 0",
        "command 'uname -r' matches '6.*'",
        "at A, C: package paint-box is there | package other is there",
    ],
)
def test_every_form_is_read_and_is_called_by_what_it_asks(line: str) -> None:
    check = read_check(line)
    assert all(each.ask.text for each in check.any_of)
    assert check.text == line


@pytest.mark.parametrize(
    ("line", "reason"),
    [
        ("", "nothing stands before or after"),
        ("colour is blue", "“colour” is nothing that can be asked"),
        ("setting registry a b is 1", "a setting is of one of: gsettings, dconf, xfconf, ini"),
        ("setting gsettings org.x", "is named by SCHEMA KEY"),
        ("setting gsettings 'org x' key is 1", "is no schema"),
        ("setting xfconf ../../etc /p is 1", "is no channel"),
        ("setting dconf org/x is 1", "does not begin with /"),
        ("setting ini relative/path G K is 1", "neither below the home folder"),
        ("package", "needs to be told which"),
        ("package -rf is there", "begins with -"),
        ("package paint-box", "nothing after “package paint-box” is no condition"),
        ("package paint-box is quite there", "is no condition"),
        ("process quill is up", "process does not take “is up”; it takes: runs, is gone"),
        ("updates above many", "“many” is no number"),
        ("count of stars above 1", "cannot be counted"),
        ("default for luck is x", "is no purpose"),
        ("file notes.txt is there", "neither below the home folder"),
        ("package 'paint-box is there", "a quotation mark has no partner"),
        ("at a: package x is there", "a chair's letter is one of A to Z"),
        ("package x is there |", "nothing stands before or after a |"),
        ("package x\nis there", "stands on one line"),
        ("package " + "x" * 700 + " is there", "at most 600"),
    ],
)
def test_what_is_wrong_with_a_line_is_said(line: str, reason: str) -> None:
    with pytest.raises(ValueError, match="(?s)" + reason.replace("|", r"\|").replace("(", r"\(")):
        read_check(line)


def test_a_script_says_card_and_line_of_a_bad_check() -> None:
    text = 'script = 1\n[[cards]]\nid = "dark"\ntitle = "t"\narea = "looks"\ngoal = "g"\nsuccess = "s"\n'
    text += "limit_seconds = 9\n"
    assert cards_of(text + 'checks = ["package x is there"]\n', name="s")[0].checks == ("package x is there",)
    with pytest.raises(InputError, match=r"“colour” is nothing that can be asked.*@ dark\.checks\[2\]"):
        cards_of(text + 'checks = ["package x is there", "colour is blue"]\n', name="s")
    with pytest.raises(Unfit, match=r"dark\.checks\[1\]"):
        built(TaskCard, {"id": "dark", "title": "t", "area": "looks", "goal": "g", "success": "s", "limit_seconds": 9,
                         "checks": ["colour is blue"]}, "")  # fmt: skip


@pytest.mark.parametrize(
    ("line", "after", "before", "verdict"),
    [
        # has: a state; was so before where it was.
        ("package x is there", Found("1.0"), None, C),
        ("package x is there", Found(None), None, X),
        ("package x is there", Found("1.0"), Found("1.0"), B),
        ("package x is there", Found("1.0"), Found(None), C),
        ("package x is there", Found(why="dpkg is not there"), Found(None), T),
        ("package x is gone", Found(None), Found("1.0"), C),
        ("package x is gone", Found(None), Found(None), B),
        ("setting dconf /a is night", Found("'night'"), Found("'day'"), C),
        ("setting dconf /a is night", Found("'day'"), Found("'day'"), X),
        ("setting dconf /a is not night", Found(None), Found("'night'"), C),
        # changed to: an event; without a before nobody can tell.
        ("setting dconf /a changed to night", Found("'night'"), None, T),
        ("setting dconf /a changed to night", Found("'night'"), Found("'day'"), C),
        ("setting dconf /a changed to night", Found("'night'"), Found("'night'"), B),
        ("setting dconf /a changed to night", Found("'dusk'"), Found("'day'"), X),
        ("setting dconf /a changed", Found("1"), Found("1"), X),
        ("setting dconf /a differs from before", Found("2"), Found("1"), C),
        ("setting dconf /a changed", Found("2"), None, T),
        ("setting dconf /a changed", Found("2"), Found(why="no"), T),
        ("setting dconf /a above 10", Found("uint32 12"), None, C),
        ("setting dconf /a above 10", Found("many"), None, T),
        ("setting dconf /a contains DARK", Found("'Some-dark'"), None, C),
        ("updates pending below 1", Found("0"), None, C),
        ("updates pending below 1", Found("3"), None, X),
        ("network Guest is up", Found("remembered"), None, X),
        ("network Guest is remembered", Found("remembered"), None, C),
        ("network Guest is remembered", Found("up"), None, C),
        ("process quill runs", Found(None), None, X),
        ("file ~/a opens", Found("opens with x.desktop (a/b)"), None, C),
        ("file ~/a opens", Found("nothing opens a/b"), None, X),
    ],
)
def test_what_a_chair_says_to_a_check(line: str, after: Found, before: Found | None, verdict: Witnessed) -> None:
    assert says(line, after, before) is verdict


def test_one_alternative_is_enough_and_one_that_cannot_be_read_takes_nothing_away() -> None:
    line = read_check("setting gsettings a b is 1 | setting dconf /c is 1")
    first, second = (check.ask.text for check in line.any_of)
    assert judged(line, {first: Found(why="no"), second: Found("1")}).witnessed is C
    assert judged(line, {first: Found("2"), second: Found("1")}).witnessed is C
    assert judged(line, {first: Found(why="no"), second: Found("2")}).witnessed is X
    said = judged(line, {first: Found(why="gsettings is not there"), second: Found(why="no")})
    assert said.witnessed is T
    assert "gsettings is not there" in said.evidence


def test_a_card_is_confirmed_only_where_every_line_is() -> None:
    lines = [read_check("package x is there"), read_check("package y is there")]

    def of(x: Found, y: Found) -> Witnessed:
        return overall(judged(line, {"package x": x, "package y": y}) for line in lines)

    assert of(Found("1"), Found("1")) is C
    assert of(Found("1"), Found(None)) is X
    assert of(Found("1"), Found(why="no")) is T
    assert overall([]) is T


@given(st.text("ab*", max_size=12), st.text("ab", max_size=30))
def test_a_pattern_matches_as_its_stars_say(pattern: str, text: str) -> None:
    import re

    meant = re.fullmatch(".*".join(map(re.escape, pattern.split("*"))), text) is not None
    assert matches(pattern, text) is meant


def test_no_pattern_takes_long() -> None:
    began = time.monotonic()
    assert not matches("*a" * 300 + "b", "a" * 100_000)
    # Not a benchmark: a backtracking matcher would not end within a lifetime.
    assert time.monotonic() - began < 30


@given(st.text(st.characters(exclude_characters="'\"|", exclude_categories=["Cc", "Cs", "Z"]), min_size=1, max_size=40))
def test_a_word_survives_being_quoted(word: str) -> None:
    check = read_check(f"network {quoted('n ' + word)} is up")
    assert check.any_of[0].ask.args == ("n " + word,)


def test_values_are_freed_of_what_a_store_writes_around_them() -> None:
    assert plain_value("'x'") == plain_value('"x"') == plain_value("x") == "x"
    assert plain_value("int64 -3") == "-3"
    assert plain_value("@as ['a']") == "['a']"


def test_a_line_follows_its_chairs() -> None:
    line = "at A, B: package x is there"
    assert at_letters(line, {"A": "D"}) == "at D, B: package x is there"
    assert at_letters(line, {"A": ""}) == "at B: package x is there"
    assert at_letters(line, {"A": "", "B": ""}) == ""
    assert at_letters("package x is there", {"A": ""}) == "package x is there"
