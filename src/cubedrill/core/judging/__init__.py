"""Judging: what was submitted against what was wanted, and why it missed."""
