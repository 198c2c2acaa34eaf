"""Accounts, classes and members."""
