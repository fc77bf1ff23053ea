"""The steps of a walk: opened by typing, left, come back to, gone through as a list, closed; and the walk's end."""

from collections.abc import Callable
from functools import partial

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.walk import ItemResult, StepEnding
from fresh_chair.core.sitting.walked import StepLine
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.sitting.corrections import seconds_of
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.walk.contests import end_contest, other_side
from fresh_chair.services.walk.walks import WalkView, steps_by_title
from fresh_chair.tui.sit.live.base import SitBase
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import OUTCOME_COLOUR

# Entries that changed the plan as well.
_OF_CHAIR = (j.ChairAltered, j.WalkMoved)
ENDING_KEYS = dict(zip("uhpgtbvlno", StepEnding, strict=True))
_RESULT_KEYS: dict[str, tuple[ItemResult, str]] = {
    "w": ("works", "$moss"),
    "t": ("with trouble", "$lamp"),
    "f": ("fails", "$clay"),
    "n": ("not there", "$clay"),
    "x": ("not tried", "$thread"),
}


class Steps(SitPart):
    """Keys about steps.

    Args:
        sit: The walking screen.
        view: Says how the walk stands.
        taken_up: Takes the walk at another chair of a contest in hand.
    """

    def __init__(
        self, sit: SitBase, view: Callable[[], WalkView | None], taken_up: Callable[[LiveSitting], None]
    ) -> None:
        super().__init__(sit)
        self._view = view
        self._taken_up = taken_up

    @property
    def view(self) -> WalkView | None:
        """The walk as it stands."""
        return self._view()

    def may(self, act: str, *arguments: object) -> bool:
        """A step in hand can be closed, left and listed; an open one can be come back to."""
        view = self.view
        if view is None:
            return False
        if act in ("set_aside", "leave_running", "took", "go_through"):
            return view.step is not None
        if act == "close":
            return view.step is not None or bool(view.open_steps)
        return act != "back" or bool(view.open_steps)

    @asks
    async def open(self) -> None:
        """Open a step: a card by its title, one that is open already, or anything else. Its time is that of the key."""
        now, view = self.sit.now(), self.view
        if view is None:
            return
        cards = steps_by_title(self.sit.session.opened, view)
        steps = {step.title: step.entry for step in view.open_steps}

        def named(words: str) -> bool:
            title = words.strip()
            if not title:
                self.sit.tell("A step is of something; Esc closes the line.", colour="$clay")
                return False
            known = {name.casefold(): name for name in (*steps, *cards)}
            title = known.get(title.casefold(), title)
            if title in steps:
                return self.sit.record(lambda sitting: sitting.log(j.StepTakenUp(steps[title]), now))
            opened = j.StepOpened(clipped(title, 200), cards.get(title, ""))
            return self.sit.record(lambda sitting: sitting.log(opened, now))

        await self.sit.ask_until("which step?", named, suggestions=(*steps, *cards))

    @asks
    async def back(self) -> None:
        """Back to a step that is still open."""
        now, view = self.sit.now(), self.view
        step = await self._one_of("back to which step?", view.open_steps if view is not None else ())
        if step is not None:
            entry = step.entry
            self.sit.record(lambda sitting: sitting.log(j.StepTakenUp(entry), now))

    async def _one_of(self, prompt: str, steps: tuple[StepLine, ...]) -> StepLine | None:
        """Ask for one of some steps; the only one is not asked about."""
        if len(steps) == 1:
            return steps[0]
        # The newest first: what was left last is what one comes back to.
        newest = tuple(reversed(steps))
        at = await self.sit.ask_one_of(prompt, [clipped(legible(step.title), 28) for step in newest]) if steps else None
        return None if at is None else newest[at]

    @asks
    async def close(self) -> None:
        """Say how the step in hand ended, or another open one where none is."""
        now, view = self.sit.now(), self.view
        if view is None:
            return
        step = view.step or await self._one_of("which step ended?", view.open_steps)
        if step is None:
            return
        choices = [
            Choice(key, ending.words, OUTCOME_COLOUR[ending.outcome] if ending.outcome else "$thread")
            for key, ending in ENDING_KEYS.items()
        ]
        key = await self.sit.ask_choice(f"{clipped(legible(step.title), 40)}: how did it end?", choices)
        if key is None:
            return
        entry, ending = step.entry, ENDING_KEYS[key]

        def closed(reason: str) -> bool:
            if ending.needs_reason and not reason.strip():
                self.sit.tell(f"“{ending.words}” needs a reason; Esc leaves the step open.", colour="$clay")
                return False
            return self.sit.record(lambda sitting: sitting.log(j.StepClosed(entry, ending, reason.strip()), now))

        optional = "" if ending.needs_reason else " (may stay empty)"
        done = await self.sit.ask_until(f"{ending.words}, because{optional}", closed)
        if not done and not ending.needs_reason:
            closed("")

    @asks
    async def go_through(self) -> None:
        """Go through a list in one go: its things are typed once, then one key says how each went."""
        view = self.view
        step = view.step if view is not None else None
        if step is None:
            return
        if not step.items:
            prompt = "the things on the list, with bars between them: ogg | mp3 | flac"
            if not await self.sit.ask_until(prompt, partial(self._listed, step.entry)):
                return
        await self._judge_items(step)

    def _listed(self, entry: str, text: str) -> bool:
        names = tuple(dict.fromkeys(clipped(name.strip(), 200) for name in text.split("|") if name.strip()))
        if not names:
            self.sit.tell("A list has at least one thing; Esc closes the line.", colour="$clay")
            return False
        return self.sit.record(lambda sitting: sitting.log(j.ItemsListed(entry, names), self.sit.now()))

    async def _judge_items(self, step: StepLine) -> None:
        choices = [Choice(key, result, colour) for key, (result, colour) in _RESULT_KEYS.items()]
        while (view := self.view) is not None:
            items = view.steps[step.number - 1].items
            left = [at for at, item in enumerate(items, start=1) if item.result is None]
            if not left:
                return
            name = items[left[0] - 1].name
            more = f" ({len(left)} left)" if len(left) > 1 else ""
            key = await self.sit.ask_choice(f"{legible(clipped(name, 40))}{more}:", choices)
            if key is None:
                return
            result, words = _RESULT_KEYS[key][0], ""
            if result in ("with trouble", "fails"):
                words = (await self.sit.ask_words(f"{clipped(name, 40)} {result}, in words (may stay empty)")) or ""
            judged = j.ItemJudged(step.entry, left[0], result, words.strip())
            if not self.sit.record(lambda sitting, judged=judged: sitting.log(judged, self.sit.now())):  # type: ignore[misc]
                return

    def set_aside(self) -> None:
        """Nothing is in hand for now."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.log(j.StepSetAside(), now))

    def leave_running(self) -> None:
        """The machine works on for the step in hand."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.log(j.StepSetAside(running=True), now))

    @asks
    async def took(self) -> None:
        """A time that is said and not measured."""
        view = self.view
        step = view.step if view is not None else None
        if step is None:
            return
        entry = step.entry

        def said(text: str) -> bool:
            return self.sit.record(lambda sitting: sitting.log(j.TimeSaid(entry, seconds_of(text)), self.sit.now()))

        await self.sit.ask_until("it took about (2:30, or in seconds)", said)

    def undo(self) -> None:
        """Take the last entry back."""
        if self.live is None:
            return
        struck: list[j.Entry] = []
        if self.sit.record(lambda sitting: struck.append(sitting.undo(self.sit.now()))):
            content = struck[0].content
            more = " The chair keeps the change: take it out on its sheet." if isinstance(content, _OF_CHAIR) else ""
            self.sit.tell(f"Taken back: {content.kind.replace('_', ' ')}. It stays in the journal, struck.{more}")

    @asks
    async def finish(self) -> None:
        """End the walk; open steps stay open, and the next part begins with them."""
        view = self.view
        if view is None:
            return
        left = [
            *([count_of(len(view.open_steps), "step") + " open"] if view.open_steps else []),
            *([count_of(len(view.untold), "line") + " without a kind"] if view.untold else []),
            *([count_of(len(view.untouched), "card") + " not looked at"] if view.untouched else []),
        ]
        said = ": " + ", ".join(left) if left else ""
        if view.contest is not None:
            await self._finish_contest(view, said)
        elif await self.sit.ask_sure(f"end the walk{said}?", "it ends; the next part goes on from there"):
            self._end(view.number, lambda sitting: sitting.log(j.SittingEnded(), self.sit.now()))

    async def _finish_contest(self, view: WalkView, said: str) -> None:
        """End all walks of a contest, or the one in hand alone: another one of it is then in hand."""
        choices = [
            Choice("a", "all of them", "$clay"),
            Choice("t", f"the one through {view.seat.chair} alone", "$clay"),
            Choice("n", "no, leave it"),
        ]
        key = await self.sit.ask_choice(f"end the walks of this contest{said}?", choices)
        opened, number = self.sit.session.opened, view.number
        if key == "a":
            self._end(number, lambda sitting: end_contest(opened, sitting))
        elif key == "t" and self._end(number, lambda sitting: sitting.log(j.SittingEnded(), self.sit.now())):
            other = other_side(opened, number)
            if other is not None:
                self._taken_up(other)

    def _end(self, number: int, end: Callable[[LiveSitting], object]) -> bool:
        if not self.sit.record(end):
            return False
        self.sit.session.looking_at = number
        self.sit.draw()
        return True
