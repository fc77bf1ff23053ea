"""A sitting as plain text, written and read. Imports core.sitting."""
