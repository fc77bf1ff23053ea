"""Sentences about figures and of documents, in one catalogue; imports figures and the rooms below."""
