"""Nouns after a number, and articles before a name: one rule for each, in every sentence of the program."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from fresh_chair.core.text import count_of, with_article

SOURCE = Path(__file__).parents[2] / "src" / "fresh_chair"
# A number right before one of these, in a sentence that is not counted by the rule, reads "1 people" some day.
_NOUNS = (
    *("people", "persons", "newcomers", "hunches", "observers", "sittings", "tasks", "cards", "chairs", "findings"),
    *("marks", "snags", "attempts", "records", "entries", "rows", "files", "bytes", "minutes", "words", "notes"),
    *("claims", "readings", "questions", "points", "steps", "parts", "pairs", "programs", "answers", "studies"),
    *("lines", "days", "raters", "reviewers", "verdicts", "scores", "chapters", "machines", "walks", "columns"),
    *("cells", "times", "remarks", "advices", "criteria", "sheets", "pages", "columns", "hours", "seconds", "letters"),
)
_COUNTED = re.compile(rf"^ (?:\w+ )?(?:{'|'.join(_NOUNS)})\b")
_IN_TEXT = re.compile(rf"(?<!of )(?<!of all )\{{(\w+)\}} (?:{'|'.join(_NOUNS)})\b")
# Always more than one: limits, and what is counted only from two on.
_MANY = re.compile(r"^[A-Z_.]+$")
_ARTICLE = re.compile(r"(?:^|[ (“])an? $")
# Verbs and not nouns; limits that were passed; sizes in which one never comes.
_NEVER_ONE = {
    "cli/report/weighing.py: weighing.choice.times",
    "cli/walks.py: view.seat.participant",
    "core/findings/controls.py: len(looked)",
    "core/findings/controls.py: len(mine)",
    "core/plan/balance.py: count",
    "core/plan/cards.py: len(cards)",
    "core/plan/field_syntax.py: len(parts)",
    "core/plan/text/people_csv.py: len(rows) - 1",
    "core/plan/text/toml.py: len(text)",
    "core/sitting/text/typed_lines.py: len(rows)",
    "probe/parsing/system.py: size",
    "services/walk/walks.py: person.code",
    "store/sqlite/form/recognising.py: size",
    "store/sqlite/opening.py: row[1]",
    "tui/sit/following_others.py: count",
    "tui/sit/live/player.py: player.speed",
    "tui/weigh/widgets/tasks_panel.py: cell.assists",
}


def _strings() -> Iterator[tuple[Path, ast.JoinedStr]]:
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.JoinedStr):
                yield path, node


def _text(part: ast.expr) -> str:
    return str(part.value) if isinstance(part, ast.Constant) else ""


def _uncounted() -> Iterator[str]:
    for path, string in _strings():
        for before, value, after in zip(
            [None, *string.values], string.values, [*string.values[1:], None], strict=False
        ):
            if not isinstance(value, ast.FormattedValue) or after is None or not _COUNTED.match(_text(after)):
                continue
            shown = ast.unparse(value.value)
            of_more = before is not None and re.search(r"\b(?:of|at most|fewer than|more than) $", _text(before))
            if not of_more and not _MANY.match(shown) and "count_of" not in shown:
                name = f"{path.relative_to(SOURCE)}: {shown}"
                if name not in _NEVER_ONE:
                    yield f"{name}, line {string.lineno}: {_text(after)[:30]!r}"


def _articles() -> Iterator[str]:
    for path, string in _strings():
        for before, value in zip(string.values, string.values[1:], strict=False):
            if isinstance(value, ast.FormattedValue) and _ARTICLE.search(_text(before)):
                shown = ast.unparse(value.value)
                yield f"{path.relative_to(SOURCE)}:{string.lineno}: {_text(before)[-20:]!r}{{{shown}}}"


def test_a_noun_after_a_number_goes_by_the_one_rule() -> None:
    assert list(_uncounted()) == []


def test_an_article_before_a_name_goes_by_the_one_rule() -> None:
    assert list(_articles()) == []


@pytest.mark.parametrize(("number", "said"), [(0, "0 people"), (1, "1 person"), (2, "2 people")])
def test_people_are_counted_as_they_are_said(number: int, said: str) -> None:
    assert count_of(number, "person", "people") == said


@pytest.mark.parametrize(
    ("noun", "said"),
    [
        ("card", "a card"),
        ("install", "an install"),
        ("advice", "an advice"),
        ("“open” one", "an “open” one"),
        ("hour", "an hour"),
        ("user", "a user"),
    ],
)
def test_an_article_is_the_one_that_is_said(noun: str, said: str) -> None:
    assert with_article(noun) == said
