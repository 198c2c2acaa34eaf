"""The table of marks that `check --csv` writes: a line a submission, with the points of each check."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from itertools import islice
from pathlib import Path
from typing import TextIO

from cubedrill.core.errors import CoreError
from cubedrill.core.exercise import Exercise
from cubedrill.core.judge import judge_handed, mark_sheets
from cubedrill.core.scene import Scene
from cubedrill.core.submission import SheetSubmission, handed
from cubedrill.core.verdict import Marks
from cubedrill.formats.documents import AnySubmission, FormatError, read_submission_of

TOGETHER = 500  # files at once: enough for the arrays to pay, few enough that memory stays as it is


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


def marked(exercise: Exercise, files: Iterable[Path]) -> Iterator[tuple[Path, Marks | str]]:
    """Yield the marks of each file, or the sentence that says why it has none; many sheets are marked at once."""
    start, target = exercise.start_scene(), exercise.target_scene()
    waiting = iter(files)
    while batch := list(islice(waiting, TOGETHER)):
        read = [_read(exercise, file) for file in batch]
        sheets = [each for each in read if isinstance(each, SheetSubmission)]
        of_sheets = iter(mark_sheets(exercise, start, target, sheets))
        for file, each in zip(batch, read, strict=True):
            if isinstance(each, str):
                yield file, each
                continue
            found = next(of_sheets) if isinstance(each, SheetSubmission) else _marked(exercise, start, target, each)
            yield file, f"{file.name}: {found.text}" if isinstance(found, CoreError) else found


def _read(exercise: Exercise, file: Path) -> AnySubmission | str:
    try:
        return read_submission_of(exercise, file)
    except FormatError as error:
        return str(error)


def _marked(exercise: Exercise, start: Scene, target: Scene, submission: AnySubmission) -> Marks | CoreError:
    try:
        return judge_handed(exercise, target, handed(start, target, submission)).marks
    except CoreError as error:
        return error
