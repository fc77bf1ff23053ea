"""The entries of walks: begun, steps, lines, the chair in motion, contests; they import the base of all entries."""
