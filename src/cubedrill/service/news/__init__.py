"""The start page."""
