"""The state of findings and of their parts; may import the plan, targets of evidence and the base of ledgers."""
