"""Documents and data files, made from facts. Jinja2 only here."""
