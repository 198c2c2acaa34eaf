"""The table of marks that `check --csv` writes: a line a submission, with the points of each check."""

from __future__ import annotations

import csv
from typing import Final, TextIO

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.verdict import Marks

FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet reads as the beginning of a formula


class MarksTable:
    """Lines of marks, written as they come."""

    def __init__(self, exercise: Exercise, stream: TextIO) -> None:
        """Begin a table of an exercise with its headings."""
        checks = [f"points of {check.id}" for check in exercise.checks]
        self._table = csv.writer(stream)
        self._table.writerow(["submission", "points", "of", "score", "passed", "error", *checks])
        self._blank = [""] * len(checks)

    def add(self, file: str, marks: Marks | str) -> None:
        """Add a submission's marks, or the sentence that says why it has none."""
        if isinstance(marks, str):
            self._table.writerow([guarded(file), "", "", "", "", guarded(marks), *self._blank])
        else:
            self._table.writerow([guarded(file), *marks[:4], "", *marks.by_check])


def guarded(text: str) -> str:
    """Return a text that no spreadsheet takes for a formula (OWASP, "CSV Injection": a quote before it)."""
    return f"'{text}" if text.startswith(FORMULA) else text


def unguarded(text: str) -> str:
    """Return a text without the quote that `guarded` put before it."""
    return text[1:] if text.startswith(tuple(f"'{first}" for first in FORMULA)) else text
