"""Use cases of judgement: the first page, verdicts, scorecards, contradictions."""
