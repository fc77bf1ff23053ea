"""A chair as read or recorded: identity, state, drift, readings, records, and their ledger. Imports core.plan."""
