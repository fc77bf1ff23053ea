"""A study file as a whole: made, checked from end to end, people erased from it."""
