"""The documents for makers; they stand on the parts in telling."""
