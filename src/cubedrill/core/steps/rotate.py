"""Rotate: by an angle about an axis of a space, or to Euler angles."""

from __future__ import annotations

from collections.abc import Mapping
from typing import ClassVar, Final, Literal, Self

import numpy as np
from pydantic import model_validator
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.transform import about, affine, parts_of, turn
from cubedrill.core.language import terms
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.scene.spaces import (
    Pivot,
    Space,
    converted_pivot,
    converted_space,
    frame_of,
    pivots_world,
    within,
)
from cubedrill.core.steps.common import (
    AnyAxis,
    ObjectsStep,
    acted_on,
    angles_rad,
    axis_unit,
    converted_turn,
    hanging_on,
)
from cubedrill.core.values import Array, Number, Vector, as_vector

_PARTS: Final = {"objects": terms.OBJECTS, "space": terms.SPACE}


class Rotate(ObjectsStep):
    """Rotate objects by `angle` about an axis through a pivot, or to Euler angles in world or parent."""

    says: ClassVar = Sayings(
        Phrase(
            "Rotate/Turn {objects} by {angle} about/around/round {axis}< of/in {space}>< through {pivot}>",
            **_PARTS,
            angle=terms.ANGLE,
            axis=terms.AXIS,
            pivot=terms.PIVOT,
        ),
        Phrase("Rotate/Turn {objects} to {to}< of/in {space}>", **_PARTS, to=terms.Angles()),
    )
    op: Literal["rotate"]
    space: Space = "world"
    axis: AnyAxis | None = None
    angle: Number | None = None
    pivot: Pivot = "own"
    to: Vector | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if self.to is None:
            if self.axis is None or self.angle is None:
                raise ValueError("a rotation has 'axis' and 'angle', or 'to'")
        elif self.axis is not None or self.angle is not None or self.pivot != "own":
            raise ValueError("a rotation 'to' angles has no 'axis' or 'angle', and always keeps its own pivot")
        elif self.space not in ("world", "parent"):
            raise ValueError("a rotation 'to' angles is in 'world' or 'parent'")
        return self

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after a rotation; children follow.

        By an angle: W′ = T(c) R(F a, θ) T(−c) W. To angles: the rotation read from world_from_local or
        parent_from_local becomes these Euler angles; the scale read there and the pivot's place stay. Raises
        CoreError "unknown-object", "locked", "axis-zero", "no-box", "skewed-turn", or what the space raises.
        """
        ids = acted_on(scene, self.objects)
        if self.to is not None:
            return scene.with_objects([self._set(scene, i) for i in ids])
        centres = pivots_world(scene, self.pivot, ids)
        return scene.with_objects([self._turned(scene, i, c) for i, c in zip(ids, centres, strict=True)])

    def _turned(self, scene: Scene, object_id: str, centre_world: Array) -> SceneObject:
        axis = axis_unit("x" if self.axis is None else self.axis)
        axis_world = frame_of(scene, self.space, object_id).world_from_axes @ axis
        angle_rad = (0.0 if self.angle is None else self.angle) * scene.conventions.radians_per_unit
        return scene.placed_by(object_id, about(turn(axis_world, angle_rad), centre_world))

    def _set(self, scene: Scene, object_id: str) -> SceneObject:
        item = scene[object_id]
        in_world = self.space == "world"
        target_from_local = scene.world_from_local(object_id) if in_world else item.parent_from_local
        parts = parts_of(target_from_local)
        if parts.skewed:
            space = "world" if in_world else "its parent"
            raise CoreError("skewed-turn", object=object_id, name=item.name, space=space)
        angles = angles_rad((0, 0, 0) if self.to is None else self.to, scene.conventions)
        turned = Rotation.from_euler(scene.conventions.euler, angles).as_matrix() * parts.scale
        shift = (target_from_local[:3, :3] - turned) @ item.pivot
        after = affine(turned, target_from_local[:3, 3] + shift)
        return scene.placed_in_world(object_id, after) if in_world else scene.placed(object_id, after)

    def typed_angles_rad(self, scene: Scene) -> Mapping[str, Array]:
        """Return the angles that a rotation `to` sets, by object."""
        if self.to is None:
            return {}
        return dict.fromkeys(acted_on(scene, self.objects), angles_rad(self.to, scene.conventions))

    @property
    def values(self) -> tuple[float, ...]:
        """The numbers that a student gives with it."""
        return self.to or (self.angle or 0.0,)

    @property
    def axes_of(self) -> Space:
        """The space whose axes it turns about."""
        return self.space

    @property
    def turns_about(self) -> Pivot:
        """The pivot that it turns about."""
        return self.pivot

    def lines(self, scene: Scene, object_id: str) -> list[Array] | None:
        """Return the line (3,) that it turns about, length 1 in world; none where it goes to angles."""
        if self.axis is None:
            return None
        return [frame_of(scene, self.space, object_id).world_from_axes @ axis_unit(self.axis)]

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.space, self.pivot)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same rotation in other conventions."""
        if self.to is not None:
            return self.model_copy(update={"to": _converted_angles(self.to, change)})
        axis, angle = converted_turn(self.axis or "x", self.angle or 0.0, within(self.space, change))
        space, pivot = converted_space(self.space, change), converted_pivot(self.pivot, change)
        return self.model_copy(update={"axis": axis, "angle": angle, "space": space, "pivot": pivot})


def _converted_angles(angles: Vector, change: ConventionTransform) -> Vector:
    """Return the Euler angles of the same rotation, in the target's order and unit."""
    source, target = change.source, change.target
    same_axes = (source.up, source.handedness, source.euler) == (target.up, target.handedness, target.euler)
    if same_axes:
        return as_vector(np.array(angles) * (source.radians_per_unit / target.radians_per_unit))
    rotation = change.rotation(Rotation.from_euler(source.euler, angles_rad(angles, source)).as_matrix())
    read = Rotation.from_matrix(rotation).as_euler(target.euler, suppress_warnings=True)
    return as_vector(np.asarray(read / target.radians_per_unit))
