"""Plan: the seating board and its sheets."""
