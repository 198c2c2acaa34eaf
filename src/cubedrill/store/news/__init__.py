"""Notices and live changes."""
