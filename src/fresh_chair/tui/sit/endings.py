"""The end of an attempt: how it ended, how easy it was, the usability scale."""

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Phase
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.sitting.questions import NO_ANSWER, NextQuestion, answered, next_ask
from fresh_chair.tui.sit.hand_over import HandOver
from fresh_chair.tui.sit.sitting_screen import SitBase
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR

OUTCOME_KEYS = dict(zip("uhpgtbv", Outcome, strict=True))


class Endings(SitBase):
    """Asks the questions after the clock."""

    def ask_on(self) -> None:
        """Ask the question the sitting waits for; those before a card are asked by its key."""
        live = self.live
        if live is None or live.opened.observes:
            return
        if live.state.phase is Phase.JUDGING:
            self.action_judge()
            return
        ask = next_ask(live)
        if ask is not None and ask.part != "before":
            self.ask_person(ask)

    def action_stop(self) -> None:
        """Stop the clock, then ask how it ended."""
        now = self.now()
        if self.record(lambda sitting: sitting.log(j.AttemptStopped(), now)):
            self.witness("after")
            self.action_judge()

    def action_judge(self) -> None:
        """Ask how the attempt ended."""
        choices = [Choice(key, outcome.words, OUTCOME_COLOUR[outcome]) for key, outcome in OUTCOME_KEYS.items()]
        self.ask_choice("how did it end? (Esc: the clock goes on)", choices, self._judged, cancelled=self._go_on)

    def _go_on(self) -> None:
        live = self.live
        if live is not None and live.state.phase is Phase.JUDGING:
            self.record(lambda sitting: sitting.undo(self.now(), "the attempt went on"))

    def _judged(self, key: str) -> None:
        outcome = OUTCOME_KEYS[key]
        if outcome.needs_reason:
            asked = "what failed in the test?" if outcome is Outcome.VOID else "what made it impossible?"

            def reasoned(reason: str) -> bool:
                if not reason.strip():
                    self.tell(f"“{outcome.words}” needs a reason; Esc chooses again.", colour="$clay")
                    return False
                return self._judge(outcome, reason.strip())

            self.ask_words(asked, reasoned, cancelled=self._judge_again)
        elif outcome is Outcome.UNAIDED and self._helped():
            self._ask_about_help()
        elif not self._judge(outcome, ""):
            self._judge_again()

    def _helped(self) -> int:
        """How much help that counts was given in the attempt in hand."""
        attempt = self.live.attempt if self.live is not None else None
        return attempt.helped if attempt is not None else 0

    def _ask_about_help(self) -> None:
        """Ask which is right where an attempt was completed unaided and yet helped."""
        helps = count_of(self._helped(), "help")
        choices = [
            Choice("h", Outcome.HELPED.words, OUTCOME_COLOUR[Outcome.HELPED]),
            Choice("u", f"{Outcome.UNAIDED.words} all the same", OUTCOME_COLOUR[Outcome.UNAIDED]),
        ]

        def chosen(key: str) -> None:
            if not self._judge(OUTCOME_KEYS[key], ""):
                self._judge_again()

        self.ask_choice(f"{helps} counted in it:", choices, chosen, cancelled=self._judge_again)

    def _judge_again(self) -> None:
        self.ask_soon(self.action_judge)

    def _judge(self, outcome: Outcome, reason: str) -> bool:
        done = self.record(lambda sitting: sitting.log(j.OutcomeJudged(outcome, reason), self.now()))
        if done:
            self._warn_of_wrong_done()
            self.point_at_contradiction()
            self.ask_soon(self.ask_on)
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
            self.tell("Said done, was not: it is counted on its own.", colour="$plum")

    def action_rate(self) -> None:
        """Ask the person the next question."""
        ask = next_ask(self.live) if self.live is not None else None
        if ask is not None:
            self.ask_person(ask)

    def _follow_up(self, ask: NextQuestion | None) -> NextQuestion | None:
        """Show the next step of an answer in several steps, or none."""
        if ask is not self.following:
            self.following = ask
            self.draw()
        return ask

    def ask_person(self, ask: NextQuestion) -> None:
        """Ask the person one thing, on this screen; beside it stand the other keys of the moment."""
        self._follow_up(ask if ask is self.following else None)
        if ask.free:
            self.ask_words(f"{ask.short} ({NO_ANSWER} for no answer)", lambda words: self._answered(ask, words))
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
                self.ask_soon(self.action_hand_over)
            elif key == "u":
                self.action_undo()
            elif key == "x":
                self._logged(j.UsabilityDeclined())
            elif key in more:
                self._logged(more[key][1])
            else:
                self._answered(ask, key)

        self.ask_choice(f"{ask.short} (Esc: later)", choices, pressed, cancelled=lambda: None)

    def _logged(self, content: j.Content) -> None:
        if self.record(lambda sitting: sitting.log(content, self.now())):
            self.ask_soon(self.ask_on)

    def _answered(self, ask: NextQuestion, key: str) -> bool:
        found: list[NextQuestion | None] = []
        answer = key.strip() or NO_ANSWER
        if not self.record(lambda sitting: found.append(answered(sitting, ask, answer, self.now()))):
            return False
        following = self._follow_up(found[0])
        if following is not None:
            self.ask_soon(lambda: self.ask_person(following))
        else:
            self.ask_soon(self.ask_on)
        return True

    def action_hand_over(self) -> None:
        """Give the keyboard to the participant; only a key that you choose now leads back."""

        def chosen(key: str) -> bool:
            way_back = key.strip()[:1]
            live = self.live
            if live is None or not way_back or way_back.isdecimal() or way_back in "-+":
                self.tell("One letter or sign, and no number: they answer with those.", colour="$clay")
                return False
            self.app.push_screen(HandOver(live, way_back, pixel=self.signs.pixel), self._handed_back)
            return True

        self.ask_words("which key leads back? (yours alone)", chosen, cancelled=self.ask_on)

    def _handed_back(self, _: None) -> None:
        self.draw()
        self.ask_soon(self.ask_on)

    def _more_about_the_ending(self) -> dict[str, tuple[str, j.OutcomeTold]]:
        """Details of an outcome: by which way, how far, or why it was given up."""
        attempt = self.live.attempt if self.live is not None else None
        if attempt is None:
            return {}
        card = self.session.opened.study.card_by_id[attempt.card]
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

    def action_answer(self) -> None:
        """Ask the next statement of the usability scale."""
        self.action_rate()

    def action_undo(self) -> None:
        """Take the last entry back."""
        live = self.live
        if live is None:
            return
        struck: list[j.Entry] = []
        if self.record(lambda sitting: struck.append(sitting.undo(self.now()))):
            self.tell(f"Taken back: {struck[0].content.kind.replace('_', ' ')}. It stays in the journal, struck.")
            self.ask_on()
