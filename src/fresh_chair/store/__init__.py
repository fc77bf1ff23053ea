"""The study on disk: one SQLite file. Hands out core objects, never rows."""
