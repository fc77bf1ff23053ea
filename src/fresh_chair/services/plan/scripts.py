"""The script of a study: read, checked, edited as a text, filled from the library."""

import os
import re
from dataclasses import replace
from pathlib import Path

from platformdirs import user_state_path

from fresh_chair.core.errors import FileProblem, InputError, NotSaved, Refused
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.card_lint import RULES, LintRemark, card_remarks, script_remarks
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.study import Study
from fresh_chair.core.text import legible
from fresh_chair.services.plan.plan_changes import change_plan, made, replaced
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.system.files import make_folder, name_of, read_bytes

_MOST_BYTES = 4_000_000
_HEAD = """Task cards, read aloud one by one. docs/formats.md describes every field.
What you write beside them stays."""


@frozen
class ScriptReport:
    """The cards of a script file, and their problems."""

    cards: tuple[TaskCard, ...]
    remarks: tuple[LintRemark, ...]

    @property
    def standing(self) -> tuple[LintRemark, ...]:
        """The remarks that are not overruled."""
        return tuple(remark for remark in self.remarks if not remark.overruled)


def read_script(path: Path, *, kept: str = "Nothing was changed.") -> str:
    """The text of a script. Raises FileProblem where it cannot be read; a study file in its place is said to be one."""
    data = read_bytes(path, _MOST_BYTES, kept=kept, what="a script")
    if data.startswith(b"SQLite format 3\0"):
        raise FileProblem(
            f"{name_of(path)} is a study file, and no script.",
            "Its script is printed by: fresh-chair script show STUDY",
        )
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as problem:
        raise FileProblem(f"{name_of(path)} is not UTF-8 text.", f"Save it as UTF-8. {kept}") from problem


def check_script(text: str, *, name: str, study: Study | None = None) -> ScriptReport:
    """A script held against all rules, and against a study's chairs where one is given.

    Raises:
        InputError: Where it is no script, all reasons at once.
    """
    from fresh_chair.core.plan.text.script import cards_of

    cards = cards_of(text, name=name)
    return ScriptReport(cards, tuple(script_remarks(cards, study.chairs if study else ())))


def remarks_by_card(study: Study) -> dict[str, list[LintRemark]]:
    """The remarks on every card of a study that is still planned."""
    return {card.id: [] if card.dropped else card_remarks(card, study.cards, study.chairs) for card in study.cards}


def script_text(opened: OpenStudy) -> str:
    """The study's script as a text: as it was last written, brought to the cards as they are now."""
    from fresh_chair.core.plan.text.script import cards_of
    from fresh_chair.core.plan.text.script_editing import brought_to, new_text

    text = opened.plans.script()
    if text is None:
        return new_text(opened.study.cards, comment=_HEAD)
    return brought_to(text, opened.study.cards, cards_of(text, name="the script"))


def apply_script(opened: OpenStudy, text: str, *, name: str) -> int:
    """Make the cards of a text the study's script; returns how many there are.

    Raises:
        InputError: Where it is no script, or does not fit the study; all reasons at once.
        Refused, NotSaved: As `OpenStudy.amend`.
    """
    cards = check_script(text, name=name).cards
    change_plan(opened, replaced(opened, cards=cards), script=text)
    return len(cards)


def take_card(opened: OpenStudy, card: TaskCard) -> None:
    """One more card at the end of the script; its references to cards that are not there are left out.

    Raises:
        InputError: Where a card of this id is there already.
    """
    study = opened.study
    if card.id in study.card_by_id:
        raise InputError(f"“{legible(card.title)}” is in the script already.", "Nothing was added.")
    known = set(study.card_by_id)
    letters = set(study.chair_by_letter)
    fitting = replace(
        card,
        needs=tuple(name for name in card.needs if name in known),
        uses_up=tuple(name for name in card.uses_up if name in known),
        benchmark_seconds={k: v for k, v in card.benchmark_seconds.items() if k in letters},
        routes={k: v for k, v in card.routes.items() if k in letters},
        notes={k: v for k, v in card.notes.items() if k in letters},
    )
    change_plan(opened, replaced(opened, cards=(*study.cards, fitting)))


def new_card(opened: OpenStudy, title: str, goal: str) -> TaskCard:
    """A card with a title and a goal; the lint names its missing parts.

    Raises:
        InputError: Where one of them is empty.
    """
    stem = "-".join(re.findall("[a-z0-9]+", title.lower()))[:34].strip("-") or "card"
    known = opened.study.card_by_id
    name = next(each for each in (stem, *(f"{stem}-{n}" for n in range(2, 999))) if each not in known)
    values = {"id": name, "title": title.strip(), "area": "settings", "goal": goal.strip(), "success": ""}
    card: TaskCard = made(TaskCard, {**values, "limit_seconds": 300}, "The card")
    change_plan(opened, replaced(opened, cards=(*opened.study.cards, card)))
    return card


def remove_card(opened: OpenStudy, card_id: str) -> None:
    """Take out a card without attempts. Raises Refused where it has some, InputError where another card needs it."""
    for number, sitting in opened.sittings.items():
        if sitting.walk is not None and any(step.card == card_id for step in sitting.walk.steps):
            raise Refused(
                f"The card is a step of the walk in sitting {number}.", "Drop it from sittings to come instead."
            )
    cards = tuple(card for card in opened.study.cards if card.id != card_id)
    change_plan(opened, replaced(opened, cards=cards))


def overrule(opened: OpenStudy, card_id: str, rule: str, reason: str) -> None:
    """Put on a card why a remark does not hold; no reason makes it stand again.

    Raises:
        InputError: Where there is no such card or rule.
    """
    card = opened.study.card_by_id.get(card_id)
    if card is None or rule not in RULES:
        raise InputError(f"There is no {'rule' if card else 'card'} of that name.", "Nothing was changed.")
    kept = {name: why for name, why in card.overruled.items() if name != rule}
    if reason.strip():
        kept[rule] = reason.strip()[:1000]
    changed = replace(card, overruled=kept)
    change_plan(opened, replaced(opened, cards=tuple(changed if c.id == card_id else c for c in opened.study.cards)))


class Draft:
    """The script as a file beside the study, while an editor works on it.

    It stays until its cards are the study's, so that nothing typed is lost to a mistake in it, to an editor that
    fails, or to a crash.
    """

    def __init__(self, opened: OpenStudy) -> None:
        self._opened = opened
        name = re.sub("[^A-Za-z0-9_-]", "-", opened.study.id)[:60]
        self.path = (user_state_path("fresh-chair") / "drafts" / f"{name}.toml").absolute()

    @property
    def waiting(self) -> bool:
        """True where a text was left that is not the study's yet."""
        return self.path.exists()

    def begin(self) -> Path:
        """The file for the editor: an unfinished one, or the script as it is.

        Raises:
            NotSaved: Where it cannot be written.
        """
        self._opened.require_adding()
        if not self.waiting:
            try:
                make_folder(self.path.parent)
                with os.fdopen(os.open(self.path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
                    file.write(script_text(self._opened).encode())
            except OSError as problem:
                raise NotSaved(f"The script cannot be handed to an editor: {problem.strerror}.") from problem
        return self.path

    def take(self) -> int:
        """Make the text the study's script and let go of the file; returns the number of cards.

        Raises:
            FileProblem, InputError, Refused, NotSaved: As `apply_script`; the file stays then.
        """
        text = read_script(self.path, kept="Your text is kept.")
        if text == script_text(self._opened):
            count = len(self._opened.study.cards)
        else:
            count = apply_script(self._opened, text, name="The script")
        self.discard()
        return count

    def discard(self) -> None:
        """Delete the editor's file and the text in it."""
        self.path.unlink(missing_ok=True)
