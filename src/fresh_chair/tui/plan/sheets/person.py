"""A person's sheet: a code, their background, their screening, their consents."""

from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.plan.people import screened
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import legible
from fresh_chair.services.file import erasing
from fresh_chair.services.file.words_about import still_there, words_about
from fresh_chair.services.plan import people
from fresh_chair.services.plan.editing import FieldLine, field_lines
from fresh_chair.services.system.files import typed_path
from fresh_chair.tui.base.sheet import FieldSheet
from fresh_chair.tui.plan.adding import ask_consents, ask_table
from fresh_chair.tui.plan.words_about import ask_words_about
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import chair_colour

_SCREENED = {
    "passed": ("The screener lets them in.", "$moss"),
    "failed": ("The screener says no:", "$clay"),
    "open": ("The screener is not done:", "$lamp"),
    "none": ("Nothing is asked of them beforehand.", "$thread"),
}


class PersonSheet(FieldSheet):
    """One person at a time."""

    sheet_name = "person"
    title_words = "a person"
    about = "People are codes. Erasing removes what identifies somebody and what they said, and leaves a dated trace."
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("left", "step(-1)", "before", id="person.before", key_display="←", tooltip="The person before"),
        Binding("right", "step(1)", "after", id="person.after", key_display="→", tooltip="The person after"),
        Binding("y", "agree", "agrees", id="person.agree", tooltip="To what is asked, one thing after another"),
        Binding("g", "let_go", "let go", id="person.go", tooltip="They do not take part any more"),
        Binding("r", "replace", "replace", id="person.replace", tooltip="Somebody takes the place of who left"),
        Binding("x", "erase", "erase", id="person.erase", tooltip="Remove what identifies them and what they said"),
        Binding("i", "take", "from CSV", id="person.take", show=False, tooltip="People from a CSV file"),
        Binding("e", "give", "to CSV", id="person.give", show=False, tooltip="The people into a CSV file"),
    ]

    @property
    def code(self) -> str:
        """The person in hand."""
        codes = list(self.session.opened.study.person_by_code)
        wanted = self.session.cell[0]
        return wanted if wanted in codes else codes[0]

    def lines(self) -> list[FieldLine]:
        """The person's fields."""
        return field_lines(self.session.opened.study, "person", self.code)

    def head(self) -> Content:
        """Who it is."""
        study = self.session.opened.study
        person = study.person_by_code[self.code]
        state = (
            f"erased on {person.erased}" if person.erased else f"left: {legible(person.left)}" if person.left else ""
        )
        place = study.people.index(person) + 1
        return Content.assemble(
            (person.code, "bold $lamp"),
            ("" if person.counts else f"  {person.role}, never counted", "$lamp"),
            (f"   person {place} of {len(study.people)}", "$thread"),
            (f"   {state}" if state else "", "$clay"),
        )

    def beside(self) -> Content:
        """The screener's answer, consents, and where they sit."""
        opened, study = self.session.opened, self.session.opened.study
        person = study.person_by_code[self.code]
        result = screened(person, study.sheet.screener)
        words, colour = _SCREENED[result.result]
        parts = [Content.styled("screener", "$thread"), Content.styled(words, colour)]
        parts += [Content(f"  {legible(reason)}") for reason in result.reasons]
        parts += [Content(""), Content.styled("consent", "$thread")]
        for consent in study.sheet.consents:
            day = person.consents.get(consent.id)
            need = "" if consent.needed else " (as they like)"
            said = (f"on {day}", "$moss") if day else ("not yet", "$lamp" if consent.needed else "$thread")
            parts.append(Content.assemble(said, (f"  {legible(consent.words)}{need}", "$chalk")))
        if not study.sheet.consents:
            parts.append(Content("The study sheet asks for none."))
        parts += [Content(""), Content.styled("sits at", "$thread")]
        for seat in (seat for seat in study.seats if seat.participant == person.code):
            chair = study.chair_by_letter[seat.chair]
            phase = opened.phase(seat.number)
            state = {Phase.EMPTY: "to come", Phase.ENDED: "run", Phase.BROKEN_OFF: "broken off"}.get(
                phase, "sitting now"
            )
            parts.append(
                Content.assemble(
                    (f"{seat.position}. ", "$thread"),
                    (f"{chair.letter} {legible(chair.title)}", chair_colour(chair)),
                    (f"  sitting {seat.number}, {state}", "$thread"),
                )
            )
        return Content("\n").join(parts)

    def proposal(self, line: FieldLine) -> str:
        """Today, for a consent that was not given yet."""
        if line.path.split(".")[2] == "consents" and not line.text:
            return people.today(self.session.opened)
        return line.text

    def put(self, line: FieldLine, text: str) -> bool:
        """A person whose code was changed stays in hand."""
        if line.path.endswith(".code"):
            before = self.session.cell
            self.session.cell = (text.strip(), before[1])
            done = super().put(line, text)
            if not done:
                self.session.cell = before
            return done
        return super().put(line, text)

    def action_step(self, step: int) -> None:
        """Go to a neighbouring person."""
        codes = list(self.session.opened.study.person_by_code)
        self._show(codes[(codes.index(self.code) + step) % len(codes)])

    def _show(self, code: str) -> None:
        self.session.cell = (code, self.session.cell[1])
        self.draw()

    @asks
    async def action_agree(self) -> None:
        """Ask for each thing they have not agreed to yet, one by one."""
        opened, code = self.session.opened, self.code
        person = opened.study.person_by_code[code]
        left = [each for each in opened.study.sheet.consents if each.id not in person.consents]
        if left:
            await ask_consents(self, code, left, self.draw)
        else:
            self.tell("Nothing is left to agree to." if opened.study.sheet.consents else "Nothing is asked.")

    @asks
    async def action_let_go(self) -> None:
        """Ask why they left."""
        code = self.code

        def gone(why: str) -> bool:
            done = self.attempt(lambda: people.let_go(self.session.opened, code, why))
            if done:
                self.draw()
                self.tell(f"{code} left; what was run stays. r lets somebody take the place.")
            return done

        await self.ask_until(f"{code} left, because", gone)

    @asks
    async def action_replace(self) -> None:
        """Ask for the replacement's code."""
        opened, code = self.session.opened, self.code

        def add(new: str) -> bool:
            done = self.attempt(lambda: people.add_person(opened, new, replaces=code))
            if done:
                self._show(new.strip())
                self.tell(f"{new.strip()} takes the place of {code}, in the same order of chairs.")
            return done

        if not opened.study.person_by_code[code].left:
            self.tell(f"{code} still takes part; g lets them go.", colour="$clay")
            return
        await self.ask_until(f"who takes the place of {code}?", add, value=people.next_code(opened.study))

    @asks
    async def action_erase(self) -> None:
        """Ask how much is to be erased."""
        code = self.code
        choices = [
            Choice("k", "erase, keep their figures", "$clay"),
            Choice("d", "erase, figures too", "$clay"),
            Choice("n", "no, leave it"),
        ]
        key = await self.ask_choice(f"erase {code}? This cannot be taken back:", choices)
        opened = self.session.opened
        about = words_about(opened, code) if key in ("k", "d") else []
        if key in ("k", "d") and self.attempt(lambda: erasing.erase_person(opened, code, keep_figures=key == "k")):
            self.draw()
            stays = await ask_words_about(self, still_there(opened, about))
            left = erasing.left_after_erasing(opened)
            said = f"What identified {code} and what they said is gone; that it was done stays, with its date."
            self.tell(" ".join(part for part in (said, stays, left) if part))

    @asks
    async def action_take(self) -> None:
        """Ask for a CSV file."""
        await ask_table(self)

    @asks
    async def action_give(self) -> None:
        """Ask where the people go."""
        from fresh_chair.services.plan.people_files import write_people

        def give(text: str) -> bool:
            done = self.attempt(lambda: write_people(self.session.opened, typed_path(text)))
            if done:
                self.tell(f"The people are in {legible(text.strip())}.")
            return done

        await self.ask_until("the people go to", give, value="people.csv")
