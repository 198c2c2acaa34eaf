"""Load an exercise, and check one submission or a folder of them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from os import PathLike
from pathlib import Path
from typing import Final

from pydantic import TypeAdapter, ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise as CoreExercise
from cubedrill.core.judging.submission import AnySubmission, SceneFile, SceneSubmission, StepsSubmission
from cubedrill.core.steps import Step
from cubedrill.formats.conversion import specs_of
from cubedrill.formats.documents import (
    FormatError,
    bytes_of,
    read_exercise,
    steps_of_text,
    submission_in,
)
from cubedrill.formats.folder import SUFFIXES, submission_files
from cubedrill.formats.places import sentence_of
from cubedrill.formats.table import write_marks
from cubedrill.library.batch import Batch, Judge, marks_of, reports_of
from cubedrill.library.reports import CubeDrillError, Report, report_from
from cubedrill.library.scenes import Scene

Submitted = str | PathLike[str] | Scene | Sequence[str | Mapping[str, object]]
"""A file, a scene, or steps: as sentences or as values with the keys of docs/steps.md."""


def load(path: str | PathLike[str]) -> Exercise:
    """Load an exercise from its file.

    Raises
    ------
    CubeDrillError
        If the file cannot be read, or is not an exercise that can be carried out.

    Examples
    --------
    >>> import cubedrill as cd
    >>> cd.load("src/cubedrill/demo/exercises/lock-gate.json").title
    'Open the lock gate'
    """
    try:
        return Exercise(read_exercise(Path(path)))
    except FormatError as error:
        raise CubeDrillError(str(error)) from None


class Exercise:
    """An exercise: its start, its target, and its checks."""

    def __init__(self, core: CoreExercise) -> None:
        self.core: Final = core

    @property
    def id(self) -> str:
        """The exercise's id, which submissions name."""
        return self.core.id

    @property
    def title(self) -> str:
        """The title that students see."""
        return self.core.title

    @property
    def start(self) -> Scene:
        """The scene that students start from."""
        return Scene(self._judge.start)

    @property
    def target(self) -> Scene:
        """The scene to reach."""
        return Scene(self._judge.target)

    def check(self, submission: Submitted, **conventions: str) -> Report:
        """Check one submission and say why it missed.

        Parameters
        ----------
        submission : path, str, Scene or sequence
            A file of any kind that the product reads (scene, sheet, steps); a `Scene`; steps as a list of values or
            sentences; or step sentences as text, one per line. A string is a path if it ends with the suffix of such
            a file, and text otherwise.
        **conventions : str
            What a scene file does not say itself: ``up``, ``handedness``, ``length``. Otherwise it is guessed, and the
            report's notes say so.

        Returns
        -------
        Report

        Raises
        ------
        CubeDrillError
            If the submission cannot be read, or a step cannot be done.

        Examples
        --------
        >>> import cubedrill as cd
        >>> exercise = cd.load("src/cubedrill/demo/exercises/lock-gate.json")
        >>> exercise.check(exercise.target).passed
        True
        >>> exercise.check([]).passed
        False
        """
        try:
            document, source, notes = self._read(submission, conventions)
            return report_from(self._judge.judged(document), source, notes)
        except FormatError as error:
            raise CubeDrillError(str(error)) from None
        except CoreError as error:
            raise CubeDrillError(error.text) from None

    def __repr__(self) -> str:
        return f"Exercise({self.title!r})"

    @cached_property
    def _judge(self) -> Judge:
        return Judge(self.core, {})

    def _read(
        self, submission: Submitted, conventions: Mapping[str, str]
    ) -> tuple[AnySubmission, str, tuple[str, ...]]:
        """Return the submission as a document, where it came from, and its import notes."""
        match submission:
            case Scene():
                scene = SceneFile(conventions=submission.core.conventions, objects=specs_of(submission.core))
                head = self._head()
                return SceneSubmission(**head, kind="scene", scene=scene), "", ()
            case str() if not submission.endswith(SUFFIXES):
                return self._steps_in(submission), "", ()
            case str() | PathLike():
                path = Path(submission)
                read = submission_in(bytes_of(path), path.name, self.core, conventions)
                return read.document, str(path), read.notes
            case _:
                return self._steps_of(submission), "", ()

    def _head(self) -> dict[str, object]:
        return {"format": "cube-drill/submission", "version": 1, "exercise": self.core.id}

    def _steps_in(self, text: str) -> StepsSubmission:
        return steps_of_text(text.encode(), "steps", self._judge.start, self.core.id)

    def _steps_of(self, steps: Sequence[str | Mapping[str, object]]) -> StepsSubmission:
        if all(isinstance(step, str) for step in steps):
            return self._steps_in("\n".join(map(str, steps)))
        try:
            read = _STEPS.validate_python(steps)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            place = ".".join(map(str, first["loc"]))
            raise CubeDrillError(f"steps, at {place}: {sentence_of(first['msg'])}") from None
        return StepsSubmission(**self._head(), kind="steps", steps=read)


_STEPS: Final[TypeAdapter[tuple[Step, ...]]] = TypeAdapter(tuple[Step, ...])


class Reports:
    """The reports of a folder's submissions, in the order of their file names; each iteration checks them anew."""

    def __init__(self, batch: Batch, files: Sequence[Path]) -> None:
        self._batch, self.files = batch, tuple(files)

    def __len__(self) -> int:
        return len(self.files)

    def __iter__(self) -> Iterator[Report]:
        """Yield the report of each file; one that cannot be read has its reason as `error`."""
        return reports_of(self._batch, self.files)

    def to_csv(self, path: str | PathLike[str]) -> None:
        """Write a table of marks, as ``cube-drill check --csv`` does: one row per file, without causes.

        Raises
        ------
        OSError
            If the file cannot be written.
        """
        with Path(path).open("w", encoding="utf-8", newline="") as stream:
            write_marks(self._batch.exercise, stream, self.files, marks_of(self._batch, self.files))


def check_folder(exercise: Exercise, folder: str | PathLike[str], jobs: int | None = None) -> Reports:
    """Check all submissions in a folder, in several processes.

    Parameters
    ----------
    exercise : Exercise
    folder : path
        Files of any kind that the product reads; others are left alone.
    jobs : int, optional
        The largest number of processes; one per core by default.

    Raises
    ------
    CubeDrillError
        If the folder cannot be read.
    """
    try:
        files = submission_files(Path(folder))
    except OSError as error:
        raise CubeDrillError(f"{folder} cannot be read ({error.strerror}); check the name of the folder.") from None
    return Reports(Batch(exercise.core, jobs=jobs), files)
