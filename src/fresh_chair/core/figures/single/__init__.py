"""Tests of one task at two chairs with different people, and of the order of preference; may import the estimates."""
