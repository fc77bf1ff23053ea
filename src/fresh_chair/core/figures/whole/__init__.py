"""Every figure of a study together; may import all other rooms of the figures."""
