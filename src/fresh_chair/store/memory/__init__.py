"""A third store, in memory."""
