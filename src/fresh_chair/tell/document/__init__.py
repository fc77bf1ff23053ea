"""One model of every document, and its renderers; it imports the core alone."""
