"""Sheets of Sort about all findings; may import the base, Sort and the widgets."""
