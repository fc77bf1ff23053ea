"""The machine's share: waits by how they looked, restarts, hands against elapsed time; chair by chair, then by task."""

from collections.abc import Iterator, Sequence

from textual.content import Content

from fresh_chair.core.clock import clock_text
from fresh_chair.core.figures.course.machine import MachineShare
from fresh_chair.core.figures.estimate import Estimate
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.machine import elapsed_sentences
from fresh_chair.tui.weigh.sheets.base import WeighSheet
from fresh_chair.tui.widgets.signs import chair_colour

_SECOND = 10**9


class MachineSheet(WeighSheet):
    """Where the time went that was not the person's."""

    sheet_name = "machine"
    title_words = "the machine's share"
    about = (
        "How long people waited at each chair, what they saw meanwhile, and how much longer everything took for it. "
        "Counted first tries only; talk within a wait is in the kinds of waits and not in their sum."
    )

    def about_words(self) -> str:
        """The kinds of figures."""
        return "waits, restarts, hands against elapsed time"

    def lines(self, width: int) -> Sequence[Content]:
        """Each chair, then each task; last the comparison by elapsed time."""
        parts: list[Content] = [Content.styled(_columns(width), "bold $thread")]
        study = self.weighing.study
        titles = {card.id: card.title for card in study.cards}
        before = None
        for share in self.weighing.machine:
            if share.card != before:
                before = share.card
                head = legible(titles[share.card]) if share.card else "all tasks"
                parts += [Content(""), Content.styled(head, "bold $chalk")]
            parts += self._row(share, width)
        parts += [Content(""), Content.styled("elapsed time over all tasks, compared like hands time", "bold $chalk")]
        parts += [Content.styled(f"  {legible(said)}", "$chalk") for said in elapsed_sentences(self.weighing)]
        return parts

    def _row(self, share: MachineShare, width: int) -> Iterator[Content]:
        chair = self.weighing.study.chair_by_letter[share.chair]
        name = clipped(f"{chair.letter} {legible(chair.title)}", 17)
        if not share.attempts:
            yield Content.assemble((f"  {name:<18}", chair_colour(chair)), ("nobody yet", "$thread"))
            return
        part = f"{100 * (share.share or 0):.0f} %"
        kinds = [_clock(s) for s in (share.shown_seconds, share.silent_seconds, share.frozen_seconds)]
        row = f"{_clock(share.wait_seconds):>9}{part:>6}" + "".join(f"{each:>8}" for each in kinds)
        longest = _clock(share.longest_silent_seconds)
        rest = f"{longest:>9}{share.restarts:>6}{share.new_logins:>6}"
        times = f"{_mean(share.completed_hands):>9}{_mean(share.completed_elapsed):>9}"
        shown = row + rest + times if width >= _ALL else row + rest
        yield Content.assemble((f"  {name:<18}", chair_colour(chair)), (shown, "$chalk"))


_ALL = 20 + 15 + 24 + 21 + 18


def _columns(width: int) -> str:
    head = f"{'':20}{'waits':>9}{'':>6}{'shown':>8}{'silent':>8}{'frozen':>8}{'longest':>9}{'rest.':>6}{'login':>6}"
    return head + (f"{'hands':>9}{'elapsed':>9}" if width >= _ALL else "")


def _clock(seconds: float) -> str:
    return clock_text(round(seconds * _SECOND)) if seconds else "-"


def _mean(estimate: Estimate) -> str:
    return "-" if estimate.value is None else f"{estimate.value:.0f} s"
