"""Many files of one exercise judged: in as many processes as there are cores, and told in the order of the files."""

from __future__ import annotations

import gc
import logging
import os
import signal
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Final, TypeVar

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission, mark_one, mark_sheets
from cubedrill.core.judging.submission import SheetSubmission
from cubedrill.core.judging.verdict import Marks
from cubedrill.formats.documents import AnySubmission, FormatError, Read, bytes_of, submission_in
from cubedrill.formats.outputs import error_output, report_output

SHEETS_TOGETHER: Final = 500  # enough for the arrays to pay, few enough that memory stays as it is
REPORTS_TOGETHER: Final = 10

_LOG: Final = logging.getLogger(__name__)

Line = dict[str, Any]
Told = TypeVar("Told")


class Judge:
    """An exercise made ready once, for all that is handed in for it."""

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

    def reports(self, files: Sequence[Path]) -> list[tuple[Line, str | None]]:
        """Return the line that `check --json` prints for each file, and the sentence that says why it has no report."""
        return [self._report(file) for file in files]

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

    def _report(self, file: Path) -> tuple[Line, str | None]:
        read = self._read(file)
        if isinstance(read, str):
            return _without_report(file, "unreadable", read)
        try:
            report = judge_submission(self.exercise, self.start, self.target, read.document, self.explainer)
        except CoreError as error:
            return {"submission": str(file), **error_output(error)}, f"{file.name}: {error.text}"
        except Exception:
            return _without_report(file, "fault", _fault(file))
        return report_output(report, str(file), read.notes), None


def _without_report(file: Path, code: str, sentence: str) -> tuple[Line, str]:
    error = {"step": None, "object": None, "code": code, "text": sentence}
    return {"submission": str(file), "error": error}, sentence


def _fault(file: Path) -> str:
    """Log the exception that is being handled, and return the sentence that stands in the place of a verdict."""
    _LOG.exception("a fault of the program at %s", file)
    return f"{file.name}: it could not be judged because of a fault in the program, which was logged; report it."


@dataclass(frozen=True)
class Asked:
    """What is judged, and how: chosen as for `Judge`; jobs: so many processes at most, none for one a core."""

    exercise: Exercise
    chosen: Mapping[str, str] = field(default_factory=dict)
    jobs: int | None = None


def marks_of(asked: Asked, files: Sequence[Path]) -> Iterator[Marks | str]:
    """Yield `Judge.marks` of files."""
    return _spread(Judge.marks, asked, files, SHEETS_TOGETHER)


def reports_of(asked: Asked, files: Sequence[Path]) -> Iterator[tuple[Line, str | None]]:
    """Yield `Judge.reports` of files."""
    return _spread(Judge.reports, asked, files, REPORTS_TOGETHER)


def _spread(
    work: Callable[[Judge, Sequence[Path]], list[Told]], asked: Asked, files: Sequence[Path], together: int
) -> Iterator[Told]:
    batches = [files[first : first + together] for first in range(0, len(files), together)]
    hands = min(asked.jobs or len(os.sched_getaffinity(0)), len(batches))
    if hands < 2:
        judge = Judge(asked.exercise, asked.chosen)
        return (told for batch in batches for told in work(judge, batch))
    # The processes are made here and now: not later, beside the thread that draws a progress bar.
    pool = ProcessPoolExecutor(hands, initializer=_begin, initargs=(asked,))
    return _collected(pool, pool.map(_work, ((work, batch) for batch in batches)))


def _collected(pool: ProcessPoolExecutor, batches: Iterator[list[Told]]) -> Iterator[Told]:
    try:
        for batch in batches:
            yield from batch
    finally:
        pool.shutdown(cancel_futures=True)


_HERE: Final[list[Judge]] = []  # in a process of the pool: the one that it makes for all its batches


def _begin(asked: Asked) -> None:
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C ends the command, which ends its processes
    gc.freeze()  # what is there stays; of what is read, much is made and little of it refers to itself
    gc.set_threshold(20_000)
    _HERE.append(Judge(asked.exercise, asked.chosen))


def _work(task: tuple[Callable[[Judge, Sequence[Path]], list[Told]], Sequence[Path]]) -> list[Told]:
    work, batch = task
    return work(_HERE[0], batch)
