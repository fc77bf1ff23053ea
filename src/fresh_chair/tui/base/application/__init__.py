"""The application under all screens: the terminal's bytes, keys one at a time, failures; may import services."""
