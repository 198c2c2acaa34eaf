"""What submissions are worth and why: marks, review, re-checks, the board, class mistakes, downloads."""
