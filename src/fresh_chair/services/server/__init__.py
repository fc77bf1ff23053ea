"""Servers that studies are on: made ready, looked at; it knows stores, and no study's contents."""
