"""Marks, reviews and re-checks."""
