"""Figures as functions of attempts: each says its question, its assumptions and its source."""
