"""The language of checks: its parser, and what a state says to a check. Imports core.chair."""
