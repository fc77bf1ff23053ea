"""Use cases of findings: snags sorted."""
