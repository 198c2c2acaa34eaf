"""Check many files of one exercise, on all cores; results come in the order of the files."""

from __future__ import annotations

import gc
import logging
import os
import signal
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final, TypeVar

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission, mark_one, mark_sheets
from cubedrill.core.judging.submission import AnySubmission, SheetSubmission
from cubedrill.core.judging.verdict import Marks
from cubedrill.core.judging.verdict import Report as CoreReport
from cubedrill.formats.documents import FormatError, Read, bytes_of, submission_in
from cubedrill.formats.outputs import error_output, report_output
from cubedrill.library.reports import Report, report_from

SHEETS_TOGETHER: Final = 500  # enough for the arrays to pay, few enough that memory stays as it is
REPORTS_TOGETHER: Final = 10

_LOG: Final = logging.getLogger(__name__)

Line = dict[str, object]
Result = TypeVar("Result")


@dataclass(frozen=True)
class Failure:
    """Why a file has no report: the sentence for people, and the entry `error` for programs."""

    text: str
    output: Line

    @classmethod
    def with_code(cls, code: str, text: str) -> Failure:
        """Return the failure of a file that cannot be read, or of the program."""
        return cls(text, {"error": {"step": None, "object": None, "code": code, "text": text}})


class Judge:
    """An exercise prepared once, for all its submissions."""

    def __init__(self, exercise: Exercise, chosen: Mapping[str, str]) -> None:
        """Work out the start and the target; raise the CoreError of an exercise that cannot be carried out.

        chosen: conventions of scene files that do not say theirs.
        """
        self.exercise, self.chosen = exercise, chosen
        self.start, self.target = exercise.start_scene(), exercise.target_scene()
        self.explainer = Explainer(exercise, self.start, self.target)

    def marks(self, files: Sequence[Path]) -> list[Marks | str]:
        """Return the marks of each file, or the sentence that says why it has none; sheets are marked together."""
        read = [each.document if isinstance(each, Read) else each for each in map(self._read, files)]
        try:
            sheets = [each for each in read if isinstance(each, SheetSubmission)]
            of_sheets: Iterator[Marks | CoreError] | None = iter(
                mark_sheets(self.exercise, self.start, self.target, sheets)
            )
        except Exception:
            _LOG.exception("sheets could not be marked together, and are marked one by one")
            of_sheets = None
        found: list[Marks | str] = []
        for file, each in zip(files, read, strict=True):
            if isinstance(each, str):
                found.append(each)
                continue
            together = of_sheets is not None and isinstance(each, SheetSubmission)
            marks = next(of_sheets) if of_sheets and together else self._marked(file, each)
            found.append(f"{file.name}: {marks.text}" if isinstance(marks, CoreError) else marks)
        return found

    def lines(self, files: Sequence[Path]) -> list[tuple[Line, str | None]]:
        """Return the line that `check --json` prints for each file, and the sentence that says why it has no report."""
        return [
            ({"submission": str(file), **found.output}, found.text)
            if isinstance(found, Failure)
            else (report_output(found[0], str(file), found[1]), None)
            for file, found in zip(files, map(self._report, files), strict=True)
        ]

    def reports(self, files: Sequence[Path]) -> list[Report]:
        """Return the report of each file; a file without a verdict has its reason as `error`."""
        return [
            Report(str(file), error=found.text)
            if isinstance(found, Failure)
            else report_from(found[0], str(file), found[1])
            for file, found in zip(files, map(self._report, files), strict=True)
        ]

    def judged(self, submission: AnySubmission) -> CoreReport:
        """Return the report of a submission; raise the CoreError of one that cannot be carried out."""
        return judge_submission(self.exercise, self.start, self.target, submission, self.explainer)

    def _read(self, file: Path) -> Read | str:
        try:
            return submission_in(bytes_of(file), file.name, self.exercise, self.chosen)
        except FormatError as error:
            return str(error)
        except Exception:
            return _fault(file)

    def _marked(self, file: Path, submission: AnySubmission) -> Marks | CoreError | str:
        try:
            return mark_one(self.exercise, self.start, self.target, submission)
        except Exception:
            return _fault(file)

    def _report(self, file: Path) -> tuple[CoreReport, tuple[str, ...]] | Failure:
        """Return the report of a file with its import notes."""
        read = self._read(file)
        if isinstance(read, str):
            return Failure.with_code("unreadable", read)
        try:
            return self.judged(read.document), read.notes
        except CoreError as error:
            return Failure(f"{file.name}: {error.text}", error_output(error))
        except Exception:
            return Failure.with_code("fault", _fault(file))


def _fault(file: Path) -> str:
    """Log the current exception, and return the sentence that stands in for a verdict."""
    _LOG.exception("a fault of the program at %s", file)
    return f"{file.name}: it could not be judged because of a fault in the program, which was logged; report it."


@dataclass(frozen=True)
class Batch:
    """An exercise with the options of `Judge`, and the largest number of processes (None: one per core)."""

    exercise: Exercise
    chosen: Mapping[str, str] = field(default_factory=dict)
    jobs: int | None = None


def marks_of(batch: Batch, files: Sequence[Path]) -> Iterator[Marks | str]:
    """Yield `Judge.marks` of files."""
    return _spread(Judge.marks, batch, files, SHEETS_TOGETHER)


def lines_of(batch: Batch, files: Sequence[Path]) -> Iterator[tuple[Line, str | None]]:
    """Yield `Judge.lines` of files."""
    return _spread(Judge.lines, batch, files, REPORTS_TOGETHER)


def reports_of(batch: Batch, files: Sequence[Path]) -> Iterator[Report]:
    """Yield `Judge.reports` of files."""
    return _spread(Judge.reports, batch, files, REPORTS_TOGETHER)


def _spread(
    work: Callable[[Judge, Sequence[Path]], list[Result]], batch: Batch, files: Sequence[Path], together: int
) -> Iterator[Result]:
    parts = [files[first : first + together] for first in range(0, len(files), together)]
    processes = min(batch.jobs or len(os.sched_getaffinity(0)), len(parts))
    if processes < 2:
        judge = Judge(batch.exercise, batch.chosen)
        return (result for part in parts for result in work(judge, part))
    # The processes start now, not later beside the thread that draws a progress bar.
    pool = ProcessPoolExecutor(processes, initializer=_begin, initargs=(batch,))
    return _collected(pool, pool.map(_work, ((work, part) for part in parts)))


def _collected(pool: ProcessPoolExecutor, parts: Iterator[list[Result]]) -> Iterator[Result]:
    try:
        for part in parts:
            yield from part
    finally:
        pool.shutdown(cancel_futures=True)


_HERE: Final[list[Judge]] = []  # in a process of the pool: the one judge for all its parts


def _begin(batch: Batch) -> None:
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C ends the command, which ends its processes
    gc.freeze()  # what was imported stays; reading makes many values with few cycles
    gc.set_threshold(20_000)
    _HERE.append(Judge(batch.exercise, batch.chosen))


def _work(task: tuple[Callable[[Judge, Sequence[Path]], list[Result]], Sequence[Path]]) -> list[Result]:
    work, part = task
    return work(_HERE[0], part)
