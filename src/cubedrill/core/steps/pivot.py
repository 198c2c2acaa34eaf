"""Pivot and marker: move the points that steps turn, scale and place things about; the objects stay."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Discriminator, Tag

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.transform import LARGEST, inverse, mapped
from cubedrill.core.language import terms
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.scene.spaces import FeaturePoint, Pivot, converted_pivot, feature_local, pivots_world
from cubedrill.core.steps.common import ObjectsStep, StepBase, Unneeded, chosen, hanging_on, unlocked
from cubedrill.core.values import Array, Vector, frozen


class MovePivot(ObjectsStep):
    """Move the pivot of every object listed to a point, or to what a pivot word names."""

    says: ClassVar = Sayings(Phrase("Move the pivot of {objects} to {at}", objects=terms.OBJECTS, at=terms.PIVOT))
    op: Literal["pivot"]
    at: Pivot

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the pivots moved; raise CoreError "unknown-object", "locked" or "no-box"."""
        ids = chosen(scene, self.objects)
        unlocked(scene, ids)
        return scene.with_objects([self._with_pivot(scene, i, ids) for i in ids])

    def _with_pivot(self, scene: Scene, object_id: str, ids: Sequence[str]) -> SceneObject:
        pivot = self._pivot_local(scene, object_id, ids)
        if not abs(pivot).max() <= LARGEST:
            raise CoreError("too-large", object=object_id, name=scene[object_id].name)
        return replace(scene[object_id], pivot=frozen(pivot))

    def _pivot_local(self, scene: Scene, object_id: str, ids: Sequence[str]) -> Array:
        if self.at == "own":
            return scene[object_id].pivot
        if self.at == "box":
            return feature_local(scene, object_id, "centre")
        if isinstance(self.at, FeaturePoint) and self.at.object == object_id:
            return feature_local(scene, object_id, self.at.at)  # no way round the world, so no rounding
        centre_world = pivots_world(scene, self.at, ids)[ids.index(object_id)]
        return mapped(inverse(scene.world_from_local(object_id)), centre_world)

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.at)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step in other conventions."""
        return self.model_copy(update={"at": converted_pivot(self.at, change)})


def _place_kind(value: object) -> str:
    if isinstance(value, str):
        return "word"
    return "place" if isinstance(value, dict | FeaturePoint) else "numbers"


MarkerPlace = Annotated[
    Annotated[Literal["origin"], Tag("word")]
    | Annotated[Vector, Tag("numbers")]
    | Annotated[FeaturePoint, Tag("place")],
    Discriminator(_place_kind),
]


class Marker(StepBase):
    """Put the marker on a point, or back to the origin."""

    unsaid: ClassVar = ("objects",)
    says: ClassVar = Sayings(Phrase("Move the marker to {to}", to=terms.PLACE_OF_MARKER))
    op: Literal["marker"]
    objects: Unneeded = ()
    to: MarkerPlace

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the marker moved; raise CoreError "unknown-object", "no-box" or "too-large"."""
        centre_world = pivots_world(scene, self.to, [""])[0]
        if not abs(centre_world).max() <= LARGEST:
            raise CoreError("too-large", name="The marker")
        return replace(scene, marker=centre_world)

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, (), self.to)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step in other conventions."""
        return self.model_copy(update={"to": converted_pivot(self.to, change)})
