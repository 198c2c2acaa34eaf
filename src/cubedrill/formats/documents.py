"""Our own JSON files: exercises and submissions. Every error names the file, the place in it and what was expected."""

from __future__ import annotations

import codecs
import json
import os
from collections.abc import Mapping
from pathlib import Path
from typing import Any, Final, TypeVar

from pydantic import TypeAdapter, ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise, require_sound
from cubedrill.core.judging.submission import SceneSubmission, SheetSubmission, StepsSubmission, Submission
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps import MOST_STEPS
from cubedrill.core.steps.text import read_lines
from cubedrill.formats.apart import read_apart
from cubedrill.formats.asked import scene_file
from cubedrill.formats.kinds import kind_of
from cubedrill.formats.limits import LARGEST_FILE, UnreadableError
from cubedrill.formats.places import place_of, sentence_of

UNNAMED: Final = "unnamed"  # the exercise of steps that say none

AnySubmission = StepsSubmission | SheetSubmission | SceneSubmission

EXERCISE: Final[TypeAdapter[Exercise]] = TypeAdapter(Exercise)
SUBMISSION: Final[TypeAdapter[AnySubmission]] = TypeAdapter(Submission)
SCHEMAS: Final[dict[str, TypeAdapter[Any]]] = {"exercise": EXERCISE, "submission": SUBMISSION}

Document = TypeVar("Document")


class FormatError(Exception):
    """A file that cannot be used: one sentence with the file, the place in it and what was expected."""


def read_exercise(path: Path) -> Exercise:
    """Read an exercise whose start, reference and checks can be carried out; raise FormatError otherwise."""
    exercise = parsed(EXERCISE, bytes_of(path), path.name)
    try:
        require_sound(exercise)
    except CoreError as error:
        raise FormatError(f"{path.name}: {error.text}") from None
    return exercise


def read_submission(path: Path) -> AnySubmission:
    """Read a submission of any kind; raise FormatError where it is none."""
    return parsed(SUBMISSION, bytes_of(path), path.name)


def read_submission_of(exercise: Exercise, path: Path, chosen: Mapping[str, str] | None = None) -> AnySubmission:
    """Read a submission of an exercise, a text of steps or a scene of any kind.

    chosen: conventions of a scene that does not say them, by their names; what is not chosen is guessed. Raises
    FormatError where it is none of these, or another exercise's.
    """
    content = bytes_of(path)
    if kind_of(content) is not None:
        return scene_of_file(content, path.name, exercise, chosen or {})
    if is_text(content):
        return steps_of_text(content, path.name, exercise.start_scene(), exercise.id)
    submission = parsed(SUBMISSION, content, path.name)
    if submission.exercise not in (exercise.id, UNNAMED):
        raise FormatError(f"{path.name}, at exercise: it is for {submission.exercise}, not for {exercise.id}.")
    return submission


def scene_of_file(content: bytes, file: str, exercise: Exercise, chosen: Mapping[str, str]) -> SceneSubmission:
    """Return the scene that a file of any kind holds, as a submission; raise FormatError where it cannot be read."""
    try:
        scene = scene_file(read_apart(content), exercise.target_scene(), chosen)
    except UnreadableError as error:
        raise FormatError(f"{file}: {error}") from None
    return SceneSubmission(format="cube-drill/submission", version=1, exercise=exercise.id, kind="scene", scene=scene)


def read_steps(path: Path, exercise: Exercise | None = None) -> StepsSubmission:
    """Read a submission of kind steps, or a text of steps; raise FormatError where it is none.

    exercise: in whose start scene the first line of a text is read; without one, names are ids.
    """
    content = bytes_of(path)
    if is_text(content):
        start = None if exercise is None else exercise.start_scene()
        return steps_of_text(content, path.name, start, UNNAMED if exercise is None else exercise.id)
    submission = parsed(SUBMISSION, content, path.name)
    if not isinstance(submission, StepsSubmission):
        raise FormatError(f"{path.name}, at kind: it is a {submission.kind}; only 'steps' can be replayed.")
    return submission


def is_text(content: bytes) -> bool:
    """Tell whether the content of a file is text rather than JSON: nothing in JSON begins with a letter or a remark."""
    return content.removeprefix(codecs.BOM_UTF8).lstrip()[:1] not in (b"{", b"[")


def steps_of_text(content: bytes, file: str, start: Scene | None, exercise: str) -> StepsSubmission:
    """Return the steps that a text says, a sentence a line; raise FormatError at the first line that cannot be read."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FormatError(f"{file}: byte {error.start + 1} is no UTF-8; save the file as UTF-8 text.") from None
    steps = []
    for line in read_lines(text, start):
        if line.error is not None:
            place = int(line.error.facts["at"]) + 1  # type: ignore[call-overload]
            raise FormatError(f"{file}, line {line.number}, character {place}: {line.error.text}")
        if line.step is not None:
            steps.append(line.step)
    if len(steps) > MOST_STEPS:
        raise FormatError(f"{file}: it has {len(steps)} steps; hand in {MOST_STEPS} at most.")
    return StepsSubmission(
        format="cube-drill/submission", version=1, exercise=exercise, kind="steps", steps=tuple(steps)
    )


def parsed(model: TypeAdapter[Document], content: bytes, file: str) -> Document:
    """Return the value that the bytes of a JSON file hold; raise FormatError that names the first wrong place."""
    try:
        return model.validate_json(content)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = place_of(first["loc"], json.loads(content)) if first["loc"] else ""
        where = f"{file}, at {place}" if place else file
        raise FormatError(f"{where}: {sentence_of(first['msg'])}") from None


def bytes_of(path: Path) -> bytes:
    """Return the content of a file; raise FormatError where it cannot be read or is too large."""
    try:
        with path.open("rb") as stream:
            size = os.fstat(stream.fileno()).st_size
            content = stream.read() if size <= LARGEST_FILE else b""
    except OSError as error:
        raise FormatError(f"{path.name}: the file cannot be read ({error.strerror}); check its name.") from None
    if size > LARGEST_FILE:
        limit = LARGEST_FILE // 1024 // 1024
        raise FormatError(f"{path.name}: the file is larger than {limit} MB; hand in less in one file.")
    return content
