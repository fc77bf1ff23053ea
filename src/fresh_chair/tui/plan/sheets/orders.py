"""The orders: cards and chairs in their order for each person, their balance, and replacements."""

from typing import ClassVar

from textual import events, on
from textual.app import ComposeResult
from textual.binding import Binding, BindingType
from textual.containers import ScrollableContainer, Vertical, VerticalScroll
from textual.content import Content
from textual.widget import Widget
from textual.widgets import Static

from fresh_chair.core.plan.balance import Balance, ChairBalance, Vacancy, balance_of, vacancies
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.plan import people
from fresh_chair.services.plan.plan_changes import plan_again
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour


class Orders(SheetScreen):
    """Counts of positions and neighbours, and the sentences they allow."""

    sheet_name = "orders"
    title_words = "the orders"
    about = (
        "Chairs follow Williams designs; cards are shuffled within what they need and spread over positions. "
        "What was run never changes, and counts in the balance."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("g", "again", "draw again", id="orders.again", tooltip="Draw all that has not begun from another seed"),
        Binding("r", "replace", "replace", id="orders.replace", tooltip="Somebody takes the place of who left"),
        Binding("up", "scroll(-3)", "up", id="orders.up", show=False, tooltip="Scroll up"),
        Binding("down", "scroll(3)", "down", id="orders.down", show=False, tooltip="Scroll down"),
        Binding("left", "scroll(0, -9)", "left", id="orders.left", show=False, tooltip="Scroll left"),
        Binding("right", "scroll(0, 9)", "right", id="orders.right", show=False, tooltip="Scroll right"),
    ]

    def middle(self) -> ComposeResult:
        """Counts, and beside them sentences."""
        with Vertical(classes="main"):
            with ScrollableContainer(id="counts-scroll"):
                yield Static(id="counts", markup=False)
            yield Static(id="below", markup=False)
        with VerticalScroll(classes="aside", can_focus=False):
            yield Static(id="beside", markup=False)

    def main(self) -> Widget | None:
        """The counts have the keys."""
        return self.query_one("#counts-scroll")

    def arrived(self) -> None:
        """Show the balance."""
        self._draw()

    @on(events.Resize)
    def _rewrap(self) -> None:
        self.call_after_refresh(self._draw)

    def _draw(self) -> None:
        study = self.session.opened.study
        balance = balance_of(study, study.seats)
        sentences = self._sentences(balance)
        counts = [Content.styled(f"The orders, drawn from seed {study.seed}", "bold $lamp"), Content("")]
        for each in balance.chairs:
            counts += self._chairs(each)
        counts += self._cards(balance)
        self.query_one("#counts", Static).update(Content("\n").join(counts))
        self.query_one("#beside", Static).update(Content("\n").join(sentences))
        self.query_one("#below", Static).update(Content("\n").join(sentences) if self.has_class("-narrow") else "")

    def _sentences(self, balance: Balance) -> list[Content]:
        signs = self.signs.states
        parts = [Content.styled(f"{signs['open']} {legible(words)}", "$lamp") for words in balance.uneven]
        parts += [Content.styled(f"{signs['ready']} {legible(words)}", "$moss") for words in balance.sentences]
        for each in self._vacancies():
            filled = f"{each.filled_by} takes the place." if each.filled_by else "Nobody takes the place yet (r)."
            where = ", ".join(each.missing)
            colour = "$thread" if each.filled_by else "$lamp"
            parts.append(Content.styled(f"{each.code} left without {where}. {filled}", colour))
        return parts

    def _vacancies(self) -> list[Vacancy]:
        opened = self.session.opened
        return vacancies(opened.study, {n for n in opened.begun if opened.phase(n) is Phase.ENDED})

    def _chairs(self, each: ChairBalance) -> list[Content]:
        study, narrow = self.session.opened.study, self.has_class("-narrow")
        who = f"group {legible(each.group)}, " if each.group else ""
        parts = [
            Content.styled(
                f"{who}{count_of(each.people, 'person', 'people')}: how often each chair comes as", "$thread"
            )
        ]
        ordinals = "".join(f"{f'{n + 1}.':>4}" for n in range(len(each.letters)))
        follows = "".join(f"{f'>{letter}':>4}" for letter in each.letters)
        gap = "  next:" if narrow else "   and is followed by"
        parts.append(Content.styled(" " * 22 + ordinals + gap + follows, "$thread"))
        for letter in each.letters:
            chair = study.chair_by_letter[letter]
            positions = "".join(f"{count:>4}" for count in each.positions[letter])
            after = "".join(
                f"{each.neighbours.get((letter, other), 0) if other != letter else self.signs.none:>4}"
                for other in each.letters
            )
            parts.append(
                Content.assemble(
                    (f"{letter} {clipped(legible(chair.title), 19)}".ljust(22), chair_colour(chair)),
                    (positions + " " * len(gap) + after, "$chalk"),
                )
            )
        return [*parts, Content("")]

    def _cards(self, balance: Balance) -> list[Content]:
        study, bound = self.session.opened.study, set(balance.cards.bound)
        positions = balance.cards.positions
        width = max(len(next(iter(positions.values()), ())), 1)
        parts = [
            Content.styled("how often each card comes as", "$thread"),
            Content.styled("(~ kept in its place by prerequisites)", "$thread"),
            Content.styled(" " * 24 + "".join(f"{n + 1:>3}" for n in range(width)), "$thread"),
        ]
        for name, row in positions.items():
            mark = "~" if name in bound else " "
            title = clipped(legible(study.card_by_id[name].title), 21)
            numbers = "".join(f"{count or self.signs.none:>3}" for count in row)
            parts.append(
                Content.assemble(
                    (f"{mark} {title}".ljust(24), "$chalk"), (numbers, "$tide" if mark == "~" else "$chalk")
                )
            )
        return parts

    @asks
    async def action_again(self) -> None:
        """Ask for another seed."""

        def drawn(text: str) -> bool:
            if not text.strip().isdigit() or len(text.strip()) > 9:
                self.tell("A seed is a number of up to nine digits.", colour="$clay")
                return False
            done = self.attempt(lambda: plan_again(self.session.opened, seed=int(text)))
            if done:
                self._draw()
                self.tell("Everything that has not begun was drawn anew; what was run is as it was.")
            return done

        await self.ask_until("another seed:", drawn, value=str(self.session.opened.study.seed + 1))

    @asks
    async def action_replace(self) -> None:
        """Ask who takes the place of a person who left."""
        opened = self.session.opened
        free = [each.code for each in self._vacancies() if not each.filled_by]
        if not free:
            self.tell("Nobody left whose place is free.")
            return
        at = 0 if len(free) == 1 else await self.ask_one_of("whose place?", free)
        if at is None:
            return
        code = free[at]

        def add(new: str) -> bool:
            done = self.attempt(lambda: people.add_person(opened, new, replaces=code))
            if done:
                self._draw()
                self.follow()
            return done

        await self.ask_until(f"who takes the place of {code}?", add, value=people.next_code(opened.study))

    def action_scroll(self, rows: int, columns: int = 0) -> None:
        """Scroll the counts."""
        self.query_one("#counts-scroll").scroll_relative(y=rows, x=columns, animate=False)
