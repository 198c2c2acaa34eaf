"""Saltmere Harbour: the made-up class, exercises and submissions of the demo."""
