"""Sheets about the evidence of a study: the later list; imports the base of the screens."""
