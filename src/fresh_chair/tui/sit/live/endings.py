"""The end of an attempt: how it ended, how easy it was, the usability scale."""

from functools import partial

from fresh_chair.core.clock import Moment
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.questions import NO_ANSWER, NextQuestion, answered, next_ask
from fresh_chair.services.sitting.recording import RecordedSitting
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.chair_witness import ChairWitness
from fresh_chair.tui.sit.live.hand_over import HandOver
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR

OUTCOME_KEYS = dict(zip("uhpgtbv", Outcome, strict=True))


class Endings(SitPart):
    """Asks the questions after the clock.

    Args:
        sit: The screen.
        witness: The chair's own answers.
    """

    def __init__(self, sit: SitBase, witness: ChairWitness) -> None:
        super().__init__(sit)
        self._witness = witness

    def ask_on(self) -> None:
        """Ask the question the sitting waits for; those before a card are asked by its key."""
        live = self.live
        if live is None or live.opened.observes:
            return
        if live.state.phase is Phase.JUDGING:
            self.judge()
            return
        ask = next_ask(live)
        if ask is not None and ask.part != "before":
            self.ask_person(ask)

    def stop(self) -> None:
        """Stop the clock, then ask how it ended."""
        now = self.sit.now()
        if _took_no_time(self.live, now):
            self.stop_at_once()
            return
        self._stop(now)

    @asks
    async def stop_at_once(self) -> None:
        """Ask whether an attempt took no time at all, before its clock is stopped where it was started."""
        now = self.sit.now()
        choices = [Choice("0", "it took no time", "$chalk")]
        asked = "the recording has not moved since the start (Esc: / says where it ended):"
        if await self.sit.ask_choice(asked, choices) == "0":
            await self.sit.drawn()
            self._stop(now)

    def _stop(self, now: Moment) -> None:
        if self.sit.record(lambda sitting: sitting.log(j.AttemptStopped(), now)):
            self._witness.ask("after")
            self.judge()

    @asks
    async def judge(self) -> None:
        """Ask how the attempt ended, until it is judged or goes on."""
        choices = [Choice(key, outcome.words, OUTCOME_COLOUR[outcome]) for key, outcome in OUTCOME_KEYS.items()]
        while key := await self.sit.ask_choice("how did it end? (Esc: the clock goes on)", choices):
            judged = await self._ask_more(OUTCOME_KEYS[key])
            await self.sit.drawn()
            if judged:
                self.ask_on()
                return
        live = self.live
        if live is not None and live.state.phase is Phase.JUDGING:
            self.sit.record(lambda sitting: sitting.undo(self.sit.now(), "the attempt went on"))

    async def _ask_more(self, outcome: Outcome) -> bool:
        """Ask for the rest of an outcome, and put it down; False where another one is to be chosen."""
        if outcome.needs_reason:
            asked = "what failed in the test?" if outcome is Outcome.VOID else "what made it impossible?"
            return await self.sit.ask_until(asked, partial(self._judge_for, outcome))
        if outcome is Outcome.UNAIDED and _helped(self.live):
            right = await self._ask_about_help()
            return right is not None and self._judge(right, "")
        return self._judge(outcome, "")

    def _judge_for(self, outcome: Outcome, reason: str) -> bool:
        if not reason.strip():
            self.sit.tell(f"“{outcome.words}” needs a reason; Esc chooses again.", colour="$clay")
            return False
        return self._judge(outcome, reason.strip())

    async def _ask_about_help(self) -> Outcome | None:
        """Ask which is right where an attempt was completed unaided and yet helped."""
        helps = count_of(_helped(self.live), "help")
        choices = [
            Choice("h", Outcome.HELPED.words, OUTCOME_COLOUR[Outcome.HELPED]),
            Choice("u", f"{Outcome.UNAIDED.words} all the same", OUTCOME_COLOUR[Outcome.UNAIDED]),
        ]
        key = await self.sit.ask_choice(f"{helps} counted in it:", choices)
        return None if key is None else OUTCOME_KEYS[key]

    def _judge(self, outcome: Outcome, reason: str) -> bool:
        done = self.sit.record(lambda sitting: sitting.log(j.OutcomeJudged(outcome, reason), self.sit.now()))
        if done:
            self._warn_of_wrong_done()
            self._witness.point_at_contradiction()
        return done

    def _warn_of_wrong_done(self) -> None:
        attempt = self.live.attempt if self.live is not None else None
        if (
            attempt is not None
            and attempt.said_done
            and attempt.outcome is not None
            and attempt.outcome.counts
            and not attempt.outcome.completed
        ):
            self.sit.tell("Said done, was not: it is counted on its own.", colour="$plum")

    def rate(self) -> None:
        """Ask the person the next question."""
        ask = next_ask(self.live) if self.live is not None else None
        if ask is not None:
            self.ask_person(ask)

    def _follow_up(self, ask: NextQuestion | None) -> None:
        """Show the next step of an answer in several steps, or none."""
        if ask is not self.sit.following:
            self.sit.following = ask
            self.sit.draw()

    @asks
    async def ask_person(self, ask: NextQuestion) -> None:
        """Ask the person one thing, on this screen; beside it stand the other keys of the moment."""
        self._follow_up(ask if ask is self.sit.following else None)
        if ask.free:
            prompt = f"{ask.short} ({NO_ANSWER} for no answer)"
            done = await self.sit.ask_until(prompt, lambda words: self._answered(ask, words))
        else:
            more = _more_about_the_ending(self.live)
            key = await self.sit.ask_choice(f"{ask.short} (Esc: later)", _answers(self.live, ask, more))
            if key == "u":
                self.undo()
                return
            if key == "h":
                await self.sit.drawn()
                self.hand_over()
                return
            if key == "x":
                done = self._logged(j.UsabilityDeclined())
            elif key in more:
                done = self._logged(more[key][1])
            else:
                done = key is not None and self._answered(ask, key)
        if done:
            await self.sit.drawn()
            if self.sit.following is not None:
                self.ask_person(self.sit.following)
            else:
                self.ask_on()

    def _logged(self, content: j.Content) -> bool:
        return self.sit.record(lambda sitting: sitting.log(content, self.sit.now()))

    def _answered(self, ask: NextQuestion, key: str) -> bool:
        """Put an answer down; its next step, where it has one, is asked next."""
        found: list[NextQuestion | None] = []
        answer = key.strip() or NO_ANSWER
        if not self.sit.record(lambda sitting: found.append(answered(sitting, ask, answer, self.sit.now()))):
            return False
        self._follow_up(found[0])
        return True

    @asks
    async def hand_over(self) -> None:
        """Give the keyboard to the participant; only a key that you choose now leads back."""

        def chosen(key: str) -> bool:
            way_back = key.strip()[:1]
            live = self.live
            if live is None or not way_back or way_back.isdecimal() or way_back in "-+":
                self.sit.tell("One letter or sign, and no number: they answer with those.", colour="$clay")
                return False
            self.sit.app.push_screen(HandOver(live, way_back, pixel=self.sit.signs.pixel), self._handed_back)
            return True

        if not await self.sit.ask_until("which key leads back? (yours alone)", chosen):
            self.ask_on()

    @asks
    async def _handed_back(self, _: None) -> None:
        self.sit.draw()
        await self.sit.drawn()
        self.ask_on()

    def answer(self) -> None:
        """Ask the next statement of the usability scale."""
        self.rate()

    def undo(self) -> None:
        """Take the last entry back."""
        live = self.live
        if live is None:
            return
        struck: list[j.Entry] = []
        if self.sit.record(lambda sitting: struck.append(sitting.undo(self.sit.now()))):
            self.sit.tell(f"Taken back: {struck[0].content.kind.replace('_', ' ')}. It stays in the journal, struck.")
            self.ask_on()


def _took_no_time(live: LiveSitting | None, now: Moment) -> bool:
    """Whether a recording has stood still since the attempt began, and so would show that it took no time."""
    attempt = live.attempt if isinstance(live, RecordedSitting) else None
    return live is not None and attempt is not None and not attempt.elapsed_ns(live.state.time_at(now))


def _more_about_the_ending(live: LiveSitting | None) -> dict[str, tuple[str, j.OutcomeTold]]:
    """Details of an outcome: by which way, how far, or why it was given up."""
    attempt = live.attempt if live is not None and live.state.phase is Phase.EASE else None
    if live is None or attempt is None:
        return {}
    card = live.opened.study.card_by_id[attempt.card]
    found: dict[str, tuple[str, j.OutcomeTold]] = {}
    if attempt.outcome in (Outcome.UNAIDED, Outcome.HELPED) and not attempt.route:
        found["e"] = ("expected way", j.OutcomeTold(route="expected"))
        found["a"] = ("another way", j.OutcomeTold(route="another"))
        found["w"] = ("workaround", j.OutcomeTold(route="only with a workaround"))
    elif attempt.outcome is Outcome.PARTLY and attempt.grade is None:
        for key, (place, words) in zip("abcd", enumerate(card.partly, start=1), strict=False):
            found[key] = (clipped(legible(words), 24), j.OutcomeTold(grade=place))
    elif attempt.outcome is Outcome.GAVE_UP and not attempt.why:
        found["f"] = ("not found", j.OutcomeTold(why="not found"))
        found["n"] = ("not there", j.OutcomeTold(why="not there"))
    return found


def _helped(live: LiveSitting | None) -> int:
    """How much help that counts was given in the attempt in hand."""
    attempt = live.attempt if live is not None else None
    return attempt.helped if attempt is not None else 0


def _answers(live: LiveSitting | None, ask: NextQuestion, more: dict[str, tuple[str, j.OutcomeTold]]) -> list[Choice]:
    """The answers to a question, then the other keys of the moment."""
    choices = [Choice(key, words, "$plum") for key, words in ask.answers]
    choices.append(Choice(NO_ANSWER, "no answer", "$thread"))
    choices += [Choice(key, words, "$lamp") for key, (words, _) in more.items()]
    if live is not None and live.state.phase is Phase.USABILITY:
        choices.append(Choice("u", "take back") if live.state.usability else Choice("x", "do not ask it", "$thread"))
    return [*choices, Choice("h", "hand it over", "$thread")]
