"""`fresh-chair finding`: observations into findings, and judging these; may import the base of the commands."""
