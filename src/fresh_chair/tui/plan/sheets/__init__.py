"""The sheets of Plan, one a module."""
