"""The course of attempts: the machine's share of their time, and the ways people went; may import the facts."""
