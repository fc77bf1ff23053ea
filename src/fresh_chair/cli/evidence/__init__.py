"""Commands about evidence: records of a chair, records of the study, the later list."""
