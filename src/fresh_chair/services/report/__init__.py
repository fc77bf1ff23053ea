"""Use cases of documents: reports, charts, data and printed sheets, written whole or not at all."""
