"""Widgets that only Sort draws."""
