"""What is said: facts into documents and data files. Jinja2 only here."""
