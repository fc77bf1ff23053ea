"""Weigh: one task at a time across chairs."""
