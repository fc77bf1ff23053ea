"""The command line: everything on screen can be had here too: law 8."""
