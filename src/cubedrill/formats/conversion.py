"""One kind of scene file turned into another."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Final

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.submission import SceneFile, SceneSubmission
from cubedrill.core.scene.scene import Scene, scene_of
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.formats import transforms
from cubedrill.formats.documents import EXERCISE, SUBMISSION, UNNAMED, FormatError, bytes_of, parsed
from cubedrill.formats.kinds import WRITERS, kind_of
from cubedrill.formats.limits import UnreadableError
from cubedrill.formats.sandbox import read_in_sandbox, write_in_sandbox

OURS: Final = ".json"
WRITTEN: Final = (*WRITERS, transforms.ENDING, OURS)


def convert(source: Path, to: Path, chosen: Mapping[str, str]) -> tuple[str, ...]:
    """Write a scene as another kind of file, and return what was left out or changed.

    Parameters
    ----------
    source : Path
    to : Path
        Its suffix names the kind.
    chosen : mapping
        Conventions by name, for whichever of the two files does not state or fix its own.

    Returns
    -------
    The import and export notes.

    Raises
    ------
    FormatError
        If the scene cannot be read or written.
    """
    if to.suffix not in WRITTEN:
        raise FormatError(f"{to.name}: end its name in one of {', '.join(WRITTEN)}.")
    scene, notes = _read(source, chosen)
    wanted = Conventions.model_validate({**scene.conventions.model_dump(), **chosen})
    try:
        content = written(converted_scene(scene, wanted), to.suffix)
    except UnreadableError as error:
        raise FormatError(f"{to.name}: {error}") from None
    try:
        to.write_bytes(content)
    except OSError as error:
        raise FormatError(f"{to.name}: it cannot be written ({error.strerror}); choose another file.") from None
    return notes


def converted_scene(scene: Scene, conventions: Conventions) -> Scene:
    """Return the same scene in other conventions."""
    change = ConventionTransform(scene.conventions, conventions)
    objects = [spec.converted(change).to_object() for spec in specs_of(scene)]
    return scene_of(objects, conventions, change.point(scene.marker))


def specs_of(scene: Scene) -> tuple[ObjectSpec, ...]:
    """Return the objects of a scene as our files give them."""
    return tuple(
        ObjectSpec(
            id=item.id, name=item.name, solid=item.solid, parent=item.parent, pivot=tuple(item.pivot.tolist()),
            matrix=tuple(item.parent_from_local.ravel(order="F").tolist()), colour=item.colour, opacity=item.opacity,
            locked=item.locked,
        )
        for item in scene.objects.values()
    )  # fmt: skip


def _read(source: Path, chosen: Mapping[str, str]) -> tuple[Scene, tuple[str, ...]]:
    """Return the scene of a file of any kind; of an exercise its start."""
    content = bytes_of(source)
    try:
        if kind_of(content) is not None:
            imported = read_in_sandbox(content)
            conventions = imported.conventions(Conventions.model_validate(dict(chosen)))
            return scene_of([spec.to_object() for spec in imported.objects], conventions, np.zeros(3)), imported.notes
        if b'"cube-drill/exercise"' in content:
            exercise: Exercise = parsed(EXERCISE, content, source.name)
            return exercise.start_scene(), ()
        submission = parsed(SUBMISSION, content, source.name)
    except UnreadableError as error:
        raise FormatError(f"{source.name}: {error}") from None
    except CoreError as error:
        raise FormatError(f"{source.name}: {error.text}") from None
    if not isinstance(submission, SceneSubmission):
        raise FormatError(f"{source.name}, at kind: it is a {submission.kind}; only a 'scene' can be converted.")
    objects = [spec.to_object() for spec in submission.scene.objects]
    return scene_of(objects, submission.scene.conventions, np.zeros(3)), submission.scene.notes


def written(scene: Scene, end: str) -> bytes:
    """Return a scene as the content of a file, its kind told by one of `WRITTEN`; raise UnreadableError where none."""
    if end == transforms.ENDING:
        return transforms.write(scene)
    if end != OURS:
        return write_in_sandbox(scene, end)
    file = SceneFile(conventions=scene.conventions, objects=specs_of(scene))
    ours = SceneSubmission(format="cube-drill/submission", version=1, exercise=UNNAMED, kind="scene", scene=file)
    return ours.model_dump_json(indent=1, exclude_none=True).encode()
