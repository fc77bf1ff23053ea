"""Use cases of a plan: its fields, script, people, chairs, orders, schedule, and the seating board."""
