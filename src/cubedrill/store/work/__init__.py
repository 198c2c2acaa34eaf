"""Drafts, sheets, files and submissions."""
