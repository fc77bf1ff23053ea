"""The row of choices: a key beside each, whatever the words are."""

import pytest
from textual.app import App, ComposeResult

from fresh_chair.tui.widgets.asking import Choice, ChoiceLine


class Asking(App[None]):
    """Nothing but a row of choices."""

    def compose(self) -> ComposeResult:
        yield ChoiceLine()


@pytest.mark.parametrize("width", [40, 80, 142])
async def test_a_key_stays_with_its_words_in_every_row(width: int) -> None:
    app = Asking()
    async with app.run_test(size=(width, 24)) as pilot:
        line = app.query_one(ChoiceLine)
        chosen: list[str | None] = []
        words = ["short", "a title of so many letters that no row was ever wide enough for it " * 3, "middling " * 4]
        choices = [Choice(str(n), each) for n, each in enumerate(words, start=1)]
        line.question("which one?", choices).pose(chosen.append)
        await pilot.pause()
        rows = line.render().plain.split("\n")
        assert all(len(row) <= width for row in rows)
        assert [row for row in rows if " 2  a title" in row]
        await pilot.press("9", "2")
        assert chosen == ["2"]
