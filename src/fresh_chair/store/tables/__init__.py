"""The tables of a study in the SQL that every database we keep studies in understands; it imports no driver."""
