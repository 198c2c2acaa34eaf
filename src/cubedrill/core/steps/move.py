"""Move: by a displacement, or to a place, along the axes of a space."""

from __future__ import annotations

from typing import ClassVar, Final, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.language import terms
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.scene.spaces import Point, Space, converted_point, converted_space, frame_of, point_world, within
from cubedrill.core.steps.common import ObjectsStep, acted_on, converted_partial, hanging_on
from cubedrill.core.values import Array, Partial, Vector, as_vector

_PARTS: Final = {"objects": terms.OBJECTS, "space": terms.SPACE}


class Move(ObjectsStep):
    """Move objects by `by`, or so that `point` (default: each one's pivot) comes to `to`; a null stays as it is."""

    says: ClassVar = Sayings(
        Phrase("Move {objects} by {by}< of/in {space}>", **_PARTS, by=terms.PerAxis(terms.LENGTH, False, 0.0)),
        Phrase(
            "Move {objects}[ taken at {point}] to {to}< of/in {space}>",
            **_PARTS,
            to=terms.PerAxis(terms.LENGTH, True, None, "where it is"),
            point=terms.POINT,
        ),
    )
    op: Literal["move"]
    space: Space = "world"
    by: Vector | None = None
    to: Partial | None = None
    point: Point | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if (self.by is None) == (self.to is None):
            raise ValueError("a move has either 'by' or 'to'")
        if self.point is not None and self.to is None:
            raise ValueError("a move has a 'point' only together with 'to'")
        return self

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after a move, W′ = T(F d) W for each selected object; children follow.

        Raises
        ------
        CoreError
            "unknown-object", "locked", "too-large", or the error of the space.

        Notes
        -----
        All frames and points are those before the step. In ``parent``, values are the parent's own coordinates,
        including its scale.
        """
        return scene.with_objects([self._moved(scene, i) for i in acted_on(scene, self.objects)])

    def _moved(self, scene: Scene, object_id: str) -> SceneObject:
        if self.space == "parent":
            return scene.moved_in_parent_by(object_id, self._displacement_parent(scene, object_id))
        frame = frame_of(scene, self.space, object_id)
        if self.by is not None:
            return scene.moved_by(object_id, frame.world_from_axes @ np.array(self.by))
        missing = self._missing(frame.coordinates(self._point(scene, object_id)))
        return scene.moved_by(object_id, frame.world_from_axes @ missing)

    def _displacement_parent(self, scene: Scene, object_id: str) -> Array:
        if self.by is not None:
            return np.array(self.by)
        return self._missing(mapped(scene.parent_from_world(object_id), self._point(scene, object_id)))

    def _missing(self, here: Array) -> Array:
        """(3,) along the space's axes what is missing to `to`; here: (3,) where the point stands along them now."""
        wanted = np.array(self.to, dtype=np.float64)  # NaN for what stays
        return np.where(np.isnan(wanted), 0.0, wanted - here)

    def _point(self, scene: Scene, object_id: str) -> Array:
        return scene.pivot_world(object_id) if self.point is None else point_world(scene, self.point)

    @property
    def values(self) -> tuple[float, ...]:
        """The numbers that a student gives with it."""
        return tuple(value for value in (self.by or self.to or ()) if value is not None)

    @property
    def axes_of(self) -> Space:
        """The space along whose axes it goes."""
        return self.space

    def lines(self, scene: Scene, object_id: str) -> list[Array] | None:
        """Return the line (3,) that it goes along, length 1 in world; none where it goes to a place."""
        if self.by is None:
            return None
        along = frame_of(scene, self.space, object_id).world_from_axes @ np.array(self.by)
        length = float(np.linalg.norm(along))
        return [along / length] if length > 0 else []

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.space, self.point)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same move in other conventions."""
        inside = within(self.space, change)
        return self.model_copy(
            update={
                "space": converted_space(self.space, change),
                "by": None if self.by is None else as_vector(inside.point(np.array(self.by))),
                "to": None if self.to is None else converted_partial(self.to, inside, signed=True),
                "point": None if self.point is None else converted_point(self.point, change),
            }
        )
