"""Corrections of one sitting's journal: struck, moved, reworded, added late, judged otherwise, split, joined."""

from collections.abc import Callable

from textual.binding import Binding, BindingType

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting import corrections as correcting
from fresh_chair.services.sitting.corrections import EntryLine
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.tui.base.session import QuestionChain, Session
from fresh_chair.tui.base.sheet import SheetScreen
from fresh_chair.tui.sit.live.endings import OUTCOME_KEYS
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR


def correction_keys(place: str) -> list[BindingType]:
    """The keys of a sheet on which a journal is corrected."""
    return [
        Binding("x", "strike", "strike", id=f"{place}.strike", tooltip="It does not hold, with why"),
        Binding("m", "move", "move", id=f"{place}.move", tooltip="It belongs earlier or later, with why"),
        Binding("w", "reword", "reword", id=f"{place}.reword", tooltip="Other words"),
        Binding("a", "add", "add late", id=f"{place}.add", tooltip="A mark that nobody made at the time, with why"),
        Binding("o", "judge", "judge otherwise", id=f"{place}.judge", tooltip="The attempt ended otherwise, with why"),
        Binding("s", "split", "split", id=f"{place}.split", tooltip="The attempt was two, parted here"),
        Binding("t", "join", "join", id=f"{place}.join", tooltip="This attempt and the next one were one"),
        Binding("d", "draw", "draw it", id=f"{place}.draw", tooltip="Over time, as SVG or PDF"),
        Binding("e", "rating", "an answer", id=f"{place}.rating", tooltip="Ease or an answer, with why"),
        Binding("k", "stopped_late", "stopped late", id=f"{place}.stopped", tooltip="Its clock ran on too long"),
        Binding("r", "refuse", "no benchmark", id=f"{place}.refuse", tooltip="This expert's run does not count"),
    ]


class Corrections(SheetScreen):
    """Corrects the entry in hand.

    Args:
        number: The planned sitting's number.
    """

    def __init__(self, session: Session, number: int) -> None:
        super().__init__(session)
        self._number = number

    @property
    def _here(self) -> EntryLine | None:
        """The entry in hand."""
        raise NotImplementedError

    def draw(self) -> None:
        """Show everything as it is now."""
        raise NotImplementedError

    def _writer(self) -> LiveSitting:
        from fresh_chair.services.sitting.recording import taken_up

        live = self.session.live
        return (
            live
            if live is not None and live.seat.number == self._number
            else taken_up(self.session.opened, self._number)
        )

    def _do(self, act: Callable[[LiveSitting], None]) -> bool:
        done = self.attempt(lambda: act(self._writer()))
        if done:
            self.draw()
        return done

    @asks
    async def action_strike(self) -> None:
        """The entry in hand does not hold."""
        line = self._here
        if line is not None and not line.struck:
            await self.ask_until(
                "it does not hold, because:",
                lambda reason: self._do(lambda live: correcting.strike(live, line.entry, reason)),
            )

    @asks
    async def action_move(self) -> None:
        """The entry in hand belongs elsewhere in time."""
        line = self._here
        if line is not None:
            await self.ask_until(
                "by how many seconds, and why (-10 pressed late)",
                lambda text: self._do(lambda live: correcting.move(live, line.entry, text)),
                value="-10 ",
            )

    @asks
    async def action_reword(self) -> None:
        """Other words for the entry in hand."""
        line = self._here
        if line is None:
            return
        sitting = self.session.opened.sittings[self._number]
        await self.ask_until(
            "in words:",
            lambda words: self._do(lambda live: correcting.reword(live, line.entry, words)),
            value=sitting.words_of(line.entry.id),
        )

    @asks
    async def action_add(self) -> None:
        """Add a mark that was missed at the time."""
        at = self._here.at if self._here is not None else "0:00"
        marks = correcting.late_marks(self.session.opened, self._number)
        chosen = await self.ask_one_of("what is added late?", [mark.replace("_", " ") for mark in marks])
        if chosen is None:
            return
        mark, draft = marks[chosen], QuestionChain(self, f"a late mark in sitting {self._number}")

        def timed(text: str) -> bool:
            return self.attempt(lambda: correcting.seconds_of(text.strip().partition(" ")[0]))

        asked = f"{mark.replace('_', ' ')}: when, and in words (2:31 wrong menu)"
        typed = await draft.ask("mark", asked, timed, value=f"{at} ")
        if typed is not None:
            when, _, words = typed.partition(" ")
            await draft.end(
                "nobody marked it then, because:",
                lambda reason: self._do(lambda live: correcting.add_late(live, mark, when, words, reason)),
                to_come="why it is late",
            )

    @asks
    async def action_draw(self) -> None:
        """Draw the sitting over time."""
        from fresh_chair.services.sitting.text.notes import draw_sitting
        from fresh_chair.services.system.files import typed_path

        def put(text: str) -> bool:
            written = []
            opened = self.session.opened
            done = self.attempt(lambda: written.append(draw_sitting(opened, self._number, typed_path(text))))
            if done:
                self.tell(f"Drawn: {legible(written[0].path.name)}")
            return done

        await self.ask_until("into which file (.svg or .pdf)?", put, value=f"sitting-{self._number}.svg")

    @asks
    async def action_judge(self) -> None:
        """The attempt of the entry in hand ended otherwise."""
        ran = self._attempt()
        outcome = await self._ask_outcome("how did it end?") if ran is not None else None
        if ran is None or outcome is None:
            return
        attempt = ran.number
        await self.ask_until(
            f"attempt {attempt} was “{outcome.words}”, because:",
            lambda reason: self._do(lambda live: correcting.judge_again(live, attempt, outcome, reason)),
        )

    async def _ask_outcome(self, prompt: str) -> Outcome | None:
        """Ask for an outcome by the letters that judge one live."""
        choices = [Choice(key, outcome.words, OUTCOME_COLOUR[outcome]) for key, outcome in OUTCOME_KEYS.items()]
        key = await self.ask_choice(prompt, choices)
        return None if key is None else OUTCOME_KEYS[key]

    @asks
    async def action_rating(self) -> None:
        """An answer was given otherwise than it was put down: the one in hand, or the ease of its attempt."""
        line = self._here
        if line is None:
            return
        content = line.entry.content
        if isinstance(content, j.UsabilityAnswered):
            item = content.item
            await self._ask_rating(f"statement {item}, 1 to 5", lambda live, answer, why: correcting.correct_usability(
                live, item, correcting.score_of(answer), why))  # fmt: skip
        elif isinstance(content, j.QuestionAnswered):
            name, number = content.question, content.attempt
            await self._ask_rating(
                f"the answer to {legible(name)}", lambda live, answer, why: correcting.correct_answer(
                live, name, number, answer, why))  # fmt: skip
        elif (attempt := self._attempt()) is not None:
            number = attempt.number
            await self._ask_rating(
                f"ease of attempt {number}, 1 to 7", lambda live, answer, why: correcting.correct_ease(
                live, number, correcting.score_of(answer), why))  # fmt: skip

    async def _ask_rating(self, prompt: str, put: Callable[[LiveSitting, str, str], None]) -> None:
        draft = QuestionChain(self, f"{prompt} in sitting {self._number}")
        answer = await draft.ask("answer", f"{prompt} (- for no answer):", lambda text: True)
        if answer is not None:
            await draft.end(
                "it was put down otherwise, because:",
                lambda reason: self._do(lambda live: put(live, answer, reason)),
                to_come="why it changes",
            )

    @asks
    async def action_stopped_late(self) -> None:
        """The clock of the attempt in hand was stopped too late."""
        attempt = self._attempt()
        if attempt is not None:
            number = attempt.number
            await self.ask_until(
                "stopped too late by how many seconds, and why (-12 we talked on)",
                lambda text: self._do(lambda live: correcting.move_stop(live, number, *correcting.late_stop(text))),
                value="-",
            )

    def _attempt(self) -> Attempt | None:
        """The attempt of the entry in hand; says so where none ran then."""
        opened, line = self.session.opened, self._here
        number = correcting.attempt_of(opened, self._number, line.entry) if line is not None else None
        if number is None:
            self.tell(_NONE_RAN, colour="$clay")
            return None
        return opened.sittings[self._number].attempts[number - 1]

    @asks
    async def action_split(self) -> None:
        """The attempt of the entry in hand was two, parted at that entry."""
        attempt, line = self._attempt(), self._here
        if attempt is None or line is None:
            return
        study = self.session.opened.study
        cards = study.seat(self._number).cards
        titles = [clipped(legible(study.card_by_id[card].title), 24) for card in cards]
        outcome = await self._ask_outcome("how did the first part end?")
        at = await self.ask_one_of("the second part was a go at", titles) if outcome is not None else None
        if outcome is None or at is None:
            return
        number, card, ended = attempt.number, cards[at], outcome

        def said(text: str) -> bool:
            when, _, reason = text.strip().partition(" ")
            return self._do(lambda live: correcting.split(live, number, when, ended, card, reason))

        await self.ask_until("parted when, and why (2:31 no key was pressed between them)", said, value=f"{line.at} ")

    @asks
    async def action_join(self) -> None:
        """The attempt of the entry in hand and the next one were one."""
        attempt = self._attempt()
        if attempt is None:
            return
        tried = self.session.opened.sittings[self._number].tried
        later = next((each for each in tried if each.started_ns > attempt.started_ns), None)
        if later is None:
            self.tell("No attempt comes after this one.", colour="$clay")
            return
        first, second = attempt.number, later.number
        await self.ask_until(
            f"attempts {first} and {second} were one, because:",
            lambda reason: self._do(lambda live: correcting.join(live, first, second, reason)),
        )

    @asks
    async def action_refuse(self) -> None:
        """The expert's run of the entry in hand does not count for the benchmark."""
        attempt = self._attempt()
        if attempt is not None:
            number = attempt.number
            await self.ask_until(
                "it does not count for the benchmark, because:",
                lambda reason: self._do(lambda live: correcting.refuse_benchmark(live, number, reason)),
            )

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Only the expert's runs can be refused as benchmarks."""
        if action == "refuse":
            study = self.session.opened.study
            if study.person_by_code[study.seat(self._number).participant].role != "expert":
                return False
        return super().check_action(action, parameters)


_NONE_RAN = "No attempt ran at that moment."
