"""Sittings as text, out and in, and notes with times; may import the sitting's own room, and core."""
