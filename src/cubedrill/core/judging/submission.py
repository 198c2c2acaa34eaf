"""What a student hands in: steps, a sheet of typed values, or a scene; and the scene that each of them is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import AfterValidator, Field, model_validator
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Change, Conventions
from cubedrill.core.geometry.transform import parent_from_parts, parts_of, require_affine, rotation_from_quaternion
from cubedrill.core.judging.matching import Match, adopted, matched
from cubedrill.core.judging.registering import registered
from cubedrill.core.scene.scene import Scene, SceneObject, scene_of
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.core.steps import StepList
from cubedrill.core.steps.replay import State, replay
from cubedrill.core.values import Array, Identifier, Matrix16, Quaternion, Value, Vector

Choices = Annotated[dict[Identifier, Identifier | None], Field(max_length=5000)]


class StepsSubmission(Value):
    """The step list made on the bench.

    matches: by hand, for the id of an object of the target, that of the added one that it is, or none where it was not
    made; those that are not named are matched by name, then by shape and size.
    """

    format: Literal["cube-drill/submission"]
    version: Literal[1]
    exercise: Identifier
    kind: Literal["steps"]
    steps: StepList
    matches: Choices = Field(default_factory=dict)


class Row(Value):
    """One object's typed values: a matrix, or translation, Euler angles or quaternion, and scale.

    translation is the last column of the matrix. What is left out is as it was at the start.
    """

    object: Identifier
    space: Literal["world", "parent"] = "world"
    translation: Vector | None = None
    euler: Vector | None = None
    rotation: Quaternion | None = None
    scale: Vector | None = None
    matrix: Matrix16 | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if self.matrix is not None and any((self.translation, self.euler, self.rotation, self.scale)):
            raise ValueError("a row has either a matrix, or translation, rotation and scale")
        if self.euler is not None and self.rotation is not None:
            raise ValueError("a row has either 'euler' or 'rotation'")
        return self


def _once_each(rows: tuple[Row, ...]) -> tuple[Row, ...]:
    ids = [row.object for row in rows]
    if len(set(ids)) < len(ids):
        raise ValueError("each object has one row at most")
    return rows


Rows = Annotated[tuple[Row, ...], Field(max_length=5000, fail_fast=True), AfterValidator(_once_each)]


class SheetSubmission(Value):
    """Typed values an object; conventions: those of its numbers, the exercise's unless given."""

    format: Literal["cube-drill/submission"]
    version: Literal[1]
    exercise: Identifier
    kind: Literal["sheet"]
    conventions: Conventions | None = None
    rows: Rows


class SceneFile(Value):
    """A scene from any program, in its own conventions.

    matches: by hand, for the id of an object of the target, that of the one here that it is, or none where it is not
    here; those that are not named are matched by name, then by shape and size. notes: what was left out, changed or
    guessed when it was read from another format.
    """

    conventions: Conventions = Conventions()
    objects: Annotated[tuple[ObjectSpec, ...], Field(max_length=5000, fail_fast=True)]
    matches: Choices = Field(default_factory=dict)
    notes: Annotated[tuple[str, ...], Field(max_length=1000, fail_fast=True)] = ()


class SceneSubmission(Value):
    """A whole scene, made anywhere."""

    format: Literal["cube-drill/submission"]
    version: Literal[1]
    exercise: Identifier
    kind: Literal["scene"]
    scene: SceneFile


Submission = Annotated[StepsSubmission | SheetSubmission | SceneSubmission, Field(discriminator="kind")]


@dataclass(frozen=True)
class Handed:
    """What was handed in, as a scene in the exercise's conventions, its objects called as in the target.

    states: of a step list. turns_unknown: objects whose rotation the file does not tell. matches: of a scene.
    seen_alone: objects that the file shows as they look and no more, so that they are judged by look. is_file: whether
    a program wrote it.
    """

    scene: Scene
    states: Sequence[State] | None = None
    turns_unknown: frozenset[str] = frozenset()
    matches: tuple[Match, ...] = field(default=())
    seen_alone: frozenset[str] = frozenset()
    is_file: bool = False


def handed(start: Scene, target: Scene, submission: StepsSubmission | SheetSubmission | SceneSubmission) -> Handed:
    """Return the scene of a submission; raise the CoreError of what cannot be carried out."""
    match submission:
        case StepsSubmission():
            states = replay(start, submission.steps)
            scene, matches = adopted(target, states[-1].scene, submission.matches)
            return Handed(scene, states, matches=matches)
        case SheetSubmission():
            return Handed(_from_sheet(start, target, submission))
        case SceneSubmission():
            return _from_scene(target, submission.scene)


def _from_sheet(start: Scene, target: Scene, sheet: SheetSubmission) -> Scene:
    """The target's tree with the places of the start, and then those of the rows, parents before children."""
    rows = {row.object: row for row in sheet.rows}
    for object_id in rows:
        target[object_id]
    known = [i for i in target.objects if i in start.objects or i in rows]
    gone = [i for i in target.objects if i not in known]
    below = {d for i in gone for d in target.descendants(i)}
    scene = target.without([*gone, *below])
    starts = [scene.placed(i, start[i].parent_from_local) for i in scene.objects if i in start.objects]
    scene = scene.with_objects(starts)
    change = Change(sheet.conventions or target.conventions, target.conventions)
    for object_id in scene.parents_first():
        row = rows.get(object_id)
        if row is not None:
            given = _given(row, scene, change)
            placed = scene.placed_in_world if row.space == "world" else scene.placed
            scene = scene.with_objects([placed(object_id, given)])
    return scene


def _given(row: Row, scene: Scene, change: Change) -> Array:
    """(4, 4) the map that a row says, in the exercise's conventions."""
    if row.matrix is not None:
        given = np.array(row.matrix).reshape(4, 4, order="F")
        return change.matrix(require_affine(given, row.object))
    item = scene[row.object]
    before = scene.world_from_local(item.id) if row.space == "world" else item.parent_from_local
    parts = parts_of(before)
    translation = parts.translation if row.translation is None else change.point(np.array(row.translation))
    scale = parts.scale if row.scale is None else change.sizes(np.array(row.scale))
    return parent_from_parts(translation, _rotation(row, parts.rotation, change), scale)


def _rotation(row: Row, before: Array, change: Change) -> Array:
    if row.rotation is not None:
        return change.rotation(rotation_from_quaternion(np.array(row.rotation), row.object))
    if row.euler is not None:
        angles = np.array(row.euler) * change.source.radians_per_unit
        return change.rotation(Rotation.from_euler(change.source.euler, angles).as_matrix())
    return before


def scene_in(target: Scene, file: SceneFile) -> Scene:
    """Return the scene of a file in the conventions of the target, under the names that it has there."""
    return scene_of(_objects_in(target, file), target.conventions, target.marker, target.plot)


def matched_with(target: Scene, file: SceneFile) -> tuple[Scene, tuple[Match, ...]]:
    """Return the scene of a file with its objects called as in the target, and how each was found; see `matched`."""
    without_pivot = {spec.id for spec in file.objects if "pivot" not in spec.model_fields_set}
    return matched(target, _objects_in(target, file), without_pivot, file.matches)


def _objects_in(target: Scene, file: SceneFile) -> list[SceneObject]:
    change = Change(file.conventions, target.conventions)
    return [spec.converted(change).to_object() for spec in file.objects]


def _from_scene(target: Scene, file: SceneFile) -> Handed:
    scene, matches = matched_with(target, file)
    found = registered(target, scene)
    return Handed(found.scene, None, found.unknown, matches, found.several, is_file=True)
