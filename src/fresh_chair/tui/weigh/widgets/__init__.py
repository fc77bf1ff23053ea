"""Widgets that only Weigh draws."""
