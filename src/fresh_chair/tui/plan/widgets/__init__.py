"""Widgets that only Plan draws."""
