"""Our own JSON files: exercises and submissions. Every error names the file, the place in it and what was expected."""

from __future__ import annotations

import codecs
import json
import os
import re
from collections.abc import Callable, Collection, Container, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final, TypeVar

from pydantic import TypeAdapter, ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.exercise import Exercise, require_sound
from cubedrill.core.judging.matching import folded
from cubedrill.core.judging.submission import (
    AnySubmission,
    Row,
    SceneFile,
    SceneSubmission,
    SheetSubmission,
    StepsSubmission,
    Submission,
)
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps import MOST_STEPS
from cubedrill.core.steps.text import read_lines
from cubedrill.formats import transforms
from cubedrill.formats.asked import ASKED, scene_file
from cubedrill.formats.imported import Imported
from cubedrill.formats.kinds import kind_of
from cubedrill.formats.limits import LARGEST_FILE, UnreadableError
from cubedrill.formats.places import place_of, sentence_of
from cubedrill.formats.sandbox import read_in_sandbox
from cubedrill.formats.transforms import is_transforms

UNNAMED: Final = "unnamed"  # the exercise of steps that say none

EXERCISE: Final[TypeAdapter[Exercise]] = TypeAdapter(Exercise)
SUBMISSION: Final[TypeAdapter[AnySubmission]] = TypeAdapter(Submission)
SCENE: Final = TypeAdapter(SceneFile)
BEGINS_AS_OURS: Final = re.compile(rb'\s*\{\s*"format"\s*:\s*"cube-drill/submission"')
HAS_FORMAT: Final = re.compile(rb'"format"\s*:')
HAS_OBJECTS: Final = re.compile(rb'"objects"\s*:')
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


@dataclass(frozen=True)
class Read:
    """The contents of a file for an exercise.

    asked: the conventions, by their names, that it does not say itself. notes: what was left out, changed or guessed.
    """

    document: AnySubmission
    asked: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()


def imported_from(content: bytes, file: str) -> Imported | None:
    """Return the scene in a file of another program, or None for other files; raise FormatError if it is broken."""
    if BEGINS_AS_OURS.match(content) or kind_of(content) is None:
        return None
    try:
        return read_in_sandbox(content)
    except UnreadableError as error:
        raise FormatError(f"{file}: {error}") from None


def submission_in(
    content: bytes, file: str, exercise: Exercise, chosen: Mapping[str, str], imported: Imported | None = None
) -> Read:
    """Return what a file holds: a submission, a text of steps, a table of transforms, or a scene of any kind.

    Parameters
    ----------
    chosen : mapping
        Conventions that the file does not state, by their names; of a scene, what is not chosen is guessed.
    imported : Imported, optional
        What `imported_from` returned for it, so that it is not read again.

    Raises
    ------
    FormatError
        If it is none of these, or for another exercise.
    """
    if imported is not None:
        return _imported_for(imported, file, exercise, chosen)
    if BEGINS_AS_OURS.match(content):  # thousands of sheets are read at once: these are asked nothing else
        return _submission_of_file(content, file, exercise)
    if kind_of(content) is not None:
        return submission_in(content, file, exercise, chosen, imported_from(content, file))
    if is_transforms(content):
        return _sheet_of_file(content, file, exercise, chosen)
    if is_text(content):
        return Read(steps_of_text(content, file, exercise.start_scene(), exercise.id))
    if not HAS_FORMAT.search(content) and HAS_OBJECTS.search(content):  # a scene alone, that does not say whose it is
        scene = parsed(SCENE, content, file)
        return Read(_of_scene(exercise, scene), notes=scene.notes)
    return _submission_of_file(content, file, exercise)


def _submission_of_file(content: bytes, file: str, exercise: Exercise) -> Read:
    submission = parsed(SUBMISSION, content, file)
    if submission.exercise not in (exercise.id, UNNAMED):
        raise FormatError(f"{file}, at exercise: it is for {submission.exercise}, not for {exercise.id}.")
    return Read(submission, notes=submission.scene.notes if isinstance(submission, SceneSubmission) else ())


def is_of_a_program(content: bytes) -> bool:
    """Tell whether it is a scene or a table of places, and none of our own documents."""
    return kind_of(content) is not None or is_transforms(content)


def scene_alone(content: bytes, file: str) -> SceneFile:
    """Return the scene of a file that belongs to no exercise. The product's defaults replace missing conventions.

    Parameters
    ----------
    content : bytes
    file : str
        Its name.

    Raises
    ------
    FormatError
        If the file has no scene.
    """
    imported = imported_from(content, file)
    if imported is not None:
        conventions, asked = imported.conventions(Conventions()), _asked(imported.said)
        said = ", ".join(f"{name} {getattr(conventions, name)}" for name in asked)
        guess = (f"The file does not state all of its axes and unit. Read as: {said}.",) if asked else ()
        return SceneFile(conventions=conventions, objects=imported.objects, notes=(*imported.notes, *guess))
    if not HAS_FORMAT.search(content):
        return parsed(SCENE, content, file)
    submission = parsed(SUBMISSION, content, file)
    if not isinstance(submission, SceneSubmission):
        raise FormatError(f"{file}, at kind: it holds {submission.kind}, not a scene; choose a scene or an exercise.")
    return submission.scene


def _imported_for(imported: Imported, file: str, exercise: Exercise, chosen: Mapping[str, str]) -> Read:
    try:
        scene = scene_file(imported, exercise.target_scene(), chosen)
    except UnreadableError as error:
        raise FormatError(f"{file}: {error}") from None
    return Read(_of_scene(exercise, scene), _asked(imported.said), scene.notes)


def _of_scene(exercise: Exercise, scene: SceneFile) -> SceneSubmission:
    return SceneSubmission(format="cube-drill/submission", version=1, exercise=exercise.id, kind="scene", scene=scene)


def _sheet_of_file(content: bytes, file: str, exercise: Exercise, chosen: Mapping[str, str]) -> Read:
    try:
        table = transforms.read(content)
    except UnreadableError as error:
        raise FormatError(f"{file}: {error}") from None
    conventions = Conventions.model_validate({**exercise.conventions.model_dump(), **chosen, **table.said})
    objects = exercise.start_scene().objects.values()
    rows: dict[str, Row] = {}
    for row in table.rows:
        own = _id_of(row.object, objects)
        if own is None or own in rows:
            why = "two lines are of" if own in rows else "the exercise has no single object called"
            raise FormatError(f"{file}: {why} {row.object}; name each as in the exercise, or by its id there.")
        rows[own] = row.model_copy(update={"object": own})
    sheet = SheetSubmission(
        format="cube-drill/submission", version=1, exercise=exercise.id, kind="sheet",
        conventions=conventions, rows=tuple(rows.values()),
    )  # fmt: skip
    return Read(sheet, _asked(table.said), table.notes)


def _id_of(called: str, objects: Collection[SceneObject]) -> str | None:
    """The object that is called so, by its id, its name, or one that is like it; none where it is none or several."""
    ways: tuple[Callable[[SceneObject], bool], ...] = (
        lambda item: item.id == called,
        lambda item: item.name == called,
        lambda item: folded(item.name) == folded(called),
    )
    for is_it in ways:
        found = [item.id for item in objects if is_it(item)]
        if found:
            return found[0] if len(found) == 1 else None
    return None


def _asked(said: Container[str]) -> tuple[str, ...]:
    return tuple(name for name in ASKED if name not in said)


def read_steps(path: Path, exercise: Exercise | None = None) -> StepsSubmission:
    """Read a submission of kind steps, or a text of step sentences.

    Parameters
    ----------
    path : Path
    exercise : Exercise, optional
        Its start scene gives the names for a text. Without it, names are ids.

    Raises
    ------
    FormatError
        If the file is neither.
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
        raise FormatError(f"{file}: byte {error.start + 1} is not UTF-8; save the file as UTF-8 text.") from None
    steps = []
    for line in read_lines(text, start):
        if line.error is not None:
            place = int(line.error.facts["at"]) + 1  # type: ignore[call-overload]
            raise FormatError(f"{file}, line {line.number}, character {place}: {line.error.text}")
        if line.step is not None:
            steps.append(line.step)
    if len(steps) > MOST_STEPS:
        raise FormatError(f"{file}: it has {len(steps)} steps; submit at most {MOST_STEPS}.")
    return StepsSubmission(
        format="cube-drill/submission", version=1, exercise=exercise, kind="steps", steps=tuple(steps)
    )


def parsed(model: TypeAdapter[Document], content: bytes, file: str) -> Document:
    """Return the value that the bytes of a JSON file hold; raise FormatError that names the first wrong place."""
    try:
        return model.validate_json(content)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        if first["type"] == "json_invalid":
            why = sentence_of(first["msg"].removeprefix("Invalid JSON: "))
            raise FormatError(f"{file} is not readable JSON: {why}") from None
        place = place_of(first["loc"], json.loads(content)) if first["loc"] else ""
        where = f"{file}, at {place}" if place else file
        raise FormatError(f"{where}: {sentence_of(first['msg'])}") from None


def bytes_of(path: Path) -> bytes:
    """Return the content of a file; raise FormatError where it cannot be read or is too large."""
    try:
        with path.open("rb", buffering=0) as stream:
            size = os.fstat(stream.fileno()).st_size
            content = stream.read() if size <= LARGEST_FILE else b""
    except OSError as error:
        raise FormatError(f"{path.name}: the file cannot be read ({error.strerror}); check its name.") from None
    if size > LARGEST_FILE:
        limit = LARGEST_FILE // 1024 // 1024
        raise FormatError(f"{path.name}: the file is larger than {limit} MB; submit less in one file.")
    return content
