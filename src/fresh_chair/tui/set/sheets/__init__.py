"""The sheets of Set, one a module."""
