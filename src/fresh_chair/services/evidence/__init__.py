"""Evidence: files attached to marks, steps and records; imports the open study and the writers of sittings."""
