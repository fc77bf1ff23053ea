"""Servers, networks and stations that fail while people log."""
