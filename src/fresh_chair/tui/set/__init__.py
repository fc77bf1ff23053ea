"""Set: one chair at a time, and its sheets."""
