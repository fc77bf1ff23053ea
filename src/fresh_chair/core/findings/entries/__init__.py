"""Entries of the sorting ledger by family; may import the findings' state and records, and the ledgers' base."""
