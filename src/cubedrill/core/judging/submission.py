"""Submissions (steps, a sheet of typed values, or a scene), and the scene that each results in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Final, Literal, Self

import numpy as np
from pydantic import AfterValidator, Field, model_validator
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.geometry.solids import Mesh
from cubedrill.core.geometry.transform import (
    inverse,
    parent_from_parts,
    parts_of,
    require_affine,
    rotation_from_quaternion,
)
from cubedrill.core.judging.matching import Match, adopted, matched
from cubedrill.core.judging.mesh_matching import registered
from cubedrill.core.scene.scene import IDENTITY, Scene, SceneObject, scene_of
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

    translation is the last column of the matrix. A value that is left out is the one at the start; an object that the
    start does not have then has no rotation, and a scale of 1.
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

    @property
    def gives_value(self) -> bool:
        """Tell whether the row has any value."""
        return any(each is not None for each in (self.translation, self.euler, self.rotation, self.scale, self.matrix))

    @property
    def gives_place(self) -> bool:
        """Tell whether the row has a position; only such a row makes an object that the start does not have."""
        return self.translation is not None or self.matrix is not None


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


MOST_MESHES: Final = 1000  # of a scene: each is measured to find which object of the target it is


def _not_too_many_meshes(objects: tuple[ObjectSpec, ...]) -> tuple[ObjectSpec, ...]:
    if sum(isinstance(each.solid, Mesh) for each in objects) > MOST_MESHES:
        raise ValueError(f"a scene has at most {MOST_MESHES} meshes; submit only the objects of the exercise")
    return objects


SceneObjects = Annotated[
    tuple[ObjectSpec, ...], Field(max_length=5000, fail_fast=True), AfterValidator(_not_too_many_meshes)
]


class SceneFile(Value):
    """A scene from any program, in its own conventions.

    matches: by hand, for the id of an object of the target, that of the one here that it is, or none where it is not
    here; those that are not named are matched by name, then by shape and size. notes: what was left out, changed or
    guessed when it was read from another format.
    """

    conventions: Conventions = Conventions()
    objects: SceneObjects
    matches: Choices = Field(default_factory=dict)
    notes: Annotated[tuple[str, ...], Field(max_length=1000, fail_fast=True)] = ()


class SceneSubmission(Value):
    """A whole scene, made anywhere."""

    format: Literal["cube-drill/submission"]
    version: Literal[1]
    exercise: Identifier
    kind: Literal["scene"]
    scene: SceneFile


AnySubmission = StepsSubmission | SheetSubmission | SceneSubmission
Submission = Annotated[AnySubmission, Field(discriminator="kind")]


@dataclass(frozen=True)
class LoadedSubmission:
    """A submission as a scene in the exercise's conventions, with the object ids of the target.

    states: of a step list. turns_unknown: objects whose rotation the file does not tell. matches: of a scene.
    seen_alone: objects that the file shows as they look and no more, so that they are judged by look. is_file: whether
    a program wrote it. unsaid: (kind of check, object) of what the submission does not give; such checks are not
    judged, since the target's own value stands in its place.
    """

    scene: Scene
    states: Sequence[State] | None = None
    turns_unknown: frozenset[str] = frozenset()
    matches: tuple[Match, ...] = field(default=())
    seen_alone: frozenset[str] = frozenset()
    is_file: bool = False
    unsaid: frozenset[tuple[str, str]] = frozenset()


def load_submission(start: Scene, target: Scene, submission: AnySubmission) -> LoadedSubmission:
    """Return the scene of a submission; raise the CoreError of what cannot be carried out."""
    match submission:
        case StepsSubmission():
            states = replay(start, submission.steps)
            scene, matches = adopted(target, states[-1].scene, submission.matches)
            return LoadedSubmission(scene, states, matches=matches)
        case SheetSubmission():
            return _from_sheet(start, target, submission)
        case SceneSubmission():
            return _from_scene(start, target, submission.scene)


def count_unsaid(start: Scene, target: Scene) -> frozenset[tuple[str, str]]:
    """Return that no sheet says how many solids there are, if some must be removed: no row can say that."""
    return frozenset() if start.objects.keys() <= target.objects.keys() else frozenset({("count", "")})


def _from_sheet(start: Scene, target: Scene, sheet: SheetSubmission) -> LoadedSubmission:
    """Return the target's tree, each object as its row has it, or as at the start where no row gives a value.

    Nothing of the target's places is in it: an object that the start does not have and no row places is missing. Its
    children are then in the nearest ancestor that is there, unless their row is in the numbers of the missing one.
    """
    rows = {row.object: row for row in sheet.rows}
    for object_id in rows:
        target[object_id]
    change = ConventionTransform(sheet.conventions or target.conventions, target.conventions)
    made: dict[str, SceneObject] = {}
    scene = target.having(made)
    unsaid = set(count_unsaid(start, target))
    for object_id in target.parents_first():
        item, row = target[object_id], rows.get(object_id)
        parent = next((above for above in target.ancestors(object_id) if above in made), None)
        is_lifted = parent != item.parent
        if object_id not in start.objects and (row is None or not row.gives_place):
            continue
        if is_lifted and row is not None and row.space == "parent":
            continue
        world_from_parent = IDENTITY if parent is None else scene.world_from_local(parent)
        before = IDENTITY  # of an object that the start does not have
        if object_id in start.objects:
            before = start[object_id].parent_from_local
            if is_lifted:
                before = inverse(world_from_parent) @ start.world_from_local(object_id)
            if row is None or not row.gives_value:
                item = start[object_id]
                if item.parent != target[object_id].parent:
                    unsaid.add(("parent", object_id))
        made[object_id] = replace(item, parent=parent, parent_from_local=before)
        if row is not None:
            in_world = row.space == "world" and parent is not None
            if in_world and object_id in start.objects:
                before = world_from_parent @ before
            given = _given(row, before, change)
            made[object_id] = (scene.placed_in_world if in_world else scene.placed)(object_id, given)
    return LoadedSubmission(target.having({i: made[i] for i in target.objects if i in made}), unsaid=frozenset(unsaid))


def _given(row: Row, before: Array, change: ConventionTransform) -> Array:
    """(4, 4) the map that a row says, in the exercise's conventions; before: what it leaves out, in the row's space."""
    if row.matrix is not None:
        given = np.array(row.matrix).reshape(4, 4, order="F")
        return change.matrix(require_affine(given, row.object))
    parts = parts_of(before)
    translation = parts.translation if row.translation is None else change.point(np.array(row.translation))
    scale = parts.scale if row.scale is None else change.sizes(np.array(row.scale))
    return parent_from_parts(translation, _rotation(row, parts.rotation, change), scale)


def _rotation(row: Row, before: Array, change: ConventionTransform) -> Array:
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
    return matched(target, _objects_in(target, file), _without_pivot(file), file.matches)


def _has_pivot_of(start: Scene, target: Scene, object_id: str) -> bool:
    item = start.objects.get(object_id)
    return item is not None and np.array_equal(item.pivot, target[object_id].pivot)


def _without_pivot(file: SceneFile) -> set[str]:
    """Return the ids in a file of the objects that say no pivot."""
    return {spec.id for spec in file.objects if "pivot" not in spec.model_fields_set}


def _objects_in(target: Scene, file: SceneFile) -> list[SceneObject]:
    change = ConventionTransform(file.conventions, target.conventions)
    return [spec.converted(change).to_object() for spec in file.objects]


def _from_scene(start: Scene, target: Scene, file: SceneFile) -> LoadedSubmission:
    scene, matches = matched_with(target, file)
    found = registered(target, scene)
    without_pivot = _without_pivot(file)
    unsaid = frozenset(
        ("pivot", match.target)
        for match in matches
        if match.submitted in without_pivot and not _has_pivot_of(start, target, match.target)
    )
    return LoadedSubmission(found.scene, None, found.unknown, matches, found.several, is_file=True, unsaid=unsaid)
