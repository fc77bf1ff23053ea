"""The chair of a walk in motion, altered or left for another machine; a step made a card; the walk's timebox."""

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.sitting import journal as j
from fresh_chair.services.sitting.corrections import seconds_of
from fresh_chair.services.walk.chair_changes import alter_chair, make_card, move_walk
from fresh_chair.tui.base.session import QuestionChain
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.dialogue import asks


class Motion(SitPart):
    """Keys that change the plan from within a walk."""

    def may(self, act: str, *arguments: object) -> bool:
        """Only a step that stood on no list can become a card."""
        live = self.live
        walk = live.state.walk if live is not None else None
        if act != "card" or walk is None:
            return walk is not None
        return walk.step is not None and not walk.step.card

    @asks
    async def altered(self) -> None:
        """Put down an alteration of the chair, at the time of the key."""
        now = self.sit.now()

        def put(words: str) -> bool:
            if not self.sit.record(lambda live: alter_chair(live, words, now)):
                return False
            self.sit.tell("On record at the chair from here on; take it out on its sheet once the chair is put back.")
            return True

        await self.sit.ask_until("altered on the chair: a newer kernel, a driver mended, an update", put)

    @asks
    async def moved(self) -> None:
        """Go on at another machine, with why."""
        now, live = self.sit.now(), self.live
        if live is None:
            return
        known = tuple(machine.name for machine in live.opened.study.machines)
        draft = QuestionChain(self.sit, "another machine")
        name = await draft.ask("machine", "on to which machine?", lambda text: True, suggestions=known)
        if not name:
            return
        await draft.end(
            "why was the first one left?",
            lambda reason: self.sit.record(lambda live: move_walk(live, name, reason, now)),
            to_come="why the first one was left",
        )

    def card(self) -> None:
        """Make a card of the script of the step in hand."""
        now, live = self.sit.now(), self.live
        step = live.state.walk.step if live is not None and live.state.walk is not None else None
        if live is None or step is None:
            return
        entry, number, titles = step.entry, live.seat.number, []
        if self.sit.record(lambda live: titles.append(make_card(live.opened, number, entry, now).title)):
            self.sit.tell("It is a card of the script from here on; Plan completes it.")

    @asks
    async def timebox(self) -> None:
        """Say how long the walk is to last; nothing for as long as it takes."""
        live = self.live
        walk = live.state.walk if live is not None else None
        if walk is None:
            return
        promised = walk.promised_seconds
        was = "" if promised is None else clock_text(round(promised * SECOND))

        def said(text: str) -> bool:
            def put(live: object) -> None:
                seconds = seconds_of(text) if text.strip() else 0.0
                if self.live is not None:
                    self.live.log(j.WalkTimeboxed(seconds), self.sit.now())

            return self.sit.record(put)

        await self.sit.ask_until("the walk is to last (30:00; empty: as long as it takes)", said, value=was)
