"""The end of an attempt: how it ended, how easy it was, the usability scale."""

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.sitting.questions import NO_ANSWER, NextQuestion, answered, next_ask
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.chair_witness import ChairWitness
from fresh_chair.tui.sit.live.hand_over import HandOver
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
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
        if self.sit.record(lambda sitting: sitting.log(j.AttemptStopped(), now)):
            self._witness.ask("after")
            self.judge()

    def judge(self) -> None:
        """Ask how the attempt ended."""
        choices = [Choice(key, outcome.words, OUTCOME_COLOUR[outcome]) for key, outcome in OUTCOME_KEYS.items()]
        self.sit.ask_choice("how did it end? (Esc: the clock goes on)", choices, self._judged, cancelled=self._go_on)

    def _go_on(self) -> None:
        live = self.live
        if live is not None and live.state.phase is Phase.JUDGING:
            self.sit.record(lambda sitting: sitting.undo(self.sit.now(), "the attempt went on"))

    def _judged(self, key: str) -> None:
        outcome = OUTCOME_KEYS[key]
        if outcome.needs_reason:
            asked = "what failed in the test?" if outcome is Outcome.VOID else "what made it impossible?"

            def reasoned(reason: str) -> bool:
                if not reason.strip():
                    self.sit.tell(f"“{outcome.words}” needs a reason; Esc chooses again.", colour="$clay")
                    return False
                return self._judge(outcome, reason.strip())

            self.sit.ask_words(asked, reasoned, cancelled=self._judge_again)
        elif outcome is Outcome.UNAIDED and _helped(self.live):
            self._ask_about_help()
        elif not self._judge(outcome, ""):
            self._judge_again()

    def _ask_about_help(self) -> None:
        """Ask which is right where an attempt was completed unaided and yet helped."""
        helps = count_of(_helped(self.live), "help")
        choices = [
            Choice("h", Outcome.HELPED.words, OUTCOME_COLOUR[Outcome.HELPED]),
            Choice("u", f"{Outcome.UNAIDED.words} all the same", OUTCOME_COLOUR[Outcome.UNAIDED]),
        ]

        def chosen(key: str) -> None:
            if not self._judge(OUTCOME_KEYS[key], ""):
                self._judge_again()

        self.sit.ask_choice(f"{helps} counted in it:", choices, chosen, cancelled=self._judge_again)

    def _judge_again(self) -> None:
        self.sit.ask_soon(self.judge)

    def _judge(self, outcome: Outcome, reason: str) -> bool:
        done = self.sit.record(lambda sitting: sitting.log(j.OutcomeJudged(outcome, reason), self.sit.now()))
        if done:
            self._warn_of_wrong_done()
            self._witness.point_at_contradiction()
            self.sit.ask_soon(self.ask_on)
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

    def _follow_up(self, ask: NextQuestion | None) -> NextQuestion | None:
        """Show the next step of an answer in several steps, or none."""
        if ask is not self.sit.following:
            self.sit.following = ask
            self.sit.draw()
        return ask

    def ask_person(self, ask: NextQuestion) -> None:
        """Ask the person one thing, on this screen; beside it stand the other keys of the moment."""
        self._follow_up(ask if ask is self.sit.following else None)
        if ask.free:
            self.sit.ask_words(f"{ask.short} ({NO_ANSWER} for no answer)", lambda words: self._answered(ask, words))
            return
        live = self.live
        colour = "$plum"
        choices = [Choice(key, words, colour) for key, words in ask.answers]
        choices.append(Choice(NO_ANSWER, "no answer", "$thread"))
        more = self._more_about_the_ending() if live is not None and live.state.phase is Phase.EASE else {}
        choices += [Choice(key, words, "$lamp") for key, (words, _) in more.items()]
        if live is not None and live.state.phase is Phase.USABILITY:
            choices.append(
                Choice("u", "take back") if live.state.usability else Choice("x", "do not ask it", "$thread")
            )
        choices.append(Choice("h", "hand it over", "$thread"))

        def pressed(key: str) -> None:
            if key == "h":
                self.sit.ask_soon(self.hand_over)
            elif key == "u":
                self.undo()
            elif key == "x":
                self._logged(j.UsabilityDeclined())
            elif key in more:
                self._logged(more[key][1])
            else:
                self._answered(ask, key)

        self.sit.ask_choice(f"{ask.short} (Esc: later)", choices, pressed, cancelled=lambda: None)

    def _logged(self, content: j.Content) -> None:
        if self.sit.record(lambda sitting: sitting.log(content, self.sit.now())):
            self.sit.ask_soon(self.ask_on)

    def _answered(self, ask: NextQuestion, key: str) -> bool:
        found: list[NextQuestion | None] = []
        answer = key.strip() or NO_ANSWER
        if not self.sit.record(lambda sitting: found.append(answered(sitting, ask, answer, self.sit.now()))):
            return False
        following = self._follow_up(found[0])
        if following is not None:
            self.sit.ask_soon(lambda: self.ask_person(following))
        else:
            self.sit.ask_soon(self.ask_on)
        return True

    def hand_over(self) -> None:
        """Give the keyboard to the participant; only a key that you choose now leads back."""

        def chosen(key: str) -> bool:
            way_back = key.strip()[:1]
            live = self.live
            if live is None or not way_back or way_back.isdecimal() or way_back in "-+":
                self.sit.tell("One letter or sign, and no number: they answer with those.", colour="$clay")
                return False
            self.sit.app.push_screen(HandOver(live, way_back, pixel=self.sit.signs.pixel), self._handed_back)
            return True

        self.sit.ask_words("which key leads back? (yours alone)", chosen, cancelled=self.ask_on)

    def _handed_back(self, _: None) -> None:
        self.sit.draw()
        self.sit.ask_soon(self.ask_on)

    def _more_about_the_ending(self) -> dict[str, tuple[str, j.OutcomeTold]]:
        """Details of an outcome: by which way, how far, or why it was given up."""
        attempt = self.live.attempt if self.live is not None else None
        if attempt is None:
            return {}
        card = self.sit.session.opened.study.card_by_id[attempt.card]
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


def _helped(live: LiveSitting | None) -> int:
    """How much help that counts was given in the attempt in hand."""
    attempt = live.attempt if live is not None else None
    return attempt.helped if attempt is not None else 0
