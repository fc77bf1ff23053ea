"""Criteria and scores as records: the things scorecards count, and the reviewer's own scores with their reasons."""

from fresh_chair.tui.weigh.sheets.judgements import JudgementSheet


class CriteriaSheet(JudgementSheet):
    """One line a criterion, a score, or an answer to a contradiction."""

    sheet_name = "criteria"
    title_words = "criteria and scores"
    about = (
        "A criterion is mapped from a figure by a stated rule, or scored by you with a reason. Its weight can be "
        "given for everyone or for one audience. & ties a score to what it rests on."
    )
    kinds = ("criterion", "score", "answer")

    def action_back(self) -> None:
        """Go back to the scorecard."""
        if self.weighing is None:
            self.action_go("weigh")
        else:
            self.open_sheet("scorecard", self.weighing)
