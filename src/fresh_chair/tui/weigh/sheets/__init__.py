"""Sheets of Weigh, one to a module."""
