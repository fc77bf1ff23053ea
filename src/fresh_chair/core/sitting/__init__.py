"""A sitting: its entries, the rules of their order, replay, attempts, corrections. Imports core.plan."""
