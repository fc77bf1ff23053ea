"""The chair as the third witness of an attempt: asked beside the screen, put into the journal when it answers."""

from dataclasses import dataclass
from typing import cast

from fresh_chair.core.clock import Moment
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.text import clipped
from fresh_chair.services.chair.enquiries import AFTER, BEFORE, lines_of
from fresh_chair.services.chair.reader import ChairReader
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy


@dataclass(slots=True)
class Witness:
    """One question to the chair about one card.

    Attributes:
        attempt: The attempt's number; 0 before it was started.
        when: Before or after it.
    """

    opened: OpenStudy
    sitting: int
    card: str
    attempt: int
    when: str
    reader: ChairReader

    @property
    def ready(self) -> bool:
        """True once the chair has answered, or cannot."""
        return not self.reader.running

    def put_down(self, moment: Moment) -> j.ChairWitnessed:
        """Put its answer into the journal; a chair that could not be asked is on record as that. Raises NotSaved."""
        if self.reader.bug is not None:
            raise self.reader.bug
        says, evidence = "cannot tell", ""
        if self.reader.problem is not None:
            evidence = self.reader.problem.title
        elif self.reader.brought:
            cards = self.reader.brought[-1].data.get("cards", {})
            found = cards.get(self.card)
            if found is not None:
                says = found["chair_says"]
                told = [check["evidence"] for check in found["checks"] if check["chair_says"] == says]
                evidence = "; ".join(told)
        content = j.ChairWitnessed(
            self.attempt,
            self.card,
            "before" if self.when == BEFORE else "after",
            cast("j.ChairSays", says),
            clipped(evidence, 400),
        )
        LiveSitting(self.opened, self.opened.study.seat(self.sitting)).log(content, moment)
        return content


def ask_witness(opened: OpenStudy, sitting: int, card: str, attempt: int, when: str) -> Witness | None:
    """Begin to ask the chair; None where there is no way to it, or nothing to ask.

    Args:
        opened: The study.
        sitting: The planned sitting's number.
        card: The card.
        attempt: The attempt's number; 0 before it was started.
        when: `before` or `after`.
    """
    letter = opened.study.seat(sitting).chair
    reach = opened.known_chairs.of(letter).reach
    if not reach or reach == "courier" or not opened.writable:
        return None
    enquiry = BEFORE if when == "before" else AFTER
    if not lines_of(opened, letter, enquiry, [card]):
        return None
    reader = ChairReader(opened, letter, [enquiry], cards=[card])
    reader.start()
    return Witness(opened, sitting, card, attempt, enquiry, reader)


def contradiction(outcome: Outcome | None, says: str) -> str:
    """The chair's answer against the judgement, in a sentence; empty where they do not contradict each other."""
    if outcome is None or not outcome.counts:
        return ""
    if outcome.completed and says == "contradicted":
        return "The chair shows otherwise: it did not happen there."
    if outcome.completed and says == "was so before":
        return "The chair shows that it was so before anyone tried."
    if not outcome.completed and outcome is not Outcome.PARTLY and says == "confirmed":
        return "The chair shows that it did happen."
    return ""
