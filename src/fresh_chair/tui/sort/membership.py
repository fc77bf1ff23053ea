"""Observations and findings: taken up, joined, parted, merged, split, named, tagged, put under a head."""

from fresh_chair.core.findings.matching import same_words
from fresh_chair.core.findings.state.parts import FINDING_SORTS
from fresh_chair.core.text import legible
from fresh_chair.services.findings import sorting
from fresh_chair.tui.base.linking import tie
from fresh_chair.tui.base.parts import ScreenPart
from fresh_chair.tui.sort.base import SortBase, finding_words, taken_words
from fresh_chair.tui.widgets.dialogue import asks


class Membership(ScreenPart[SortBase]):
    """Observations and findings, joined and parted."""

    def may(self, act: str, *arguments: object) -> bool:
        """Acts need their list and a line; a rater rates, and sorts nothing."""
        hand, sort = self.screen.hand, self.screen
        if hand.rater:
            return False
        at_left, view = hand.pile == "observations", sort.finding_in_hand
        observation = sort.observation_in_hand
        if act in ("take", "words"):
            return at_left and observation is not None
        if act == "part":
            return at_left and observation is not None and bool(observation.findings)
        if act == "split":
            return bool(hand.inside and hand.taken)
        if act == "open":
            return bool(hand.taken) or (at_left and observation is not None)
        if act == "join":
            return view is not None and bool(sort.chosen)
        if act in ("merge", "retitle", "sort_of", "tag", "place"):
            return not at_left and view is not None
        return act != "take_up_carried" or sort.carried_in_hand is not None

    def take(self) -> None:
        """Take the observation in hand up, with all that say the same; or put them back."""
        sort = self.screen
        observation = sort.observation_in_hand
        if observation is None:
            return
        together = [observation, *same_words(observation, sort.shown)]
        if observation.target in sort.hand.taken:
            for each in together:
                sort.hand.taken.pop(each.target, None)
        else:
            sort.hand.taken |= dict.fromkeys(each.target for each in together)
            if len(together) > 1:
                sort.tell(f"Taken up with {len(together) - 1} that say the same.")
        sort.list_of("observations").draw_again({each.target for each in together})
        sort.draw_heads()
        sort.refresh_bindings()

    @asks
    async def open(self) -> None:
        """Make a finding of the observations taken up."""
        sort, chosen = self.screen, self.screen.chosen

        def titled(title: str) -> bool:
            made: list[str] = []
            done = sort.attempt(lambda: made.append(sorting.open_finding(sort.session.opened, title, chosen)))
            if done:
                sort.hand.lines["findings"] = made[0]
                self._sorted_now(chosen)
                view = sort.by_id[made[0]]
                sort.tell(f"F{view.finding.number}, a new finding with {taken_words(len(chosen))}.")
            return done

        if chosen:
            await sort.ask_until("what have they in common?", titled)

    def join(self) -> None:
        """Put the observations taken up into the finding in hand."""
        sort, view, chosen = self.screen, self.screen.finding_in_hand, self.screen.chosen
        if view is None or not chosen:
            return
        if sort.attempt(lambda: sorting.join(sort.session.opened, view.id, chosen)):
            self._sorted_now(chosen)
            sort.tell(f"{taken_words(len(chosen))} put into {finding_words(view)}.")

    def _sorted_now(self, chosen: list[str]) -> None:
        """Leave those that were sorted in their rows, and go on to the next loose one."""
        sort, pile = self.screen, self.screen.list_of("observations")
        sort.hand.taken.clear()
        sort.hand.kept |= set(chosen)
        sort.draw()
        at = next((index for index, each in enumerate(sort.shown) if each.target == pile.here), None)
        if at is None or not sort.shown[at].findings or sort.hand.inside:
            return
        ahead = next((each.target for each in sort.shown[at:] if not each.findings), None)
        if ahead is not None:
            pile.take(ahead)

    def part(self) -> None:
        """Take the observation in hand, or all that are taken up, out of the finding that is looked into."""
        sort, observation = self.screen, self.screen.observation_in_hand
        if observation is None or not observation.findings:
            return
        view = sort.finding_in_hand
        of = sort.hand.inside or (view.id if view is not None and view.id in observation.findings else "")
        of = of or observation.findings[0]
        inside = set(sort.by_id[of].finding.evidence)
        targets = [target for target in sort.chosen if target in inside] or [observation.target]
        if sort.change(lambda: sorting.part(sort.session.opened, of, targets)):
            sort.tell(f"Taken out of {finding_words(sort.by_id[of])}.")

    @asks
    async def split(self) -> None:
        """Make a finding of its own of some observations of the finding that is looked into."""
        sort, hand = self.screen, self.screen.hand
        whole, chosen = hand.inside, list(hand.taken)

        def titled(title: str) -> bool:
            made: list[str] = []
            opened = sort.session.opened
            done = sort.attempt(lambda: made.append(sorting.split(opened, whole, chosen, title)))
            if done:
                hand.taken.clear()
                hand.lines["findings"] = made[0]
                sort.draw()
                sort.tell(f"Split: {finding_words(sort.by_id[made[0]])}.")
            return done

        if whole and chosen:
            await sort.ask_until("what have these in common, and the others not?", titled)

    def merge(self) -> None:
        """Mark the finding in hand; at the next one, let the marked one be that."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is None:
            return
        first = sort.by_id.get(sort.hand.merging)
        if first is None:
            sort.hand.merging = view.id
            sort.list_of("findings").draw_again({view.id})
            sort.tell(f"{finding_words(view)} is ... m at the finding that it is; Esc leaves it.")
            return
        sort.hand.merging = ""
        if first.id == view.id:
            sort.list_of("findings").draw_again({view.id})
            sort.clear_notice()
        elif sort.change(lambda: sorting.merge(sort.session.opened, first.id, view.id)):
            sort.tell(f"F{first.finding.number} is {finding_words(view)} now, and leads there. u takes it back.")

    @asks
    async def retitle(self) -> None:
        """Give the finding in hand a better name."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is not None:
            opened = sort.session.opened
            await sort.ask_until(
                "a better name",
                lambda title: sort.change(lambda: sorting.retitle(opened, view.id, title)),
                value=view.title,
            )

    @asks
    async def sort_of(self) -> None:
        """Say which sort the finding in hand is of."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is None:
            return
        at = await sort.ask_one_of(f"F{view.finding.number} is", FINDING_SORTS)
        if at is not None:
            sort.change(lambda: sorting.sort_finding(sort.session.opened, view.id, FINDING_SORTS[at]))

    @asks
    async def tag(self) -> None:
        """Put a tag on the finding in hand; one that is there is taken off."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is None:
            return
        known = sorted({tag for each in sort.found.findings for tag in each.finding.tags})
        opened = sort.session.opened

        def tagged(words: str) -> bool:
            on = " ".join(words.split()) not in view.finding.tags
            return sort.change(lambda: sorting.tag(opened, view.id, words, on=on))

        await sort.ask_until("tag (one that is there is taken off)", tagged, suggestions=tuple(known))

    @asks
    async def place(self) -> None:
        """Put the finding in hand under a head, by its number; nothing takes it from there."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is None:
            return
        opened = sort.session.opened
        await sort.ask_until(
            "under which finding (F3; empty: under none)?",
            lambda head: sort.change(lambda: sorting.place_under(opened, view.id, head.strip())),
        )

    def take_up_carried(self) -> None:
        """Let a finding of an earlier study be one of this one, so that it can be judged and looked for."""
        sort, carried = self.screen, self.screen.carried_in_hand
        if carried is None:
            return
        made: list[str] = []
        opened = sort.session.opened
        if sort.attempt(lambda: made.append(sorting.open_carried(opened, carried.carried.id))):
            sort.hand.lines["findings"] = made[0]
            sort.draw()
            sort.tell(f"{finding_words(sort.by_id[made[0]])} is the one of {legible(carried.carried.source)}.")

    @asks
    async def words(self) -> None:
        """Write the words of the observation in hand."""
        sort, each = self.screen, self.screen.observation_in_hand
        if each is not None:
            await sort.ask_until(
                f"{each.kind} of {legible(each.participant)} at {each.at}",
                lambda words: sort.change(lambda: sorting.word_mark(sort.session.opened, each, words)),
                value=each.words,
            )

    @asks
    async def tie(self) -> None:
        """Tie the line in hand to another thing."""
        sort, view, each = self.screen, self.screen.finding_in_hand, self.screen.observation_in_hand
        if sort.hand.pile == "findings" and view is not None:
            tied = await tie(sort, f"finding:{view.id}")
        else:
            tied = each is not None and await tie(sort, each.target)
        if tied:
            sort.draw()

    def undo(self) -> None:
        """Take one's own last change back; the observations it had joined are taken up again."""
        sort = self.screen
        done: list[sorting.SortingTakenBack] = []
        if sort.attempt(lambda: done.append(sorting.take_back(sort.session.opened))):
            sort.draw()
            back = [each.target for each in sort.found.observations if each.target in done[0].targets]
            sort.hand.taken |= dict.fromkeys(target for target in back if not self._fed(target))
            sort.list_of("observations").draw_again(set(back))
            sort.draw_heads()
            sort.tell(f"Taken back: {done[0].words}. It stays on record, struck.")

    def _fed(self, target: str) -> bool:
        return target in self.screen.session.opened.findings.findings_of
