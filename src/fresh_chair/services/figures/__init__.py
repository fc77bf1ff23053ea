"""Use cases of figures: the open study's, computed."""
