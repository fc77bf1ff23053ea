"""A study as one SQLite file."""
