"""The starter library: task cards in the script format, one file an area."""
