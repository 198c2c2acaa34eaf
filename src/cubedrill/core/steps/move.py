"""Move: by a displacement, or to a place, along the axes of a space."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core import wording
from cubedrill.core.scene import Scene, SceneObject
from cubedrill.core.spaces import Point, Space, frame_of, point_world
from cubedrill.core.steps.common import Chosen, Entry, acted_on
from cubedrill.core.transform import inverse, mapped
from cubedrill.core.values import Array, Number, Value, Vector

Target = tuple[Number | None, Number | None, Number | None]


class Move(Value):
    """Move objects by `by`, or so that `point` (default: each one's pivot) comes to `to`; a null stays as it is."""

    op: Literal["move"]
    objects: Chosen
    space: Space = "world"
    by: Vector | None = None
    to: Target | None = None
    point: Point | None = None
    entry: Entry | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if (self.by is None) == (self.to is None):
            raise ValueError("a move has either 'by' or 'to'")
        if self.point is not None and self.to is None:
            raise ValueError("a move has a 'point' only together with 'to'")
        return self


def apply(scene: Scene, step: Move) -> Scene:
    """Return the scene after a move: W′ = T(F d) W for each chosen object; children follow.

    All frames and points are those before the step. In `parent`, values are the parent's own coordinates, its
    scale included. Raises CoreError "unknown-object", "locked", "too-large", or what the space raises.
    """
    return scene.with_objects([_moved(scene, step, i) for i in acted_on(scene, step.objects)])


def _moved(scene: Scene, step: Move, object_id: str) -> SceneObject:
    if step.space == "parent":
        return scene.moved_in_parent_by(object_id, _displacement_parent(scene, step, object_id))
    frame = frame_of(scene, step.space, object_id)
    here = frame.coordinates(_point(scene, step, object_id))
    return scene.moved_by(object_id, frame.world_from_axes @ _displacement(step, here))


def _displacement_parent(scene: Scene, step: Move, object_id: str) -> Array:
    parent_from_world = inverse(scene.world_from_parent(object_id))
    return _displacement(step, mapped(parent_from_world, _point(scene, step, object_id)))


def _displacement(step: Move, here: Array) -> Array:
    """(3,) along the space's axes; here: (3,) where the point that is moved stands along them now."""
    if step.by is not None:
        return np.array(step.by)
    wanted = step.to or (None, None, None)
    return np.array([0.0 if to is None else to - now for to, now in zip(wanted, here, strict=True)])


def _point(scene: Scene, step: Move, object_id: str) -> Array:
    return scene.pivot_world(object_id) if step.point is None else point_world(scene, step.point)


def sentence(scene: Scene, step: Move) -> str:
    """Return the move in words."""
    who = wording.names(scene, list(dict.fromkeys(step.objects)))
    space = wording.space_name(scene, step.space)
    if step.by is not None:
        amounts = [(axis, value) for axis, value in zip("XYZ", step.by, strict=True) if value] or [("X", 0.0)]
        parts = [f"{wording.length(value, scene.conventions)} along {axis}" for axis, value in amounts]
        return f"Move {who} by {wording.listed(parts)} of {space}"
    to = step.to or ()
    places = [
        f"{axis} {wording.length(v, scene.conventions)}" for axis, v in zip("XYZ", to, strict=True) if v is not None
    ]
    point = "" if step.point is None else f", taken at {wording.point_name(scene, step.point)},"
    return f"Move {who}{point} to {wording.listed(places or ['where it is'])} of {space}"
