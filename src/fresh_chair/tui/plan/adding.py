"""Asking for another person, another chair, or consents: the same wherever it is asked."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from fresh_chair.core.plan.people import Consent, Role
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.file import carrying
from fresh_chair.services.plan import chairs, people
from fresh_chair.services.system.files import typed_path
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.sheets import OpenSheet
from fresh_chair.tui.widgets.asking import Choice

_WHAT = (
    ("p", "a participant"),
    ("m", "several participants"),
    ("t", "a pilot"),
    ("e", "the expert"),
    ("i", "people from a CSV file"),
    ("c", "a chair"),
    ("y", "a copy of this chair"),
    ("o", "a chair from another study"),
)


async def ask_what_to_add(place: Place, letter: str, then: Callable[[str, str], None]) -> None:
    """Ask whether to add a person, a chair or consents to the board.

    Args:
        place: The screen that asks.
        letter: The chair in hand, which can be copied; empty where there is none.
        then: Gets the code of the person and the letter of the chair that was added; one of them is empty.
    """
    key = await place.ask_choice("add", [Choice(key, words) for key, words in _WHAT if key != "y" or letter])
    roles: dict[str, Role] = {"p": "participant", "t": "pilot", "e": "expert"}
    if key in roles:
        await _ask_person(place, roles[key], then)
    elif key == "m":
        await _ask_several(place, then)
    elif key == "i":
        await ask_table(place)
    elif key == "c":
        await ask_chair(place, then)
    elif key == "y":
        copy_chair(place, letter, then)
    elif key == "o":
        await ask_carried(place, then)


async def _ask_person(place: Place, role: Role, then: Callable[[str, str], None]) -> None:
    opened = place.session.opened

    def add(code: str) -> bool:
        done = place.attempt(lambda: people.add_person(opened, code, role=role))
        if done:
            then(opened.study.people[-1].code, "")
            place.tell(f"{opened.study.people[-1].code} has a seat at every chair of theirs.")
        return done

    await place.ask_until("code of the new person:", add, value=people.next_code(opened.study, role))


async def _ask_several(place: Place, then: Callable[[str, str], None]) -> None:
    opened = place.session.opened

    def add(text: str) -> bool:
        if not text.strip().isdigit() or not 1 <= int(text) <= people.MOST_PEOPLE:
            place.tell(f"How many is a number from 1 to {people.MOST_PEOPLE}.", colour="$clay")
            return False
        done = place.attempt(lambda: people.add_several(opened, int(text)))
        if done:
            then(opened.study.people[-1].code, "")
            place.tell(
                f"{count_of(int(text), 'person was', 'people were')} added, up to {opened.study.people[-1].code}."
            )
        return done

    await place.ask_until("how many participants?", add)


async def ask_table(place: Place) -> None:
    """Ask for a CSV file with people, then show its columns."""

    def file_given(text: str) -> bool:
        from fresh_chair.services.plan.people_files import open_table

        found = []
        done = place.attempt(lambda: found.append(open_table(typed_path(text))))
        if done:
            place.call_after_refresh(place.post_message, OpenSheet("import", found[0]))
        return done

    await place.ask_until("CSV file with people:", file_given)


async def ask_chair(place: Place, then: Callable[[str, str], None]) -> None:
    """Ask for the new chair's title."""
    opened = place.session.opened

    def add(text: str) -> bool:
        parts = [part.strip() for part in text.split("|")]
        if len(parts) != 3 or not all(parts):
            place.tell("Three parts with bars between them: distribution | release | desktop.", colour="$clay")
            return False
        done = place.attempt(lambda: chairs.add_chair(opened, *parts))
        if done:
            chair = opened.study.chairs[-1]
            then("", chair.letter)
            place.tell(f"{legible(chair.title)} is chair {chair.letter}; what else is known of it is on its sheet.")
        return done

    await place.ask_until("distribution | release | desktop:", add)


def copy_chair(place: Place, letter: str, then: Callable[[str, str], None]) -> None:
    """Copy a chair."""
    opened = place.session.opened
    if place.attempt(lambda: chairs.copy_chair(opened, letter)):
        then("", opened.study.chairs[-1].letter)
        place.tell(f"A copy of {letter} is chair {opened.study.chairs[-1].letter}; change what is particular to it.")


async def ask_carried(place: Place, then: Callable[[str, str], None]) -> None:
    """Ask for another study and which of its chairs to carry over."""
    opened = place.session.opened
    listed: list[tuple[str, str]] = []
    paths: list[Path] = []

    def named(text: str) -> bool:
        paths[:] = []
        if not place.attempt(lambda: paths.append(typed_path(text))):
            return False
        return place.attempt(lambda: listed.extend(carrying.chairs_in(opened, paths[0])))

    if not await place.ask_until("the other study's file:", named):
        return
    if not listed:
        place.tell("There is no chair in that study.", colour="$clay")
        return
    key = await place.ask_choice("which chair?", [Choice(each.lower(), f"{each} {legible(t)}") for each, t in listed])
    found: list[carrying.Carried] = []
    if key is None or not place.attempt(lambda: found.append(carrying.carry_over(opened, paths[0], key.upper())[1])):
        return
    chair = opened.study.chairs[-1]
    then("", chair.letter)
    findings = count_of(found[0].findings, "finding or delight", "findings and delights")
    came = f"{findings} and {count_of(found[0].records, 'record')} came along"
    place.tell(f"{legible(chair.title)} is chair {chair.letter}; {came}.")


async def ask_consents(place: Place, code: str, left: Sequence[Consent], draw: Callable[[], None]) -> bool:
    """Ask for consents one by one, and date each that is given; True where none was left unanswered.

    Args:
        place: The screen that asks.
        code: Who is asked.
        left: What is still to be asked.
        draw: Shows the screen anew after each answer.
    """
    for consent in left:
        choices = [Choice("y", "agrees", "$moss"), Choice("n", "does not", "$clay" if consent.needed else "$thread")]
        as_they_like = "" if consent.needed else " (as they like)"
        key = await place.ask_choice(f"{clipped(consent.words, 70)}{as_they_like}:", choices)
        if key is None or (key == "y" and not place.attempt(partial(_agree, place, code, consent))):
            return False
        draw()
        await place.drawn()
    return True


def _agree(place: Place, code: str, consent: Consent) -> None:
    people.agree(place.session.opened, code, [consent.id])
