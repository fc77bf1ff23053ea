"""The rules and figures of a study: no interface, no files, no clocks of its own."""
