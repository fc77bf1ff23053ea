"""Asking a chair: the questions, how they travel, and the meaning of the answers."""
