"""Judgement of chairs: scorecards and contradictions; may import figures, findings and evidence records."""
