"""Sit: a sitting logged, looked back at, corrected."""
