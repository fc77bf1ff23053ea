"""The full-screen application. Textual only here."""
