"""Drawings of Tell: a document as lines, figures small, where it goes."""
