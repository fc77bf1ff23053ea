"""Tell: documents and where they go."""
