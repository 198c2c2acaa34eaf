"""Working on an exercise: bench, sheet, imported files, submitting."""
