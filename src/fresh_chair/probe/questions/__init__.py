"""What a chair is asked, as POSIX shell; imports the framing alone."""
