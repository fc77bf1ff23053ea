"""Chairs compared over all tasks; may import the facts, the estimates and the corrections of the figures."""
