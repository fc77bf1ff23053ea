"""Going through reviewers' words that rest on the marks of a person who was erased, or name them."""

from collections.abc import Sequence

from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.file.words_about import WordsAbout, reword
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.widgets.asking import Choice


async def ask_words_about(place: Place, found: Sequence[WordsAbout]) -> str:
    """Ask about each text whether it stays, is taken out or gets other words; returns a sentence on those that stay."""
    opened, stays = place.session.opened, 0
    for at, each in enumerate(found):
        await place.drawn()
        choices = [
            Choice("k", "it stays", "$chalk"),
            Choice("t", "take it out", "$clay"),
            Choice("w", "other words", "$lamp"),
        ]
        left = f" ({len(found) - at} left)" if len(found) - at > 1 else ""
        text = legible(clipped(each.text, 60))
        key = await place.ask_choice(f"{each.what}: “{text}”{left}:", choices)
        if key is None:
            stays += len(found) - at
            break
        if key == "w":
            other = await place.ask_words("in other words:", value=each.text)
            changed = bool(other and other.strip()) and place.attempt(
                lambda each=each, other=other: reword(opened, each, other)  # type: ignore[misc]
            )
        else:
            changed = key == "t" and place.attempt(lambda each=each: reword(opened, each))  # type: ignore[misc]
        stays += not changed
    if not stays:
        return ""
    stay = count_of(stays, "text of reviewers stays", "texts of reviewers stay")
    return f"{stay} that rest on their marks, or name them."
