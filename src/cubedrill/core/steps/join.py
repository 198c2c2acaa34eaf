"""Join: put one point on another."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.language import terms
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import Point, converted_point, point_world
from cubedrill.core.steps.common import ObjectsStep, acted_on, hanging_on


class Join(ObjectsStep):
    """Move every object by the displacement that takes `point` to `to`."""

    says: ClassVar = Sayings(
        Phrase("Join {objects}: {point} to {to}", objects=terms.OBJECTS, point=terms.POINT, to=terms.POINT)
    )
    op: Literal["join"]
    point: Point
    to: Point

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after a join. Both points are those before the step.

        Raises
        ------
        CoreError
            "unknown-object", "locked" or "no-box".
        """
        ids = acted_on(scene, self.objects)
        displacement_world = point_world(scene, self.to) - point_world(scene, self.point)
        return scene.with_objects([scene.moved_by(i, displacement_world) for i in ids])

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.point, self.to)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same join in other conventions."""
        points = {"point": converted_point(self.point, change), "to": converted_point(self.to, change)}
        return self.model_copy(update=points)
