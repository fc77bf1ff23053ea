"""Tying a thing to another one, with typed completion; and its links as lines."""

from collections.abc import Callable
from typing import get_args

from textual.content import Content

from fresh_chair.core.evidence.records import Relation
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.evidence.targets import links_of, targets
from fresh_chair.tui.base.place import Place

_RELATIONS: tuple[Relation, ...] = get_args(Relation)
# Longer lists are typed into; fewer letters bring more of them.
_MOST_WORDS = 60


async def tie(place: Place, target: str) -> bool:
    """Ask how a thing is tied, and to which other one; True where it was tied.

    Args:
        place: The screen in front.
        target: The thing in hand.
    """
    opened = place.session.opened
    known = {name: words for name, words in targets(opened).items() if name != target}
    at = await place.ask_one_of(f"{clipped(legible(targets(opened).get(target, target)), 40)} is", _RELATIONS)
    if at is None:
        return False
    relation = _RELATIONS[at]
    texts = {"first": target, "relation": relation}
    return await ask_target(
        place,
        f"{relation} what?",
        lambda second: place.attempt(lambda: put_evidence(opened, "link", {**texts, "second": second})),
        known=known,
    )


async def ask_target(place: Place, prompt: str, put: Callable[[str], bool], *, known: dict[str, str]) -> bool:
    """Ask for a thing that evidence can speak of, by its words with completion; True where `put` took it.

    Args:
        place: The screen in front.
        prompt: The question.
        put: Takes the target; False asks again.
        known: The things that can be meant, with their words.
    """
    named = {f"{clipped(words, _MOST_WORDS)} ({name})": name for name, words in known.items()}

    def meant(text: str) -> bool:
        target = _meant(text.strip(), known, named)
        if target is None:
            place.tell("Nothing here is called that; a part of its words is enough.", colour="$clay")
            return False
        return put(target)

    return await place.ask_until(prompt, meant, suggestions=tuple(named))


def _meant(text: str, known: dict[str, str], named: dict[str, str]) -> str | None:
    """The target that a typed text means: itself, its words, or the only one whose words hold it."""
    if text in known:
        return text
    if text in named:
        return named[text]
    wanted = text.casefold()
    found = [name for name, words in known.items() if wanted and wanted in words.casefold()]
    return found[0] if len(found) == 1 else None


def link_lines(place: Place, target: str) -> list[Content]:
    """The links of a thing, a line each, as they read from it; one whose other end is gone says so."""
    lines = []
    for end in links_of(place.session.opened, target):
        colour = "$thread" if end.gone else "$chalk"
        lines.append(
            Content.assemble((f"{end.words}\n", "$tide"), (f"  {legible(clipped(end.other_words, 80))}", colour))
        )
    return lines
