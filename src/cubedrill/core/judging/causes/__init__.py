"""Causes: which typical mistake leads to what was handed in, and does the tolerance tell mistakes apart?

To add a mistake: a function from a `Slot` (a step of the reference) to the references altered by it, and a `Mistake`
with its code and its words in the tuple of its family (`values`, `spaces`, `order`; `files` for whole files).
"""
