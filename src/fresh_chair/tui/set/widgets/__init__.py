"""Widgets that only Set draws."""
