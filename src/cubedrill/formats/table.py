"""The table of marks that `check --csv` writes: a line a submission, with the points of each check."""

from __future__ import annotations

import csv
from collections.abc import Iterable
from pathlib import Path
from typing import Final, TextIO

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.verdict import Marks

FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet reads as the beginning of a formula


def write_marks(exercise: Exercise, stream: TextIO, files: Iterable[Path], marks: Iterable[Marks | str]) -> list[str]:
    """Write the table of marks, one row per file, as the marks come.

    Parameters
    ----------
    exercise : Exercise
    stream : text file opened with ``newline=""``
    files : iterable of Path
    marks : iterable of Marks or str
        For each file its marks, or the sentence that says why it has none.

    Returns
    -------
    list of str
        The sentences of the files without marks.
    """
    checks = [f"points of {check.id}" for check in exercise.checks]
    table = csv.writer(stream)
    table.writerow(["submission", "points", "of", "score", "passed", "error", *checks])
    failures = []
    for file, found in zip(files, marks, strict=True):
        if isinstance(found, str):
            failures.append(found)
            table.writerow([guarded(str(file)), "", "", "", "", guarded(found), *[""] * len(checks)])
        else:
            table.writerow([guarded(str(file)), *found[:4], "", *found.by_check])
    return failures


def guarded(text: str) -> str:
    """Return a text that no spreadsheet takes for a formula (OWASP, "CSV Injection": a quote before it)."""
    return f"'{text}" if text.startswith(FORMULA) else text


def unguarded(text: str) -> str:
    """Return a text without the quote that `guarded` put before it."""
    return text[1:] if text.startswith(tuple(f"'{first}" for first in FORMULA)) else text
