"""Shared by all commands: a study for the length of one, arguments, and printing; imports no command."""
