"""Sheets of Tell."""
