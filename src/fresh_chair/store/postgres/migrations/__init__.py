"""The tables, rights and triggers of a server, version by version."""
