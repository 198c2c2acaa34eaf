"""Judging: what was handed in against what was wanted, and why it missed."""
