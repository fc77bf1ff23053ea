"""Figures about speed and memory: `make bench`. Printed, never asserted."""
