"""Marks and causes, review, re-checks, the board, class mistakes, downloads of marks."""
