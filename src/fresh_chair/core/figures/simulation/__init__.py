"""Studies drawn from a stated truth, to hold the comparison's rule against; may import the rule and its rows."""
