"""Commands of figures and documents."""
