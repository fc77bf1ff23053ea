"""Sentences about a plan that is still to be run; may import the figures and the catalogue of words."""
