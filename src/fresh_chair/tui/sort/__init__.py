"""Sort: snags into findings."""
