"""Routes of drafts, files and submitting."""
