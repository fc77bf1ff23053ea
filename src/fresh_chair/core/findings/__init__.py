"""Snags sorted into findings: the ledger, and who met each. Imports core.plan and core.sitting."""
