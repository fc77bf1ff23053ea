"""Use cases of a chair: asked, compared with its baseline, and put on record."""
