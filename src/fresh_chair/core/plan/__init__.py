"""A plan: study, cards, people, chairs as planned, orders and their balance, dated changes. Imports the root only."""
