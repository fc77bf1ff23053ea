"""The tasks: the cards that will be read aloud, beside the lint's remarks."""

from pathlib import Path
from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult, SuspendNotSupported
from textual.binding import Binding, BindingType
from textual.containers import Container, VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import OptionList, Static
from textual.widgets.option_list import Option

from fresh_chair.core.errors import FreshChairError, InputError, OutsideError
from fresh_chair.core.plan.card_lint import LintRemark
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.text import clipped, legible, legible_lines
from fresh_chair.services.plan import scripts
from fresh_chair.services.plan.editing import set_field
from fresh_chair.services.sitting.benchmarks import take_benchmarks
from fresh_chair.services.system.editor import edit
from fresh_chair.tui.base.session import QuestionChain, Session
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.plan.widgets.card_view import as_read, remark_lines
from fresh_chair.tui.widgets.dialogue import asks

_EMPTY = """No card yet. A card is one task, read aloud in everyday words.

  l   opens the library: cards over all areas, ready to take
  n   writes a new one
  e   opens the script in your editor
"""


class Tasks(SheetScreen):
    """Cards at the left, the one in hand as it is read, its remarks beside it."""

    sheet_name = "tasks"
    title_words = "the tasks"
    about = (
        "The cards as they will be read. Remarks are advice: each says why, and o overrules it with a reason. "
        "The whole script is one text; e opens it in $EDITOR, and comments in it stay."
    )
    CSS_PATH = Path(__file__).with_name("tasks.tcss")
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "fields", "its fields", id="tasks.fields", tooltip="Every field of this card"),
        Binding("l", "open('library')", "library", id="tasks.library", tooltip="Cards to take from the library"),
        Binding("n", "new", "a new card", id="tasks.new", tooltip="Write a card"),
        Binding("e", "edit", "in the editor", id="tasks.edit", tooltip="The whole script in $EDITOR"),
        Binding("o", "overrule", "overrule", id="tasks.overrule", tooltip="Say why a remark does not hold here"),
        Binding("d", "drop", "drop", id="tasks.drop", tooltip="Give this card to nobody any more, or bring it back"),
        Binding("x", "remove", "take out", id="tasks.remove", show=False, tooltip="Take out a card nobody was given"),
        Binding(
            "b", "benchmarks", "expert's times", id="tasks.benchmarks", show=False, tooltip="Take the expert's times"
        ),
        Binding(
            "u", "discard", "forget the draft", id="tasks.discard", show=False, tooltip="Forget what the editor left"
        ),
    ]

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._remarks: dict[str, list[LintRemark]] = {}
        self._draft = scripts.Draft(session.opened)
        # What is wrong with the editor's text, shown in the room of this card until another one is gone to.
        self._wrong = ("", "")

    def middle(self) -> ComposeResult:
        """List, card, remarks."""
        yield OptionList(id="cards", markup=False)
        with Container(id="card-and-remarks"):
            with VerticalScroll(id="card-scroll", can_focus=False):
                yield Static(id="card", markup=False)
            with VerticalScroll(id="remarks-scroll", can_focus=False):
                yield Static(id="remarks", markup=False)

    def main(self) -> Widget | None:
        """The list has the keys."""
        return self.query_one("#cards", OptionList)

    def arrived(self) -> None:
        """Show the cards once their width is known."""
        self.call_after_refresh(self._draw)
        if self._draft.waiting:
            self.tell("The editor left a text that is not the script yet: e goes on with it, u forgets it.")

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.call_after_refresh(self._draw_card)

    def _draw(self) -> None:
        study = self.session.opened.study
        self._remarks = scripts.remarks_by_card(study)
        pile = self.query_one("#cards", OptionList)
        width = max(pile.size.width - 6, 10)
        pile.set_options(
            [Option(self._line(card, number, width), id=card.id) for number, card in enumerate(study.cards, 1)]
        )
        ids = list(study.card_by_id)
        if ids:
            pile.highlighted = ids.index(self.session.task) if self.session.task in ids else 0
        self._draw_card()
        self.follow()
        self.refresh_bindings()

    def _line(self, card: TaskCard, number: int, width: int) -> Content:
        if card.dropped:
            return Content.styled(f"{number:>2} {self.signs.dash} {clipped(legible(card.title), width)}", "$thread")
        standing = [remark for remark in self._remarks[card.id] if not remark.overruled]
        state = "wrong" if any(remark.grave for remark in standing) else "open" if standing else "ready"
        colour = {"wrong": "$clay", "open": "$lamp", "ready": "$moss"}[state]
        return Content.assemble(
            (f"{number:>2} ", "$thread"),
            (f"{self.signs.states[state]} ", colour),
            (clipped(legible(card.title), width), "$chalk"),
        )

    @property
    def card(self) -> TaskCard | None:
        """The card in hand."""
        option = self.query_one("#cards", OptionList).highlighted_option
        return None if option is None else self.session.opened.study.card_by_id.get(option.id or "")

    @on(OptionList.OptionHighlighted, "#cards")
    def _draw_card(self) -> None:
        card = self.card
        if card is None:
            self.query_one("#card", Static).update(_EMPTY)
            self.query_one("#remarks", Static).update("")
            return
        self.session.task = card.id
        if self._wrong[0] == card.id:
            self.query_one("#card", Static).update(Content.styled(legible_lines(self._wrong[1]), "$clay"))
            return
        self._wrong = ("", "")
        room = self.query_one("#card-scroll").container_size
        # A column for the scroll bar, whether it shows or not.
        drawn = as_read(card, self.signs, room.width - 2, airy=room.height >= 22)
        head = (
            Content.styled("Dropped: stays on record, given to nobody.\n\n", "$clay") if card.dropped else Content("")
        )
        self.query_one("#card", Static).update(head + drawn)
        self.query_one("#remarks", Static).update(Content("\n").join(remark_lines(self._remarks[card.id], self.signs)))

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """A key that means nothing now is not shown."""
        if self.is_mounted and action in ("fields", "overrule", "drop", "remove") and self.card is None:
            return False
        if action == "discard" and self.is_mounted and not self._draft.waiting:
            return False
        return super().check_action(action, parameters)

    def action_open(self, name: str) -> None:
        """Open another sheet."""
        self.open_sheet(name)

    @on(OptionList.OptionSelected, "#cards")
    def action_fields(self) -> None:
        """Open the card's own sheet."""
        if self.card is not None and not self.asking:
            self.open_sheet("card")

    @asks
    async def action_new(self) -> None:
        """Ask for a title, then for the goal."""
        draft = QuestionChain(self, "a new card")
        title = await draft.ask("title", "title of the card (for you, never read aloud):")
        if title is None:
            return

        def worded(goal: str) -> bool:
            found: list[TaskCard] = []
            done = self.attempt(lambda: found.append(scripts.new_card(self.session.opened, title, goal)))
            if done:
                self.session.task = found[0].id
                self._draw()
                self.tell("What it still lacks stands beside it; Enter opens its fields.")
            return done

        await draft.end("goal, as read aloud:", worded, to_come="its goal")

    @asks
    async def action_overrule(self) -> None:
        """Ask which remark, then why it does not hold."""
        card = self.card
        if card is None or not self._remarks[card.id]:
            self.tell("Nothing is wrong with this card.")
            return
        name, found = card.id, self._remarks[card.id]
        whys = [clipped(remark.why, 40) for remark in found]
        at = 0 if len(found) == 1 else await self.ask_one_of("which remark?", whys)
        if at is None:
            return
        remark = found[at]

        def reasoned(reason: str) -> bool:
            done = self.attempt(lambda: scripts.overrule(self.session.opened, name, remark.rule, reason))
            if done:
                self._draw()
            return done

        await self.ask_until("it does not hold here, because (empty: it holds)", reasoned, value=remark.overruled)

    def action_drop(self) -> None:
        """Drop the card in hand, or bring it back."""
        card = self.card
        if card is None:
            return
        place, value = f"card.{card.id}.dropped", "no" if card.dropped else "yes"
        if self.attempt(lambda: set_field(self.session.opened, place, value)):
            self._draw()

    @asks
    async def action_remove(self) -> None:
        """Take the card in hand out of the script."""
        card = self.card
        if card is None:
            return
        name = card.id
        sure = await self.ask_sure(f"take “{clipped(legible(card.title), 30)}” out of the script?", "yes")
        if sure and self.attempt(lambda: scripts.remove_card(self.session.opened, name)):
            self._draw()

    def action_benchmarks(self) -> None:
        """Take the expert's times from the expert's own sittings."""
        found: list[int] = []
        if self.attempt(lambda: found.append(take_benchmarks(self.session.opened))):
            self._draw()
            self.tell(f"{found[0]} of the expert's times changed." if found[0] else "The expert's times stand already.")

    @asks
    async def action_discard(self) -> None:
        """Forget the text that the editor left."""
        if await self.ask_sure("forget all that was typed in the draft?", "yes"):
            self._draft.discard()
            self._wrong = ("", "")
            self._draw()
            self.tell("The draft is forgotten; the script is as it was.")
            self.refresh_bindings()

    def action_edit(self) -> None:
        """Hand the script to the editor, then take the edited text."""
        try:
            path = self._draft.begin()
            with self.app.suspend():
                code = edit(path)
            if code:
                raise OutsideError(
                    f"The editor ended with error {code}; the script is as it was.",
                    f"What it left is kept in {path}: e goes on with it, u forgets it.",
                )
            count = self._draft.take()
        except SuspendNotSupported:
            self.tell_problem(OutsideError("An editor cannot be opened from here.", "fresh-chair script edit does it."))
        except FreshChairError as problem:
            self._tell_all(problem)
        else:
            self._wrong = ("", "")
            self._draw()
            self.tell(f"The script has {count} card{'' if count == 1 else 's'}.")

    def _tell_all(self, problem: FreshChairError) -> None:
        """A text that cannot be used says everything that is wrong with it, in the room of the card."""
        if isinstance(problem, InputError) and "\n" in problem.title:
            self._wrong = (self.session.task, problem.title)
            self._draw()
            self.tell("Your text is kept as it is: e goes on with it, u forgets it.", colour="$clay")
        else:
            self.tell_problem(problem)
