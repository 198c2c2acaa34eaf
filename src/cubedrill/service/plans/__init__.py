"""Making exercises: the library, plans, trial runs, publishing."""
