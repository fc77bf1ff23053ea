"""A plan as text: the outline, the script, one field a line, people as CSV. Imports core.plan."""
