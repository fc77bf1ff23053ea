"""The questions to a chair, as POSIX shell, and their framing in one script."""
