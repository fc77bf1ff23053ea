"""Asking a chair: what is asked, how the question travels, and what the answer means."""
