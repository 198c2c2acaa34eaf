"""Assigning a version to a class: dates, attempts, feedback."""
