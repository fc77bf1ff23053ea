"""Widgets that only Sit draws."""
