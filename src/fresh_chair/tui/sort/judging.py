"""How bad a finding is, from the lists; all else of it is judged on its page."""

from fresh_chair.core.findings.ledger import SEVERITY_WORDS
from fresh_chair.services.findings.judging import judge_severity
from fresh_chair.services.findings.ratings import rate
from fresh_chair.tui.base.parts import ScreenPart
from fresh_chair.tui.sort.base import SortBase
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR, Signs


def severity_choices(signs: Signs) -> list[Choice]:
    """The severities, each under its own digit."""
    return [
        Choice(str(severity), f"{signs.severities[severity]} {words}", SEVERITY_COLOUR[severity])
        for severity, words in enumerate(SEVERITY_WORDS)
    ]


class Judging(ScreenPart[SortBase]):
    """The severity of the finding in hand: the reviewer's, or a rater's own."""

    def may(self, act: str, *arguments: object) -> bool:
        """A finding has to be in hand."""
        return self.screen.hand.pile == "findings" and self.screen.finding_in_hand is not None

    @asks
    async def severity(self) -> None:
        """Say how bad the finding in hand is, then why."""
        sort, view = self.screen, self.screen.finding_in_hand
        if view is None:
            return
        opened, rater = sort.session.opened, sort.hand.rater
        suggested = view.suggestion.severity
        told = [f"typed at once: {', '.join(map(str, view.typed))}" if view.typed else ""]
        told.append(f"suggested: {suggested}" if suggested is not None else "")
        hint = "; ".join(filter(None, told))
        key = await sort.ask_choice(f"how bad is it?{f' ({hint})' if hint else ''}", severity_choices(sort.signs))
        if key is None:
            return
        mine = view.finding.ratings.get(rater)
        value = (mine.reason if mine is not None else "") if rater else view.reason

        def judged(why: str) -> bool:
            if rater:
                return sort.change(lambda: rate(opened, view.id, int(key), why, rater))
            return sort.change(lambda: judge_severity(opened, view.id, int(key), why))

        await sort.ask_until(f"severity {key}, because", judged, value=value)
