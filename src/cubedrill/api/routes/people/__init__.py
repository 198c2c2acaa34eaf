"""Routes of accounts, classes and members."""
