"""Causes: which typical mistake leads to what was submitted, and does the tolerance tell mistakes apart?

To add a mistake, write a function from a `StepContext` (a step of the reference) to the `Mutation`s of the
reference, and add a `Mistake` with its code and its words to the tuple of its family (`values`, `spaces`, `order`;
`files` for whole files).
"""
