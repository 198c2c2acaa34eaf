"""Our own JSON files: exercises and submissions. Every error names the file, the place in it and what was expected."""

from __future__ import annotations

import codecs
import json
import os
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Final, TypeVar

from pydantic import TypeAdapter, ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise, require_sound
from cubedrill.core.judging.submission import SceneSubmission, SheetSubmission, StepsSubmission, Submission
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps import MOST_STEPS
from cubedrill.core.steps.text import read_lines

LARGEST_FILE: Final = 20 * 1024 * 1024  # bytes; a mesh of 200,000 vertices stays below it

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
    exercise = parsed(EXERCISE, _bytes_of(path), path.name)
    try:
        require_sound(exercise)
    except CoreError as error:
        raise FormatError(f"{path.name}: {error.text}") from None
    return exercise


def read_submission(path: Path) -> AnySubmission:
    """Read a submission of any kind; raise FormatError where it is none."""
    return parsed(SUBMISSION, _bytes_of(path), path.name)


def read_submission_of(exercise: Exercise, path: Path) -> AnySubmission:
    """Read a submission of an exercise, or a text of steps; raise FormatError where it is none, or another's."""
    content = _bytes_of(path)
    if is_text(content):
        return steps_of_text(content, path.name, exercise.start_scene(), exercise.id)
    submission = parsed(SUBMISSION, content, path.name)
    if submission.exercise != exercise.id:
        raise FormatError(f"{path.name}, at exercise: it is for {submission.exercise}, not for {exercise.id}.")
    return submission


def read_steps(path: Path, exercise: Exercise | None = None) -> StepsSubmission:
    """Read a submission of kind steps, or a text of steps; raise FormatError where it is none.

    exercise: in whose start scene the first line of a text is read; without one, names are ids.
    """
    content = _bytes_of(path)
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


def place_of(location: Sequence[str | int], document: Any) -> str:
    """Write the place of an error in a document as `start.objects[2].size[0]`.

    A validator's location also names the branch of a union that it tried; the document does not know those words.
    """
    parts, here = [], document
    for number, part in enumerate(location, start=1):
        missing = isinstance(here, dict) and number == len(location)
        if _has(here, part):
            here = here[part]
        elif not missing:
            continue
        parts.append(f"[{part}]" if isinstance(part, int) else f".{part}")
    return "".join(parts).removeprefix(".")


def _has(value: Any, part: str | int) -> bool:
    if isinstance(part, int):
        return isinstance(value, list) and part < len(value)
    return isinstance(value, dict) and part in value


def sentence_of(message: str) -> str:
    """Turn a validator's message into a sentence that begins in lower case and ends in a full stop."""
    plain = message.removeprefix("Value error, ").replace("Extra inputs are not permitted", "this key is not known")
    return plain[:1].lower() + plain[1:].removesuffix(".") + "."


def _bytes_of(path: Path) -> bytes:
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
