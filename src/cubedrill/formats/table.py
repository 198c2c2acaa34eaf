"""The table of marks that `check --csv` writes: a line a submission, with the points of each check."""

from __future__ import annotations

import csv
from typing import TextIO

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.verdict import Marks


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
            self._table.writerow([file, "", "", "", "", marks, *self._blank])
        else:
            self._table.writerow([file, *marks[:4], "", *marks.by_check])
