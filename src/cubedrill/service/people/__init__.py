"""Accounts, classes and the people in them."""
