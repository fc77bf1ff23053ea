"""One module a place, its style beside it."""
