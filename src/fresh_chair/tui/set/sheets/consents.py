"""Defaults and consent, across chairs: asked or silent, on or off, honest or not."""

from typing import ClassVar

from textual import on
from textual.binding import Binding, BindingType
from textual.content import Content
from textual.widgets import OptionList

from fresh_chair.core.chair.records import ConsentItem
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.chair import records
from fresh_chair.services.chair.records import ConsentRow
from fresh_chair.tui.set.sheets.records import SetSheet
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour

_ITEM = 18
_NARROWEST = 20
_ASKED = ("not looked at", "asked", "silent", "not there")
_SWITCH = ("not known", "on", "off")
_WORDING = ("not looked at", "honest", "one-sided", "misleading", "no words at all")
_SHORT = {"not looked at": "?", "not known": "?", "no words at all": "no words"}


class Consents(SetSheet):
    """One line a default, one column a chair."""

    sheet_name = "consents"
    title_words = "defaults and consent"
    about = (
        "For each default: whether it was asked, how it stands, how honest the words are, how to refuse and how to "
        "change it later. What can be read off a chair is filled in by r in Set; asked and wording are yours."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "chair(-1)", "before", id="consents.before", key_display="←", tooltip="The chair before"),
        Binding("right", "chair(1)", "after", id="consents.after", key_display="→", tooltip="The chair after"),
        Binding("a", "turn('asked')", "asked", id="consents.asked", tooltip="Asked, silent, or not there"),
        Binding("o", "turn('switch')", "on or off", id="consents.switch", tooltip="How it stands"),
        Binding("w", "turn('wording')", "wording", id="consents.wording", tooltip="How honest the words are"),
        Binding("n", "words('refuse')", "to refuse", id="consents.refuse", tooltip="How to say no"),
        Binding("l", "words('later')", "later", id="consents.later", tooltip="Where it can be changed afterwards"),
        Binding("enter", "open", "all of it", id="consents.open", tooltip="Every field of it"),
        Binding("plus", "add", "another", id="consents.add", key_display="+", tooltip="A default that is not listed"),
    ]

    def rows(self) -> list[ConsentRow]:
        """The lines."""
        return records.consent_rows(self.session.opened)

    def draw(self) -> None:
        """Show the grid."""
        chairs = self.session.opened.study.chairs
        shown = self._shown()
        width = max((self.pile.size.width - _ITEM - 2) // max(len(shown), 1), _NARROWEST)
        rows = self.rows()
        self.refill([self._line(row, width, shown) for row in rows], [row.item for row in rows])
        seen = sum(item is not None and item.asked != "not looked at" for r in self.rows() for item in r.at.values())
        beyond = f"{len(chairs) - len(shown)} more →" if len(shown) < len(chairs) else ""
        heads: list[tuple[str, str]] = [(beyond.ljust(_ITEM), "$thread")]
        for chair in (chair for chair in chairs if chair.letter in shown):
            mark = self.signs.here if chair.letter == self.letter else " "
            title = clipped(f"{chair.letter} {legible(chair.title)}", width - 2).ljust(width - 1)
            heads.append((f"{mark}{title}", f"bold {chair_colour(chair)}"))
        more = f"{seen} of {len(self.rows()) * len(chairs)} looked at"
        self.chair_head(self.title_words, more, Content.assemble(*heads))
        self._draw_beside()
        self.follow()

    def _shown(self) -> list[str]:
        """Letters of the chairs that there is room for, the one in hand among them."""
        letters = list(self.session.opened.study.chair_by_letter)
        fits = max(min((self.pile.size.width - _ITEM - 2) // _NARROWEST, len(letters)), 1)
        here = letters.index(self.letter) if self.letter in letters else 0
        first = min(max(here - fits + 1, 0), max(len(letters) - fits, 0))
        return letters[first : first + fits]

    def _line(self, row: ConsentRow, width: int, shown: list[str]) -> Content:
        parts: list[tuple[str, str]] = [(clipped(legible(row.item), _ITEM - 1).ljust(_ITEM), "$chalk")]
        for letter, item in ((letter, item) for letter, item in row.at.items() if letter in shown):
            mark = self.signs.here if letter == self.letter else " "
            if item is None:
                parts.append((f"{mark}{self.signs.none}".ljust(width), "$thread"))
                continue
            words = ", ".join(_SHORT.get(part, part) for part in (item.asked, item.switch, item.wording))
            silent_on = item.asked == "silent" and item.switch == "on"
            bad = silent_on or item.wording in ("misleading", "one-sided")
            known = item.asked != "not looked at"
            colour = "$clay" if bad else "$moss" if known else "$thread"
            parts.append((f"{mark}{clipped(words, width - 2)}".ljust(width), colour))
        return Content.assemble(*parts)

    @property
    def _here(self) -> tuple[str, ConsentItem | None] | None:
        at, rows = self.at, self.rows()
        if at is None or at >= len(rows):
            return None
        return rows[at].item, rows[at].at.get(self.letter)

    @on(OptionList.OptionHighlighted, "#list")
    def _draw_beside(self) -> None:
        here = self._here
        if here is None:
            return
        item, record = here
        parts = [Content.styled(legible(item), "bold $chalk")]
        if record is None:
            parts.append(Content(f"Nobody has looked at it at {self.letter}. a says whether it was asked."))
        else:
            parts += [
                Content.assemble((f"{line.words}\n", "$thread"), (f"  {legible(line.text)}", "$chalk"))
                for line in records.record_lines(record)[1:]
                if line.text
            ]
        self.detail(Content("\n").join(parts))

    def _record(self) -> ConsentItem | None:
        """The record in hand, made where there is none yet."""
        here = self._here
        if here is None:
            return None
        item, record = here
        made: list[ConsentItem] = [record] if record is not None else []
        if not made:

            def make() -> None:
                new = records.put_record(self.session.opened, self.letter, "consent", item=item)
                assert isinstance(new, ConsentItem)
                made.append(new)

            if not self.attempt(make):
                return None
        return made[0]

    def action_turn(self, field: str) -> None:
        """The next word of a field."""
        record = self._record()
        if record is None:
            return
        words = {"asked": _ASKED, "switch": _SWITCH, "wording": _WORDING}[field]
        following = words[(words.index(getattr(record, field)) + 1) % len(words)]
        self._change(record, field, following)

    def _change(self, record: ConsentItem, field: str, text: str) -> bool:
        done = self.attempt(
            lambda: records.change_record(self.session.opened, self.letter, "consent", record.id, field, text)
        )
        self.draw()
        return done

    @asks
    async def action_words(self, field: str) -> None:
        """Say how to refuse, or where to change it later."""
        record = self._record()
        if record is not None:
            prompt = "how does one say no?" if field == "refuse" else "where can it be changed later?"
            value = getattr(record, field)
            await self.ask_until(prompt, lambda text: self._change(record, field, text), value=value)

    @on(OptionList.OptionSelected, "#list")
    def action_open(self) -> None:
        """Open every field."""
        record = None if self.asking else self._record()
        if record is not None:
            self.session.cell = (self.session.cell[0], self.letter)
            self.open_sheet("record", (self.sheet_name, "consent", record.id))

    @asks
    async def action_add(self) -> None:
        """A default that is not listed."""

        def put(item: str) -> bool:
            done = self.attempt(
                lambda: records.put_record(self.session.opened, self.letter, "consent", item=item.strip())
            )
            if done:
                self.draw()
                self.pile.highlighted = self.pile.option_count - 1
            return done

        await self.ask_until("which default?", put)
