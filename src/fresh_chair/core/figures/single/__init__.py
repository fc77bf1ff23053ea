"""One task at two chairs, by the same people or different ones, and preference; may import facts, times and rates."""
