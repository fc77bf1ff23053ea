"""Handouts and lists for the bench, as one PDF whose text can be selected."""
