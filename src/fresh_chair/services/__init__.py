"""Use cases: the only thing a screen or a command holds."""
