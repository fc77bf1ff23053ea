"""What is true of a study: no interface, no files, no clocks of its own."""
